import { describe, expect, it } from 'vitest';
import { historyPoints } from './history';
import { plainPolicy } from './policy';
import type { QuickCheck } from './quick-checks';
import type { Measured, Pair, Visit } from './visit';

const measured = (value: number, more: Partial<Measured> = {}): Measured => ({
  value,
  standardUncertainty: 0.05,
  expandedUncertainty: 0.1,
  sharedUncertainty: 0.02,
  lower: -1,
  upper: 1,
  acceptLower: -0.9,
  acceptUpper: 0.9,
  ...more,
});
const pair = (point: string, found: number | null, left: number | null = null, more: Partial<Pair> = {}): Pair => ({
  key: `error||${point}||E`,
  what: 'Error',
  point,
  unit: 'mm',
  shownIn: 'um',
  found: found === null ? null : measured(found),
  left: left === null ? null : measured(left),
  ...more,
});
const visit = (run: string, day: string, pairs: Pair[], certificates = ['B 1']): Visit => ({
  run,
  day,
  isInside: true,
  share: 0.5,
  isRenewed: pairs.some((p) => p.left !== null),
  certificates,
  pairs,
});
const none = new Map<string, readonly QuickCheck[]>();
const points = (visits: readonly Visit[], until = '2027-01-01', checks = none) =>
  historyPoints(visits, plainPolicy, until, checks);

describe('the points of a history', () => {
  const visits = [
    visit('a', '2023-03-01', [pair('5 mm', 0.1), pair('10 mm', 0)]),
    visit('b', '2024-03-01', [pair('5 mm', 0.1), pair('10 mm', 0.35)]),
    visit('c', '2025-03-01', [pair('5 mm', 0.12), pair('10 mm', 0.7, 0.02)], ['B 2']),
    visit('d', '2026-03-01', [pair('5 mm', 0.1), pair('10 mm', 0.36)], ['B 2']),
  ];
  const { points: all, more } = points(visits);

  it('begin with the one that drifts worst', () => {
    expect(all.map((p) => p.point)).toEqual(['10 mm', '5 mm']);
    expect(more).toBe(0);
  });
  it('have each visit with its run, as found and as left, and when standards came with new certificates', () => {
    expect(all[0]!.visits).toEqual([
      { day: '2023-03-01', run: 'a', found: { value: 0, U: 0.1 }, left: null, hasNewStandards: false },
      { day: '2024-03-01', run: 'b', found: { value: 0.35, U: 0.1 }, left: null, hasNewStandards: false },
      { day: '2025-03-01', run: 'c', found: { value: 0.7, U: 0.1 }, left: { value: 0.02, U: 0.1 }, hasNewStandards: true },
      { day: '2026-03-01', run: 'd', found: { value: 0.36, U: 0.1 }, left: null, hasNewStandards: false },
    ]);
  });
  it('have a band that begins at what was left, widens, and ends where it is asked to', () => {
    const { band } = all[0]!;
    expect([band[0]!.day, band.at(-1)!.day]).toEqual(['2026-03-01', '2027-01-01']);
    expect(Math.abs(band[0]!.middle - 0.36)).toBeLessThan(0.05);
    for (const [i, b] of band.entries()) {
      expect(b.low < b.middle && b.middle < b.high).toBe(true);
      if (i > 0) expect(b.high - b.low).toBeGreaterThan(band[i - 1]!.high - band[i - 1]!.low);
    }
    // Its steady rise of 0.35 a year is carried on.
    expect(band.at(-1)!.middle - 0.36).toBeGreaterThan(0.1);
  });
  it('say which limits hold, and which the rule accepts', () => {
    expect(all[0]).toMatchObject({ limits: { lower: -1, upper: 1 }, guarded: { lower: -0.9, upper: 0.9 } });
    const narrow = measured(0.2, { acceptLower: null, acceptUpper: null });
    const [one] = points([visit('a', '2026-01-01', [pair('1', 0, null, { found: narrow })])]).points;
    expect(one!.guarded).toEqual({ lower: -1, upper: 1 });
  });
  it('of two visits on one day each lead to their own run', () => {
    const twice = [visit('a', '2025-03-01', [pair('5 mm', 0.1)]), visit('b', '2025-03-01', [pair('5 mm', 0.2)])];
    expect(points(twice).points[0]!.visits.map((v) => v.run)).toEqual(['a', 'b']);
  });
  it('have no band after one visit, nor into the past', () => {
    expect(points([visits[0]!]).points[0]!.band).toEqual([]);
    expect(points(visits, '2026-03-01').points[0]!.band).toEqual([]);
    expect(points(visits, '2020-01-01').points[0]!.band).toEqual([]);
    expect(points([]).points).toEqual([]);
  });
  it('show no more than can be looked through, and say how many there are besides', () => {
    const many = Array.from({ length: 75 }, (_, i) => pair(`${i}`, 0.001 * i));
    const shown = points([visit('a', '2024-01-01', many), visit('b', '2025-01-01', many)]);
    expect(shown.points).toHaveLength(60);
    expect(shown.more).toBe(15);
    expect(new Set(shown.points.map((p) => p.key)).size).toBe(60);
  });
  it('hold a check standard apart: shown with its quick checks, without a date of its own', () => {
    const check: QuickCheck = { run: 'q', at: '2026-04-01T08:00:00Z', day: '2026-04-01', value: 0.03, lower: -1, upper: 1 };
    const standard = pair('Check ring', 0.95, null, { key: 'check||ring||Q', what: 'Check standard', isCheck: true });
    const { points: shown } = points(
      visits.map((v) => ({ ...v, pairs: [standard, ...v.pairs] })),
      '2027-01-01',
      new Map([['check||ring||Q', [check]]]),
    );
    expect(shown.map((p) => p.point)).toEqual(['10 mm', '5 mm', 'Check ring']);
    expect(shown[2]).toMatchObject({ checks: [check], band: [], evidence: null });
    expect(shown[0]!.checks).toEqual([]);
  });
  it('that changed their unit or their limits say so', () => {
    const inches = visit('a', '2022-01-01', [pair('5 mm', 0.1, null, { unit: 'in' })]);
    const wider = visit('b', '2023-01-01', [pair('5 mm', 0, null, { found: measured(0.1, { lower: -2, upper: 2 }) })]);
    const [one] = points([inches, wider, visit('c', '2024-01-01', [pair('5 mm', 0.1)])]).points;
    expect(one!.visits.map((v) => v.run)).toEqual(['b', 'c']);
    expect(one!.left).toEqual(['2022-01-01: in in, not in mm', 'its limits have changed: the last ones hold']);
  });
  it('that were only read as left are told from that', () => {
    const [one] = points([
      visit('a', '2024-01-01', [pair('5 mm', null, 0.3)]),
      visit('b', '2025-01-01', [pair('5 mm', 0.35)]),
    ]).points;
    expect(one!.visits[0]).toMatchObject({ found: { value: 0.3 }, left: null });
  });
});
