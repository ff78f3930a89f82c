import { describe, expect, it } from 'vitest';
import { mostWithin } from '../../../bench/best-possible';
import { driftHistory, simulatedFamily, type Motion } from '../../../bench/simulated-laboratory';
import { normalDeviate, seededRandom } from '../../bench/random';
import { longestFor } from './drift-school';
import { fitDrift, monthsInside, predictionBand, probabilityInside } from './drift';
import { familyMonths, familyOf, goodnessOfFit, outliersOf, type Family } from './family';
import { priorShapeDeviation, priorTime } from './few-data';
import { quickNormalCdf } from './normal';
import { shareInside, type Survival } from './survival';
import { monthsBetween } from './visit';

/** Whether what is said to happen so often does: over many that are alike, whose truth is known. */

const share = <T>(of: readonly T[], is: (one: T) => boolean): number => of.filter(is).length / of.length;
/** Three standard deviations of a share that is p in truth. */
const chance = (p: number, n: number): number => 3 * Math.sqrt((p * (1 - p)) / n);

describe('over 120 families of one curve', () => {
  const truth: Survival = { model: 'exponential', target: 0.95, time: 12, shape: 1 };
  const families = Array.from({ length: 120 }, (_, seed) =>
    familyOf(simulatedFamily(truth, 60, 8, [6, 30], 'always', 300 + seed), 0.95),
  );

  it('intervals hold the truth no more seldom than stated', () => {
    const held = share(families, (f) => {
      const { low, high } = familyMonths(f);
      return low <= truth.time && truth.time <= high;
    });
    // The bounds are the widest of the models left standing: more often is no fault.
    expect(held).toBeGreaterThan(0.95 - chance(0.95, families.length));
  });
  it('the middle is neither early nor late', () => {
    const logs = families.map((f) => Math.log(familyMonths(f).middle / truth.time));
    const mean = logs.reduce((a, b) => a + b, 0) / logs.length;
    const sd = Math.sqrt(logs.reduce((s, l) => s + (l - mean) ** 2, 0) / (logs.length - 1));
    expect(Math.abs(mean)).toBeLessThan((3 * sd) / Math.sqrt(logs.length) + 0.02);
  });
  it('a fit is doubted as seldom as its probability says', () => {
    const told = families.flatMap((f) => goodnessOfFit(f)?.probability ?? []);
    expect(told.length).toBeGreaterThan(100);
    expect(Math.abs(share(told, (p) => p < 0.2) - 0.2)).toBeLessThan(chance(0.2, told.length));
    expect(Math.abs(share(told, (p) => p < 0.5) - 0.5)).toBeLessThan(chance(0.5, told.length));
  });
  it('hardly one has an instrument named that is like all others', () => {
    const named = share(families, (f) => outliersOf(f).length > 0);
    expect(named).toBeLessThan(0.02 + chance(0.02, families.length));
  });
});

describe('over 160 families of few, whose truth is as likely as assumed', () => {
  const all = Array.from({ length: 160 }, (_, seed) => {
    const random = seededRandom(8_000 + seed);
    const truth: Survival = {
      model: 'weibull',
      target: 0.95,
      time: priorTime[0] * (priorTime[1] / priorTime[0]) ** random(),
      shape: Math.exp(priorShapeDeviation * normalDeviate(random)),
    };
    return { truth, family: familyOf(simulatedFamily(truth, 10, 3, [6, 36], 'when-outside', seed), 0.95) };
  });
  const inside = (q: (f: Family) => number) => share(all, ({ truth, family }) => truth.time <= q(family));

  it('each bound is crossed as often as stated', () => {
    const few = all.filter(({ family }) => family.way === 'few').length;
    expect(few).toBeGreaterThan(0.8 * all.length);
    expect(Math.abs(inside((f) => familyMonths(f).low) - 0.025)).toBeLessThan(chance(0.025, all.length));
    expect(Math.abs(inside((f) => familyMonths(f).middle) - 0.5)).toBeLessThan(chance(0.5, all.length));
    expect(Math.abs(inside((f) => familyMonths(f).high) - 0.975)).toBeLessThan(chance(0.975, all.length));
  });
});

