import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { answerVerb } from '../door/verbs';

type Json = null | boolean | number | string | Json[] | { [key: string]: Json };

const folder = new URL('./conformance/', import.meta.url);

/** Everything that is expected is there and agrees; entries of lists are found by what names them, as the contract says. */
function differences(expected: Json, found: Json | undefined, path = ''): string[] {
  if (expected === null)
    return found === null || found === undefined ? [] : [`${path}: ${JSON.stringify(found)} in place of null`];
  if (typeof expected === 'number') {
    const close =
      typeof found === 'number' && Math.abs(found - expected) <= 1e-6 * Math.max(Math.abs(expected), Math.abs(found)) + 1e-12;
    return close ? [] : [`${path}: ${JSON.stringify(found)} in place of ${expected}`];
  }
  if (typeof expected !== 'object')
    return found === expected ? [] : [`${path}: ${JSON.stringify(found)} in place of ${String(expected)}`];
  if (Array.isArray(expected)) {
    if (!Array.isArray(found)) return [`${path}: no list`];
    const names = ['id', 'symbol', 'each', 'at', 'sweep'];
    const of = (x: Json, name: string) => (typeof x === 'object' && x !== null && !Array.isArray(x) ? (x[name] ?? null) : null);
    const isNamed = expected.length > 0 && expected.every((x) => of(x, 'id') !== null || of(x, 'symbol') !== null);
    if (!isNamed && expected.length !== found.length) return [`${path}: ${found.length} in place of ${expected.length}`];
    return expected.flatMap((x, i) => {
      const other = isNamed ? found.find((y) => names.every((n) => of(y, n) === of(x, n))) : found[i];
      return differences(
        x,
        other,
        `${path}/${
          isNamed
            ? names
                .map((n) => of(x, n))
                .filter((v) => v !== null)
                .join(':')
            : i
        }`,
      );
    });
  }
  if (typeof found !== 'object' || found === null || Array.isArray(found)) return [`${path}: nothing`];
  return Object.entries(expected).flatMap(([key, value]) => differences(value, found[key], `${path}.${key}`));
}

describe('worked cases of the contract, numbers found independently', () => {
  for (const file of readdirSync(folder).filter((f) => f.endsWith('.json')))
    it(file, async () => {
      const { input, expect: expected } = JSON.parse(readFileSync(new URL(file, folder), 'utf8')) as {
        input: Json;
        expect: Json;
      };
      const answer = await answerVerb('evaluate', JSON.stringify(input));
      if (!answer.ok) throw new Error(`${answer.refusal.error.message} at ${answer.refusal.error.path.join('.')}`);
      expect(differences(expected, JSON.parse(JSON.stringify(answer.document)) as Json)).toEqual([]);
    });
});
