import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';

/*
 * What a comment gives as an example, `name(…) // what comes out`, is so. A number is held to the digits that stand there; of an object
 * the members that stand there. An example in words is no call, and stands for itself.
 */

const modules = import.meta.glob<Record<string, unknown>>(['./**/*.ts', '!./**/*.test.ts', '!./**/fixtures/**']);

type Example = { file: string; call: string; gives: string };

const examples = Object.keys(modules).flatMap((file): Example[] => {
  const source = readFileSync(join(import.meta.dirname, file), 'utf8');
  return [...source.matchAll(/@example ([A-Za-z]\w*\(.*?)(?=\s*@example|\s*\*\/|$)/gm)].map(([, text]) => {
    const at = text!.indexOf(' // ');
    return { file, call: (at < 0 ? text! : text!.slice(0, at)).trim(), gives: at < 0 ? '' : text!.slice(at + 4).trim() };
  });
});

const scope: Record<string, unknown> = {};
beforeAll(async () => {
  for (const file of new Set(examples.map((e) => e.file))) Object.assign(scope, await modules[file]!());
  Object.assign(scope, await import('./interval/policy'));
}, 120_000);
const evaluated = (text: string): unknown => new Function(...Object.keys(scope), `return (${text});`)(...Object.values(scope));

describe('an example in a comment', () => {
  it('is there for many functions', () => expect(examples.length).toBeGreaterThan(45));
  it.each(examples)('$call gives $gives', ({ call, gives }) => {
    expect(gives, 'what comes out stands behind //').not.toBe('');
    const found = evaluated(call);
    const number = /^-?\d+(?:\.(\d+))?(?![\w'])/.exec(gives);
    // What is cut off may be anything up to a whole last digit.
    const digits = (number?.[1]?.length ?? 9) - (gives.includes('…') ? 1 : 0);
    if (number) return expect(found).toBeCloseTo(Number(number[0]), digits);
    const truth = /^(true|false|null)\b/.exec(gives);
    if (truth) return expect(found).toBe(evaluated(truth[0]));
    const wanted = evaluated(gives);
    if (typeof wanted === 'object' && !Array.isArray(wanted)) expect(found).toMatchObject(wanted as object);
    else expect(found).toEqual(wanted);
  });
});
