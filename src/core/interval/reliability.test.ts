import { describe, expect, it } from 'vitest';
import normalCdf from '@stdlib/stats-base-dists-normal-cdf';
import { seededRandom } from '../../bench/random';
import { simulatedFamily } from '../../../bench/simulated-laboratory';
import { familyBand, familyMonths, familyOf, goodnessOfFit, middleCurve, outliersOf, targetCost } from './family';
import { cellsOf, coarser, leftWithin, monthsSinceRenewal, outcomesOf, type Outcome } from './family-visits';
import { fewMonths, fewShare, fitFewData, priorTime, weightedQuantile } from './few-data';
import { quickNormalCdf } from './normal';
import { livesOf, observedSteps } from './observed-steps';
import { plainPolicy } from './policy';
import { fitReliability, logLikelihood } from './reliability-fit';
import { reliabilityProposal } from './reliability-school';
import { monthsUntil, shareInside, shareStillInside, type Survival } from './survival';

const exponential: Survival = { model: 'exponential', target: 0.95, time: 14, shape: 1 };
const weibull: Survival = { model: 'weibull', target: 0.95, time: 14, shape: 1.8 };
const walk: Survival = { model: 'random-walk', target: 0.95, time: 14, shape: 0.2 };

describe('the quick normal distribution', () =>
  it('is that of the library to nine digits, and keeps its edges', () => {
    for (let z = -8.6; z <= 8.6; z += 0.0137) expect(Math.abs(quickNormalCdf(z) - normalCdf(z, 0, 1))).toBeLessThan(1e-9);
    expect([quickNormalCdf(-Infinity), quickNormalCdf(Infinity), quickNormalCdf(NaN)]).toEqual([0, 1, NaN]);
  }));

describe('curves of the share inside', () => {
  it.each([exponential, weibull, walk])('are told by the time of the target ($model)', (s) => {
    expect(shareInside(s, 14)).toBeCloseTo(0.95, 6);
    expect(shareInside(s, 0)).toBeGreaterThan(0.95);
    expect(shareInside(s, 28)).toBeLessThan(0.95);
    expect(monthsUntil(s, 0.95)).toBeCloseTo(14, 4);
    expect(monthsUntil(s, 0.9, 10)).toBeGreaterThan(0);
    expect(shareStillInside(s, 10, 10 + monthsUntil(s, 0.9, 10))).toBeCloseTo(0.9, 4);
  });
  it('forget their age where they are exponential', () =>
    expect(shareStillInside(exponential, 30, 44)).toBeCloseTo(shareInside(exponential, 14), 12));
  it('do not break where a share is too small for a number', () =>
    expect(shareStillInside({ ...weibull, time: 1, shape: 4 }, 100, 101)).toBe(0));
  it('of a walk are what a walk that is simulated does', () => {
    const random = seededRandom(5);
    const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    // Variance of the walk at the target: 1/Φ⁻¹(0.975)².
    const all = 1 / 1.959964 ** 2;
    let [at10, both] = [0, 0];
    for (let i = 0; i < 200_000; i++) {
      const first = Math.sqrt(all * (0.2 + (0.8 * 10) / 14)) * normal();
      if (Math.abs(first) > 1) continue;
      at10++;
      if (Math.abs(first + Math.sqrt((all * 0.8 * 20) / 14) * normal()) <= 1) both++;
    }
    expect(shareStillInside(walk, 10, 30)).toBeCloseTo(both / at10, 2);
  });
});

const seen = (day: string, isInside: boolean | null, isRenewed = false, share: number | null = null) => ({
  day,
  isInside,
  isRenewed,
  share,
});

