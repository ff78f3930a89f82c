import { describe, expect, it } from 'vitest';
import { fitDrift, monthsInside, predictionBand, probabilityInside } from './drift';
import { filterDrift, type DriftVisit } from './drift-filter';
import { driftProposal, driftsOf, pointHistories } from './drift-school';
import { historyPoints } from './history';
import { plainPolicy } from './policy';
import { driftHistory } from '../../../bench/simulated-laboratory';
import { familyOf } from './family';
import { proposeNext, type KnownOfInstrument } from './propose';
import { checkChart } from './quick-checks';
import { staircase } from './react';
import type { Measured, Pair, Visit } from './visit';

const limits = { lower: -1, upper: 1 };
const read = (value: number, u = 0.05, shared = 0) => ({ value, standardUncertainty: u, sharedUncertainty: shared });
const yearly = (values: readonly number[], u = 0.05): DriftVisit[] =>
  values.map((v, i) => ({ at: 12 * i, found: read(v, u), left: null, hasNewStandards: false }));

describe('the filter of drift', () => {
  it('gives the mean and its uncertainty where nothing moves', () => {
    const { error, errorVariance } = filterDrift(yearly([0.1, 0.2, 0.3, 0.2]), { rate: 0, walk: 0, noise: 0 }, 1);
    expect(error).toBeCloseTo(0.2, 5);
    expect(Math.sqrt(errorVariance)).toBeCloseTo(0.05 / 2, 5);
  });
  it('gives the least-squares line where the rate is free', () => {
    const values = [0.1, 0.16, 0.19, 0.26, 0.3];
    const { error, rate } = filterDrift(yearly(values), { rate: 10, walk: 0, noise: 0 }, 1);
    // By hand: slope Σ(i−2)(y−ȳ)/10 a year, level at the end ȳ + 2·slope.
    const mean = values.reduce((a, b) => a + b, 0) / 5;
    const slope = values.reduce((s, y, i) => s + (i - 2) * (y - mean), 0) / 10;
    expect(12 * rate).toBeCloseTo(slope, 4);
    expect(error).toBeCloseTo(mean + 2 * slope, 4);
  });
  it('forgets the level at an adjustment, and keeps the rate', () => {
    const visits = yearly([0, 0.3, 0.6]);
    visits[2]!.left = read(-0.5);
    const { error, rate } = filterDrift(visits, { rate: 10, walk: 0, noise: 0 }, 1);
    expect(error).toBeCloseTo(-0.5, 4);
    expect(12 * rate).toBeCloseTo(0.3, 4);
  });
  it('takes a jump to be of the standards where they have new certificates, and of the instrument where not', () => {
    const visits = yearly([0.1, 0.1, 0.1, 0.4]).map((v) => ({ ...v, found: read(v.found.value, 0.15, 0.145) }));
    const same = filterDrift(visits, { rate: 0, walk: 0.05, noise: 0 }, 1);
    const renewed = filterDrift(
      visits.map((v, i) => ({ ...v, hasNewStandards: i === 3 })),
      { rate: 0, walk: 0.05, noise: 0 },
      1,
    );
    expect(renewed.logEvidence).toBeGreaterThan(same.logEvidence);
    expect(Math.sqrt(renewed.errorVariance)).toBeLessThan(0.16);
  });
  it('is not led astray by an offset far from zero', () => {
    const near = filterDrift(yearly([0.1, 0.2, 0.3]), { rate: 0.1, walk: 0, noise: 0 }, 1);
    const far = filterDrift(yearly([1000.1, 1000.2, 1000.3]), { rate: 0.1, walk: 0, noise: 0 }, 1);
    expect(far.error - 1000).toBeCloseTo(near.error, 6);
    expect(far.logEvidence).toBeCloseTo(near.logEvidence, 4);
  });
});

