import { describe, expect, it } from 'vitest';
import { diagnosePoints } from './diagnosis';
import type { JudgedPoint } from './judged-points';

/** Points of 1 to n mm with their values, in µm, and limits. */
const points = (values: readonly number[], limits: { lower?: number; upper?: number }, repeats: number[][] = []): JudgedPoint[] =>
  values.map((value, i) => ({
    place: { set: 'as-found', series: 'error', point: `p${i + 1}` },
    title: `${i + 1} mm`,
    value,
    result: { limits } as JudgedPoint['result'],
    nominal: i + 1,
    resolution: 1,
    repeats: repeats[i] ?? [value, value, value],
  }));
const scale = { unit: 'um', shownIn: 'um', resolution: 1, hasShape: true };
const both = { lower: -4, upper: 4 };

describe('what readings look like', () => {
  const rising = [0.2, 1.4, 2.7, 3.8, 5.1, 6.3];
  it('a line is told of one thing, and not of blocks that have each a length of its own', () => {
    expect(diagnosePoints(points(rising, both), scale).kind).toBe('slope');
    expect(diagnosePoints(points(rising, both), { ...scale, hasShape: false }).sentence).toBe('');
  });
  it.each([
    ['a run-out', { upper: 4 }],
    ['a height', { lower: 1, upper: 9 }],
  ])('%s has no constant that could be taken away', (_, limits) =>
    expect(diagnosePoints(points([3, 3.1, 2.9, 3.2, 3], limits), scale).sentence).toBe(''),
  );
  it('is quiet below a quarter of the limit, and told from there on', () => {
    expect(diagnosePoints(points([0.9, -0.8, 0.7, -0.9, 0.8], both), scale).kind).toBe('quiet');
    expect(diagnosePoints(points([1.4, -1.2, 1.1, -1.5, 1.3], both), scale)).toMatchObject({ kind: 'irregular' });
  });
  it('a display that shows a step to either side of its middle does not scatter; three steps are scatter', () => {
    const steady = rising.map((v) => [v, v, v]);
    const flicker = [...steady.slice(0, 5), [5, 6, 7]];
    const scattered = [...steady.slice(0, 5), [4, 6, 8]];
    expect(diagnosePoints(points(rising, both, flicker), scale).kind).not.toBe('scatter');
    expect(diagnosePoints(points(rising, both, scattered), scale).kind).toBe('scatter');
  });
});
