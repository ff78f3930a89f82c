import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { changesBetween } from './changes';

const balance = JSON.parse(readFileSync('procedures/balance.json', 'utf8')) as {
  revision: number;
  series: { id: string; results?: { tolerance: unknown }[]; repeats?: unknown }[];
};

describe('what changed between two revisions', () => {
  it('is nothing between a document and itself, whatever its number and its example', () => {
    expect(changesBetween(balance, balance)).toEqual([]);
    expect(changesBetween(balance, { ...balance, revision: 2, example: [] })).toEqual([]);
  });
  it('is told by names, so that what is put in between changes nothing of the rest', () => {
    const series = [
      { id: 'extra', title: 'Extra' },
      ...balance.series.map((s) => (s.id === 'repeatability' ? { ...s, repeats: 10 } : s)),
    ];
    expect(changesBetween(balance, { ...balance, series })).toEqual([
      { path: ['series', 'extra'], before: undefined, after: { id: 'extra', title: 'Extra' } },
      { path: ['series', 'repeatability', 'repeats'], before: { is: '6 + choice.use.more' }, after: 10 },
    ]);
  });
  it('names what is left out, and compares lists of numbers as they are', () => {
    expect(changesBetween({ a: 1, points: [1, 2] }, { points: [1, 3] })).toEqual([
      { path: ['points'], before: [1, 2], after: [1, 3] },
      { path: ['a'], before: 1, after: undefined },
    ]);
    expect(changesBetween({ list: [{ id: 'x' }, { id: 'x' }] }, { list: [{ id: 'x' }] })).toHaveLength(1);
  });
});