describe('over 400 instruments', () => {
  const limits = { lower: -1, upper: 1 };
  const history = (motion: Motion, seed: number) => {
    const { truth, visits } = driftHistory(motion, seed);
    return { truth, fit: fitDrift(visits, limits) };
  };

  it.each(['linear', 'random walk', 'moving and wandering', 'stepping'] as const)(
    'that drift (%s), the error is inside at the date no less often than stated, nor much more',
    (motion) => {
      let [stated, inside, dates] = [0, 0, 0];
      for (let seed = 0; seed < 400; seed++) {
        const { truth, fit } = history(motion, seed);
        const months = monthsInside(fit, limits, 0.9, 60);
        if (months <= 0) continue;
        dates++;
        stated += probabilityInside(fit, limits, months);
        truth.ages(months);
        inside += Number(Math.abs(truth.error()) <= 1);
      }
      expect(dates).toBeGreaterThan(300);
      expect(stated / dates).toBeGreaterThan(0.9 - 1e-6);
      expect((stated - inside) / dates).toBeLessThan(chance(0.9, dates));
      // What moves in one way only is given less time than it might have.
      expect((inside - stated) / dates).toBeLessThan(0.02 + chance(0.9, dates));
    },
  );
  it.each([3, 6])('that moves and wanders, dates of every length hold as often as promised, after %i visits', (seen) => {
    const lengths = new Map<string, boolean[]>();
    for (let seed = 0; seed < 700; seed++) {
      const { truth, visits } = driftHistory('moving and wandering', 70_000 + seed);
      const last = visits.slice(-seen);
      const longest = longestFor(last, 60);
      const months = monthsInside(fitDrift(last, limits), limits, 0.95, longest);
      if (months <= 0) continue;
      truth.ages(months);
      const isInside = Math.abs(truth.error()) <= 1;
      for (const length of [months < 12 ? 'short' : months < 18 ? 'longer' : 'long', ...(months >= longest ? ['held'] : [])])
        lengths.set(length, [...(lengths.get(length) ?? []), isInside]);
    }
    expect([...lengths.keys()].sort()).toEqual(['held', 'long', 'longer', 'short']);
    for (const [length, held] of lengths)
      expect(share(held, Boolean), length).toBeGreaterThan(0.95 - Math.max(0.02, (2 / 3) * chance(0.95, held.length)));
  });
  it('the band two years on holds the error as often as stated, where each way of moving is as likely as assumed', () => {
    const ways: Motion[] = ['linear', 'random walk', 'moving and wandering', 'moving and wandering', 'moving and wandering'];
    let held = 0;
    for (let seed = 0; seed < 1200; seed++) {
      const { truth, fit } = history(ways[seed % 5]!, 1000 + seed);
      const { low, middle, high } = predictionBand(fit, 0.9, 24);
      expect(low <= middle && middle <= high).toBe(true);
      truth.ages(24);
      held += Number(low <= truth.error() && truth.error() <= high);
    }
    expect(Math.abs(held / 1200 - 0.9)).toBeLessThan(chance(0.9, 1200));
  });
});

describe('the most that any way of estimating can reach', () => {
  const expected = (s: Survival, months: number): number => {
    // Information of one visit about ln T: the square of dp/d ln T over p(1 − p).
    const h = 1e-4;
    const at = (by: number) => shareInside({ ...s, time: s.time * Math.exp(by) }, months);
    const p = at(0);
    return ((at(h) - at(-h)) / (2 * h)) ** 2 / (p * (1 - p));
  };
  it.each([
    { model: 'exponential', target: 0.95, time: 14, shape: 1 },
    { model: 'exponential', target: 0.95, time: 30, shape: 1 },
  ] as const)('is what the information of every visit adds up to ($model, $time months)', (truth) => {
    const family = (seed: number) => simulatedFamily(truth, 400, 6, [6, 48], 'always', 60 + seed);
    let information = 0;
    for (let seed = 0; seed < 4; seed++)
      for (const { visits } of family(seed))
        for (const [i, v] of visits.slice(1).entries()) information += expected(truth, monthsBetween(visits[i]!.day, v.day)) / 4;
    const within = 2 * quickNormalCdf(Math.log(1.1) * Math.sqrt(information)) - 1;
    expect(Math.abs(mostWithin(truth, 'always', family, 4) - within)).toBeLessThan(0.03);
  });
  it('is more with more visits, and less where a second parameter has to be found as well', () => {
    const exponential: Survival = { model: 'exponential', target: 0.95, time: 14, shape: 1 };
    const weibull: Survival = { ...exponential, model: 'weibull' };
    const of = (truth: Survival, visits: number) =>
      mostWithin(truth, 'always', (seed) => simulatedFamily(truth, 300, visits, [6, 48], 'always', seed), 3);
    expect(of(exponential, 8)).toBeGreaterThan(of(exponential, 4));
    expect(of(weibull, 8)).toBeLessThan(of(exponential, 8));
  });
  it('is less for a walk that is left as it was where it is inside', () => {
    const walk: Survival = { model: 'random-walk', target: 0.95, time: 14, shape: 0.2 };
    const of = (adjust: 'always' | 'when-outside') =>
      mostWithin(walk, adjust, (seed) => simulatedFamily(walk, 300, 8, [6, 48], adjust, seed), 3);
    // Where it is put in order each time, each visit tells of the time just after; where not, of what came before too.
    expect(of('always')).toBeGreaterThan(of('when-outside'));
    expect(of('when-outside')).toBeGreaterThan(0.4);
  });
});