describe('what visits tell', () => {
  it('is where it went out between two of them, from when it was put in order', () => {
    const outcomes = outcomesOf([
      seen('2020-01-01', true),
      seen('2021-01-01', true),
      seen('2022-01-01', false, true),
      seen('2023-01-01', true),
    ]);
    expect(outcomes.map((o) => [Math.round(o.since), Math.round(o.until), o.isInside])).toEqual([
      [0, 12, true],
      [12, 24, false],
      [0, 12, true],
    ]);
    expect(livesOf(outcomes).map((l) => [Math.round(l.after), l.by === null ? null : Math.round(l.by)])).toEqual([
      [12, 24],
      [12, null],
    ]);
  });
  it('begins nothing where it was left outside', () =>
    expect(outcomesOf([seen('2020-01-01', false), seen('2021-01-01', true), seen('2022-01-01', true)])).toHaveLength(1));
  it('is nothing on one day, nor where nothing was judged', () => {
    expect(outcomesOf([seen('2020-01-01', true), seen('2020-01-01', false)])).toEqual([]);
    expect(
      outcomesOf([seen('2020-01-01', true), seen('2021-01-01', null), seen('2022-01-01', true)]).map((o) => Math.round(o.until)),
    ).toEqual([24]);
  });
  it('does not hang on the order in which it was entered', () => {
    const all = [seen('2020-01-01', true), seen('2021-01-01', true), seen('2022-01-01', false)];
    expect(outcomesOf([...all].reverse())).toEqual(outcomesOf(all));
    expect(monthsSinceRenewal(all)).toBeNull();
    expect(monthsSinceRenewal(all.slice(0, 2))).toBeCloseTo(12, 1);
  });
  it('is gathered without losing any', () => {
    const outcomes = simulatedFamily(weibull, 60, 5, [6, 36], 'when-outside', 3).flatMap((m) => outcomesOf(m.visits));
    // What was seen at once is not mixed with what was seen a little later.
    const soon = [0, 0.1].map((since) => ({ since, until: 12, isInside: true }));
    expect(cellsOf(soon as Outcome[])).toHaveLength(2);
    const cells = cellsOf(outcomes);
    const count = (c: typeof cells) => c.reduce((n, x) => n + x.inside + x.outside, 0);
    expect(count(cells)).toBe(outcomes.length);
    expect(count(coarser(cells))).toBe(outcomes.length);
    expect(coarser(cells).length).toBeLessThan(cells.length);
    const single = outcomes.map((o) => ({
      since: o.since,
      until: o.until,
      inside: Number(o.isInside),
      outside: Number(!o.isInside),
    }));
    expect(Math.abs(logLikelihood(weibull, cells) - logLikelihood(weibull, single))).toBeLessThan(0.5);
  });
  it('shows where a laboratory draws its line', () => {
    const left = Array.from({ length: 40 }, (_, i) => seen('2020-01-01', true, false, (0.8 * i) / 39));
    expect(leftWithin([left])).toBeCloseTo(0.8, 9);
    expect(leftWithin([left.slice(0, 5)])).toBe(1);
  });
});

