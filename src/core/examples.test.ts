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

/** What an example may speak of: the functions beside it, those of other files that have examples, and the runs of the fixtures. */
const shared: Record<string, unknown> = {};
const own = new Map<string, Record<string, unknown>>();
beforeAll(async () => {
  for (const file of new Set(examples.map((e) => e.file))) own.set(file, await modules[file]!());
  Object.assign(shared, ...own.values(), await import('./interval/policy'), await import('./run/fixtures/examples'));
}, 120_000);
function evaluated(text: string, file: string): unknown {
  const scope = { ...shared, ...own.get(file) };
  return new Function(...Object.keys(scope), `return (${text});`)(...Object.values(scope));
}

describe('an example in a comment', () => {
  it('is there for many functions', () => expect(examples.length).toBeGreaterThan(400));
  it.each(examples)('$call gives $gives', async ({ file, call, gives }) => {
    expect(gives, 'what comes out stands behind //').not.toBe('');
    const found = await evaluated(call, file);
    const number = /^-?\d+(?:\.(\d+))?(?![\w'])/.exec(gives);
    // What is cut off may be anything up to a whole last digit.
    const digits = (number?.[1]?.length ?? 9) - (gives.includes('…') ? 1 : 0);
    if (number) return expect(found).toBeCloseTo(Number(number[0]), digits);
    const truth = /^(true|false|null)\b/.exec(gives);
    if (truth) return expect(found).toBe(evaluated(truth[0], file));
    const wanted = evaluated(gives, file);
    if (typeof wanted === 'object' && !Array.isArray(wanted) && Object.keys(wanted as object).length > 0)
      expect(found).toMatchObject(wanted as object);
    else expect(found).toEqual(wanted);
  });
});