describe('the models of drift', () => {
  it.each([
    ['constant', [0.2, 0.21, 0.19, 0.2, 0.22, 0.2]],
    ['linear', [0, 0.15, 0.3, 0.45, 0.6, 0.75]],
    ['random-walk', [0.1, 0.5, 0.2, 0.6, 0.1, -0.3]],
  ] as const)('tell one that is %s', (model, values) => {
    const fit = fitDrift(yearly(values, 0.02), limits);
    expect(fit.best).toBe(model);
    expect(Object.values(fit.evidence).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
  });
  it('predict a steady one to leave its limit when it will', () => {
    const fit = fitDrift(yearly([0, 0.15, 0.3, 0.45, 0.6], 0.01), limits);
    // 0.6 now and 0.15 a year: 1 is reached after 32 months, and with 95 % not much before.
    const months = monthsInside(fit, limits, 0.95, 60);
    expect(months).toBeGreaterThan(24);
    expect(months).toBeLessThan(32);
    expect(probabilityInside(fit, limits, months)).toBeCloseTo(0.95, 3);
  });
  it('are sure of nothing after one visit but what was assumed', () => {
    const fit = fitDrift(yearly([0.2]), limits);
    expect(fit.evidence.constant).toBeCloseTo(1 / 4, 9);
    expect(monthsInside(fit, limits, 0.95, 60)).toBeLessThan(60);
  });
  it('give nothing to an error that is outside already, and all to one that cannot leave', () => {
    expect(monthsInside(fitDrift(yearly([1.4, 1.4, 1.4]), limits), limits, 0.95, 36)).toBe(0);
    expect(monthsInside(fitDrift(yearly([0, 0, 0, 0, 0, 0], 1e-3), limits), limits, 0.95, 36)).toBe(36);
  });
  it('draw a band that widens and holds its middle', () => {
    const fit = fitDrift(yearly([0.1, 0.3, 0.2, 0.4]), limits);
    const [near, far] = [predictionBand(fit, 0.95, 3), predictionBand(fit, 0.95, 24)];
    expect(far.high - far.low).toBeGreaterThan(near.high - near.low);
    expect(near.low).toBeLessThan(near.middle);
    expect(near.middle).toBeLessThan(near.high);
  });
  it('need at least one visit', () => expect(() => fitDrift([], limits)).toThrow(RangeError));
});

const m = (value: number, more: Partial<Measured> = {}): Measured => ({
  value,
  standardUncertainty: 0.02,
  expandedUncertainty: 0.04,
  sharedUncertainty: 0.01,
  lower: -1,
  upper: 1,
  acceptLower: -0.96,
  acceptUpper: 0.96,
  ...more,
});
const pair = (key: string, found: Measured, left: Measured | null = null): Pair => ({
  key,
  what: 'Error',
  point: key,
  unit: 'mm',
  shownIn: 'um',
  found,
  left,
});
const visits = (...rows: Record<string, number>[]): Visit[] =>
  rows.map((row, i) => ({
    run: `r${i}`,
    day: `${2015 + i}-05-01`,
    isInside: true,
    share: 0.5,
    isRenewed: false,
    certificates: [`B ${Math.floor(i / 2)}`],
    pairs: Object.entries(row).map(([key, value]) => pair(key, m(value))),
  }));

describe('the school of drift', () => {
  const drifting = visits(
    { '5 mm': 0, '10 mm': 0.1 },
    { '5 mm': 0.02, '10 mm': 0.3 },
    { '5 mm': 0, '10 mm': 0.5 },
    { '5 mm': 0.01, '10 mm': 0.7 },
  );
  it('lets the point that drifts worst decide', () => {
    const [worst] = driftsOf(pointHistories(drifting), plainPolicy);
    expect(worst!.history.key).toBe('10 mm');
    const p = driftProposal(drifting, plainPolicy, '2018-05-01');
    expect(p.reason).toMatch(/^Error, 10 mm moves steadily and is inside its guarded limits with 95 % for \d+ months\.$/);
    expect(p.date! > '2019-01-01' && p.date! < '2019-12-01').toBe(true);
  });
  it('knows when standards came with new certificates', () =>
    expect(pointHistories(drifting)[0]!.visits.map((v) => v.hasNewStandards)).toEqual([false, false, true, false]));
  it('forgets points that the last visit did not read', () => {
    const fewer = [...drifting, ...visits({}, {}, {}, {}, { '5 mm': 0 }).slice(4)];
    expect(pointHistories(fewer).map((h) => h.key)).toEqual(['5 mm']);
  });
  it('puts a point that was left outside first, however unsure its reading is', () => {
    const rows = visits({ a: 0, b: 0 }, { a: 0, b: 0.3 }, { a: 0, b: 0.6 }, { a: 0, b: 0.8 });
    rows[3]!.pairs[0] = pair('a', m(-6000, { standardUncertainty: 5000, expandedUncertainty: 10_000 }));
    rows[3]!.pairs[1] = pair('b', m(1.2));
    const [first, second] = driftsOf(pointHistories(rows), plainPolicy);
    expect(first).toMatchObject({ months: 0, outBy: 5999, history: { key: 'a' } });
    expect(second!.outBy).toBeCloseTo(0.2, 9);
    expect(driftProposal(rows, plainPolicy, '2018-05-01').reason).toContain('was left outside its limits');
  });
  it('waits for three visits, unless two tell plainly that it moves', () => {
    expect(driftProposal(visits({ a: 0.1 }, { a: 0.12 }), plainPolicy, '2017-01-01').date).toBeNull();
    expect(driftProposal(drifting.slice(0, 2), plainPolicy, '2016-05-01').months).toBeGreaterThan(plainPolicy.floor);
  });
  it('is held to the shortest interval where it leaves sooner', () => {
    const p = driftProposal(visits({ a: 0 }, { a: 0.5 }, { a: 0.97 }), plainPolicy, '2017-05-01');
    expect(p.months).toBe(plainPolicy.floor);
  });
  it('draws each point, the worst first, with a band that begins at its last visit', () => {
    const { points, more } = historyPoints(
      drifting,
      plainPolicy,
      '2020-05-01',
      new Map([['5 mm', [{ run: 'q', at: '2018-06-01T08:00:00Z', day: '2018-06-01', value: 0.01, lower: -1, upper: 1 }]]]),
    );
    expect(points.map((p) => p.key)).toEqual(['10 mm', '5 mm']);
    expect(more).toBe(0);
    expect(points[0]!.band[0]!.day).toBe('2018-05-01');
    expect(points[0]!.band.at(-1)!.day).toBe('2020-05-01');
    expect(points[1]!.checks).toHaveLength(1);
    expect(points[0]!.visits.map((v) => v.run)).toEqual(['r0', 'r1', 'r2', 'r3']);
  });
});

describe('what is not as it should be in a history', () => {
  const at = (...values: number[]): Visit[] => visits(...values.map((v) => ({ a: v })));
  const bare = { standardUncertainty: 0, expandedUncertainty: 0, sharedUncertainty: 0, acceptLower: -1, acceptUpper: 1 };
  const unstated = (rows: Visit[]): Visit[] =>
    rows.map((v) => ({ ...v, pairs: v.pairs.map((p) => ({ ...p, found: { ...p.found!, ...bare } })) }));

  it('statistics without a budget count at every visit, and one that strays is no drift', () => {
    const rows = unstated(at(0.1, 0.5, 0.1, 0.1, 0.1, 0.1));
    const { months } = driftProposal(rows, plainPolicy, '2020-05-01');
    // A quarter more than the year between its visits.
    expect(months).toBeCloseTo(15, 1);
    const leaving = unstated(at(0.1, 0.3, 0.5, 0.7, 0.9));
    expect(driftProposal(leaving, plainPolicy, '2019-05-01').months).toBeLessThan(9);
  });
  it('visits of one day count once, whatever is proposed by', () => {
    const rows = at(0.1, 0.1, 0.1).map((v) => ({ ...v, day: '2020-05-01' }));
    expect(driftProposal(rows, plainPolicy, '2020-05-01').date).toBeNull();
    expect(staircase(rows, 12, plainPolicy)).toHaveLength(1);
    const twice = yearly([0, 0.3, 0.6]);
    const alike = fitDrift([...twice, { ...twice[2]!, found: read(0.61) }], limits);
    expect(alike.evidence).toEqual(fitDrift(twice, limits).evidence);
  });
  it('two visits that plainly moved are not lengthened by a step', () => {
    const rows = at(0.2, 0.7);
    const known: KnownOfInstrument = {
      visits: rows,
      ownMonths: null,
      procedure: { months: 12 },
      policy: { policy: { ...plainPolicy, school: 'react' }, scope: 'laboratory' },
      family: familyOf([], 0.95),
      counts: [],
      chart: checkChart([]),
    };
    const { all, chosen } = proposeNext(known, '2016-05-01', '2016-05-01');
    expect(all.find((p) => p.school === 'react')!.months).toBe(15);
    expect(chosen.school).toBe('react');
    expect(chosen.months!).toBeLessThan(7);
    expect(chosen.reason).toContain('its own drift');
    const calm = proposeNext({ ...known, visits: at(0.2, 0.22) }, '2016-05-01', '2016-05-01');
    expect(calm.chosen.months).toBe(15);
  });
  it('counts use beside the months where the policy names an amount: what comes first is due', () => {
    const visits = at(0.2, 0.22);
    const day = visits.at(-1)!.day;
    const year = String(Number(day.slice(0, 4)) - 1);
    const known = (most: number): KnownOfInstrument => ({
      visits,
      ownMonths: null,
      procedure: { months: 12 },
      policy: { policy: { ...plainPolicy, use: { unit: 'cycles', most } }, scope: 'laboratory' },
      family: familyOf([], 0.95),
      counts: [
        { day: `${year}${day.slice(4)}`, count: 0 },
        { day, count: 12_000 },
      ],
      chart: checkChart([]),
    });
    const early = proposeNext(known(5000), day, day).chosen;
    expect(early.school).toBe('fixed');
    expect(early.months).toBeCloseTo(5, 1);
    expect(early.reason).toContain('Its use comes first. 5000 cycles of 5000 cycles are left');
    expect(proposeNext(known(50_000), day, day).chosen.months).toBe(12);
    // Where the policy goes by use, the months of its procedure count beside it: fewer after a fail.
    const failed: KnownOfInstrument = {
      ...known(50_000),
      visits: visits.map((v) => ({ ...v, isInside: false })),
      procedure: { months: 12, monthsAfterFail: 6 },
      policy: { policy: { ...plainPolicy, school: 'use', use: { unit: 'cycles', most: 50_000 } }, scope: 'laboratory' },
    };
    const soon = proposeNext(failed, day, day).chosen;
    expect(soon).toMatchObject({ school: 'use', months: 6 });
    expect(soon.reason).toContain('Its months come first. 6 months in place of 12');
  });
  it('an error that moves and wanders is inside as often as is promised', () => {
    let [inside, all] = [0, 0];
    for (let i = 0; i < 600; i++) {
      const { truth, visits: seen } = driftHistory('moving and wandering', i);
      const fit = fitDrift(seen, limits);
      const months = monthsInside(fit, limits, 0.95, 36);
      if (months <= 0) continue;
      all++;
      truth.ages(months);
      if (Math.abs(truth.error()) <= 1) inside++;
    }
    expect(inside / all).toBeGreaterThan(0.93);
  });
});