describe('the fit of a family', () => {
  it('of one time of visit is what a hand works out', () => {
    // 90 of 100 inside after 12 months: R(12) = 0.9, so 95 % after 12·ln 0.95/ln 0.9.
    const fit = fitReliability([{ since: 0, until: 12, inside: 900, outside: 100 }], 0.95);
    expect(fit.best.model).toBe('exponential');
    expect(fit.best.time).toBeCloseTo((12 * Math.log(0.95)) / Math.log(0.9), 2);
    // The bounds: where the likelihood of the share has fallen by 1.92, or farther where another model is not ruled out.
    const share = (time: number) => 0.95 ** (12 / time);
    const fallen = (time: number) => 900 * Math.log(share(time) / 0.9) + 100 * Math.log((1 - share(time)) / 0.1);
    expect(fallen(fit.low)).toBeLessThan(-1.9207 + 0.03);
    expect(fallen(fit.high)).toBeLessThan(-1.9207 + 0.03);
    expect(fit.low).toBeLessThan(fit.best.time);
    expect(fit.high).toBeGreaterThan(fit.best.time);
  });
  it.each([
    [exponential, 'always'],
    [weibull, 'always'],
    [weibull, 'when-outside'],
    [walk, 'always'],
  ] as const)('finds the model and the time again ($0.model, adjusted $1)', (truth, adjust) => {
    const family = familyOf(simulatedFamily(truth, 500, 8, [6, 48], adjust, 11), 0.95);
    if (family.way !== 'likelihood') throw new Error('There are enough outside.');
    expect(family.fit.best.model).toBe(truth.model);
    const { low, middle, high } = familyMonths(family);
    expect(Math.abs(middle / 14 - 1)).toBeLessThan(0.15);
    expect(low < 14 && high > 14).toBe(true);
    expect(goodnessOfFit(family)!.probability).toBeGreaterThan(0.001);
    const band = familyBand(family, [0, 6, 14, 40]);
    for (const b of band) expect(b.low <= b.middle && b.middle <= b.high).toBe(true);
  });
  it('that does not fit says so', () => {
    // Two kinds in one: half never go out, half at once.
    const never = simulatedFamily({ ...exponential, time: 600 }, 300, 5, [6, 48], 'always', 1);
    const often = simulatedFamily({ ...weibull, time: 5, shape: 4 }, 100, 5, [6, 48], 'always', 2);
    const family = familyOf([...never, ...often.map((m) => ({ ...m, id: `x${m.id}` }))], 0.95);
    expect(goodnessOfFit(family)!.probability).toBeLessThan(0.01);
  });
  it('needs something outside', () =>
    expect(() => fitReliability([{ since: 0, until: 12, inside: 5, outside: 0 }], 0.95)).toThrow(RangeError));
});

describe('few data', () => {
  it('without any are what was assumed', () => {
    const { low, middle, high } = fewMonths(fitFewData([], 0.95), 0.95);
    expect(middle).toBeCloseTo(Math.sqrt(priorTime[0] * priorTime[1]), -1);
    expect(low).toBeLessThan(1.5);
    expect(high).toBeGreaterThan(400);
  });
  it('move with what is seen, and never say more than they know', () => {
    const good = fewMonths(fitFewData([{ since: 0, until: 12, inside: 30, outside: 0 }], 0.95), 0.95);
    const bad = fewMonths(fitFewData([{ since: 0, until: 12, inside: 20, outside: 10 }], 0.95), 0.95);
    expect(good.middle).toBeGreaterThan(bad.middle);
    expect(good.low).toBeGreaterThan(bad.low);
  });
  it('quantiles lie where the weights say', () => {
    expect(weightedQuantile([3, 1, 2], [0.25, 0.5, 0.25], 0.5)).toBe(1);
    expect(weightedQuantile([3, 1, 2], [0.25, 0.5, 0.25], 1)).toBe(3);
    expect(weightedQuantile([5], [1], 0.3)).toBe(5);
  });
  it('take over below a stated number, and the school says so', () => {
    const family = familyOf(simulatedFamily(exponential, 12, 3, [6, 24], 'always', 4), 0.95);
    expect(family.way).toBe('few');
    const p = reliabilityProposal(family, plainPolicy, 0, '2026-01-01');
    expect(p.sure).toContain('Fewer than 20 outside');
    expect(reliabilityProposal(familyOf([], 0.95), plainPolicy, 0, '2026-01-01').date).toBeNull();
  });
});

describe('the share of few data', () => {
  const curve = (time: number): Survival => ({ ...exponential, target: 0.9, time });
  it('is the mean over what may be, each by its weight', () => {
    const one = fewShare({ curves: [curve(24)], weights: Float64Array.of(1) }, 24);
    expect([one.low, one.middle, one.high].map((v) => Number(v.toFixed(9)))).toEqual([0.9, 0.9, 0.9]);
    const two = fewShare({ curves: [curve(24), curve(12)], weights: Float64Array.of(0.25, 0.75) }, 24);
    expect(two.middle).toBeCloseTo(0.25 * 0.9 + 0.75 * 0.81, 9);
  });
});

describe('members of a family', () => {
  const alike = simulatedFamily(exponential, 60, 6, [8, 16], 'always', 9);
  const always = (id: string, isInside: boolean) => ({
    id,
    visits: Array.from({ length: 7 }, (_, i) => ({
      day: `${2010 + i}-01-01`,
      isInside: i === 0 || isInside,
      isRenewed: true,
      share: null,
    })),
  });
  it('that are unlike the others are named, with how unlikely that is', () => {
    const [first, ...rest] = outliersOf(familyOf([...alike, always('bad', false)], 0.95));
    expect(first).toMatchObject({ id: 'bad', kind: 'bad', seen: 6, outside: 6 });
    expect(first!.probability).toBeLessThan(1e-4);
    expect(rest).toEqual([]);
  });
  it('come the least probable first', () => {
    const worse = always('worse', false);
    const bad = { ...always('bad', false), visits: always('bad', false).visits.map((v, i) => ({ ...v, isInside: i < 2 })) };
    const found = outliersOf(familyOf([...alike, bad, worse], 0.95));
    expect(found.map((f) => f.id)).toEqual(['worse', 'bad']);
    expect(found[0]!.probability).toBeLessThan(found[1]!.probability);
  });
  it('that are all alike are not', () => expect(outliersOf(familyOf(alike, 0.95))).toEqual([]));
  it('that are better than all others are named too, where that can be told', () => {
    const poor = simulatedFamily({ ...exponential, time: 1.2 }, 30, 6, [8, 16], 'always', 9);
    const good = {
      id: 'good',
      visits: Array.from({ length: 21 }, (_, i) => ({ day: `${2000 + i}-01-01`, isInside: true, isRenewed: true, share: null })),
    };
    expect(outliersOf(familyOf([...poor, good], 0.95))[0]).toMatchObject({ id: 'good', kind: 'good' });
  });
  it('cost what a target asks for', () => {
    const cost = targetCost(exponential, 20, 0.95, 100, { floor: 3, ceiling: 36 });
    expect(cost.months).toBeCloseTo(14, 6);
    expect(cost.calibrations).toBeCloseTo((20 * 12) / 14, 6);
    expect(cost.outside).toBeCloseTo(0.05 * cost.calibrations, 6);
    expect(cost.cost).toBeCloseTo(100 * cost.calibrations, 6);
    expect(targetCost(exponential, 20, 0.6, null, { floor: 3, ceiling: 36 })).toMatchObject({ months: 36, cost: null });
  });
  it('have a curve in the middle even where few were seen', () =>
    expect(middleCurve(familyOf([], 0.95)).time).toBeGreaterThan(priorTime[0]));
});

describe('observed steps', () => {
  it('fall, and are the share itself where all were seen at one time', () => {
    const lives = [...Array.from({ length: 8 }, () => ({ after: 12, by: null })), { after: 0, by: 12 }, { after: 0, by: 12 }];
    const steps = observedSteps(lives);
    expect(steps.at(-1)!.share).toBeCloseTo(0.8, 3);
    for (const [i, s] of steps.entries()) expect(s.share).toBeLessThanOrEqual(steps[i - 1]?.share ?? 1);
  });
  it('follow the curve that they came from', () => {
    const family = simulatedFamily(weibull, 400, 6, [6, 48], 'when-outside', 21);
    const steps = observedSteps(family.flatMap((m) => livesOf(outcomesOf(m.visits))));
    const at = (months: number) => steps.find((s) => s.to >= months)!.share;
    for (const months of [20, 40, 60]) expect(Math.abs(at(months) - shareInside(weibull, months))).toBeLessThan(0.08);
  });
  it('are none of nothing', () => expect(observedSteps([])).toEqual([]));
});
