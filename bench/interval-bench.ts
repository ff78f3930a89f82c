import { normalDeviate, seededRandom } from '../src/bench/random';
import { fitDrift, monthsInside, predictionBand, probabilityInside } from '../src/core/interval/drift';
import { familyMonths, familyOf, type Family } from '../src/core/interval/family';
import { priorShapeDeviation, priorTime } from '../src/core/interval/few-data';
import { plainPolicy, type Policy } from '../src/core/interval/policy';
import { proposeNext } from '../src/core/interval/propose';
import { checkChart } from '../src/core/interval/quick-checks';
import type { Survival } from '../src/core/interval/survival';
import { dayAfter, monthsBetween, type Measured, type Visit } from '../src/core/interval/visit';
import { mostWithin } from './best-possible';
import { say } from './measure';
import { driftHistory, errorThatMoves, simulatedFamily, type AdjustmentPolicy, type Motion } from './simulated-laboratory';

const percent = (share: number): string => `${(100 * share).toFixed(1)} %`;
const adjustments: readonly AdjustmentPolicy[] = ['always', 'when-near', 'when-outside'];

const simulated = (truth: Survival, adjust: AdjustmentPolicy, seed: number) =>
  simulatedFamily(truth, 500, 8, [6, 48], adjust, 1000 + seed);

/** Known parameters found again from 500 instruments × 8 calibrations at unequal intervals of 6 to 48 months. */
function recovery(seeds: number): void {
  const truths: Survival[] = [
    { model: 'exponential', target: 0.95, time: 14, shape: 1 },
    { model: 'weibull', target: 0.95, time: 14, shape: 1.8 },
    { model: 'weibull', target: 0.95, time: 14, shape: 0.8 },
    { model: 'random-walk', target: 0.95, time: 14, shape: 0.2 },
  ];
  for (const truth of truths)
    for (const adjust of adjustments) {
      let [near, held, named] = [0, 0, 0];
      for (let seed = 0; seed < seeds; seed++) {
        const family = familyOf(simulated(truth, adjust, seed), 0.95);
        const { low, middle, high } = familyMonths(family);
        if (Math.abs(middle / truth.time - 1) < 0.1) near++;
        if (low <= truth.time && high >= truth.time) held++;
        if (family.way === 'likelihood' && family.fit.best.model === truth.model) named++;
      }
      const shape = truth.model === 'exponential' ? '' : ` ${truth.shape}`;
      say(
        `${truth.model}${shape}, adjusted ${adjust.replace('-', ' ')}: within 10 % (90 % wanted) · by the best of ways · held (95 %) · named`,
        [near / seeds, mostWithin(truth, adjust, (seed) => simulated(truth, adjust, seed), 8), held / seeds, named / seeds]
          .map(percent)
          .join(' · '),
      );
    }
}

/** Whether 95 % intervals from 12 instruments × 3 calibrations hold the truth at that rate (± 3 points). */
function fewData(seeds: number): void {
  const held = (name: string, truthOf: (random: () => number) => Survival): void => {
    for (const adjust of ['always', 'when-outside'] as const) {
      let inside = 0;
      for (let seed = 0; seed < seeds; seed++) {
        const truth = truthOf(seededRandom(77 + seed));
        const { low, high } = familyMonths(familyOf(simulatedFamily(truth, 12, 3, [6, 36], adjust, 5000 + seed), 0.95));
        if (low <= truth.time && high >= truth.time) inside++;
      }
      say(
        `12 × 3, ${name}, adjusted ${adjust.replace('-', ' ')}: intervals that hold it (95 ± 3 % wanted)`,
        percent(inside / seeds),
      );
    }
  };
  held('truth as likely as assumed', (random) => ({
    model: 'weibull',
    target: 0.95,
    time: priorTime[0] * (priorTime[1] / priorTime[0]) ** random(),
    shape: Math.exp(priorShapeDeviation * normalDeviate(random)),
  }));
  for (const time of [8, 12, 18, 36])
    held(`exponential ${time} months`, () => ({ model: 'exponential', target: 0.95, time, shape: 1 }));
}

const motions: readonly Motion[] = ['constant', 'linear', 'random walk', 'moving and wandering', 'stepping'];
const limits = { lower: -1, upper: 1 };

/** Whether the true error is inside at the proposed date as often as was stated (± 2 points). */
function driftDates(instruments: number): void {
  for (const probability of [0.9, 0.95])
    for (const motion of motions) {
      let [inside, stated, months, proposed] = [0, 0, 0, 0];
      for (let i = 0; i < instruments; i++) {
        const { truth, visits } = driftHistory(motion, i);
        const fit = fitDrift(visits, limits);
        const until = monthsInside(fit, limits, probability, 60);
        if (until <= 0) continue;
        proposed++;
        months += until;
        stated += probabilityInside(fit, limits, until);
        truth.ages(until);
        if (Math.abs(truth.error()) <= 1) inside++;
      }
      say(
        `Dates by drift at ${percent(probability)}, ${motion}: stated · true error inside at the date · mean interval`,
        `${percent(stated / proposed)} · ${percent(inside / proposed)} · ${(months / proposed).toFixed(0)} months`,
      );
    }
}

/** How often the band of a chart holds the true error later on. */
function bands(instruments: number): void {
  for (const motion of motions) {
    const held = [12, 24].map((months) => {
      let inside = 0;
      for (let i = 0; i < instruments; i++) {
        const { truth, visits } = driftHistory(motion, i);
        const { low, high } = predictionBand(fitDrift(visits, limits), 0.9, months);
        truth.ages(months);
        if (low <= truth.error() && truth.error() <= high) inside++;
      }
      return percent(inside / instruments);
    });
    say(`Bands of 90 %, ${motion}: true error inside after one year · two`, held.join(' · '));
  }
}

const measured = (value: number, u: number): Measured => ({
  value,
  standardUncertainty: u,
  expandedUncertainty: 2 * u,
  sharedUncertainty: 0,
  lower: -1,
  upper: 1,
  acceptLower: -1 + 2 * u,
  acceptUpper: 1 - 2 * u,
});

const noChecks = checkChart([]);
const years = 12;
const uncertainty = 0.08;

/** An instrument of a simulated laboratory: what it does, and what was seen of it. */
type Kept = { truth: ReturnType<typeof errorThatMoves>; random: () => number; visits: Visit[]; at: number; due: number };

/** Twelve years of a laboratory of 200: calibrations, and results outside their limits. Reads alike for every way to set dates. */
function laboratory(seed: number, monthsFor: (kept: Kept, family: Family) => number): { calibrations: number; outside: number } {
  const born = '2010-01-01';
  const mix: Motion[] = [
    'constant',
    'constant',
    'constant',
    'constant',
    'linear',
    'linear',
    'random walk',
    'random walk',
    'random walk',
    'stepping',
  ];
  const all = Array.from({ length: 200 }, (_, i): Kept => {
    const random = seededRandom(seed * 1000 + i);
    return { truth: errorThatMoves(mix[i % mix.length]!, random), random, visits: [], at: 0, due: 0 };
  });
  let [calibrations, outside] = [0, 0];
  for (let year = 0; year < years; year++) {
    const family = familyOf(
      all.map((k, i) => ({ id: String(i), visits: k.visits })),
      0.95,
    );
    for (const kept of all)
      while (kept.due < 12 * (year + 1)) {
        kept.truth.ages(kept.due - kept.at);
        kept.at = kept.due;
        const read = () => kept.truth.error() + uncertainty * normalDeviate(kept.random);
        const found = read();
        const isInside = Math.abs(found) <= 1;
        const isFar = Math.abs(found) > 0.7;
        if (isFar) kept.truth.adjust(0.1 * normalDeviate(kept.random));
        const pair = { key: 'e', what: 'Error', point: '', unit: '1', shownIn: '1' };
        kept.visits.push({
          run: '',
          day: dayAfter(born, kept.at),
          isInside,
          share: Math.abs(found),
          isRenewed: isFar,
          certificates: [],
          pairs: [{ ...pair, found: measured(found, uncertainty), left: isFar ? measured(read(), uncertainty) : null }],
        });
        if (kept.at > 0) {
          calibrations++;
          if (!isInside) outside++;
        }
        kept.due = kept.at + monthsFor(kept, family);
      }
  }
  return { calibrations, outside };
}

/** Against fixed 12 months on the same laboratories: as many or fewer results outside with a quarter fewer calibrations is wanted. */
function againstFixed(laboratories: number): void {
  const policy: Policy = { ...plainPolicy, school: 'drift', ceiling: 36, floor: 3 };
  const proposed = (kept: Kept, family: Family): number => {
    const day = kept.visits.at(-1)!.day;
    const known = {
      visits: kept.visits,
      ownMonths: null,
      procedure: { months: 12, monthsAfterFail: 6 },
      policy: { policy, scope: 'family' as const },
      family,
      counts: [],
      chart: noChecks,
    };
    return Math.max(0.25, monthsBetween(day, proposeNext(known, day, day).chosen.date!));
  };
  const sum = { fixed: { calibrations: 0, outside: 0 }, tool: { calibrations: 0, outside: 0 } };
  for (let seed = 1; seed <= laboratories; seed++)
    for (const [name, of] of [
      ['fixed', laboratory(seed, () => 12)],
      ['tool', laboratory(seed, proposed)],
    ] as const) {
      sum[name].calibrations += of.calibrations;
      sum[name].outside += of.outside;
    }
  say(
    `${laboratories} laboratories of 200, ${years} years: calibrations by drift and kin, against fixed 12 months`,
    `${sum.tool.calibrations} against ${sum.fixed.calibrations} (${percent(sum.tool.calibrations / sum.fixed.calibrations - 1)})`,
  );
  say('The same: results outside their limits as found', `${sum.tool.outside} against ${sum.fixed.outside}`);
}

/** Family fits and due dates of 20 000 instruments × 5 in 40 families: in one go, as a server does it. */
function manyDates(): void {
  const policy: Policy = { ...plainPolicy, school: 'drift' };
  const families = Array.from({ length: 40 }, (_, f) =>
    simulatedFamily({ model: 'weibull', target: 0.95, time: 14, shape: 1.3 }, 500, 5, [6, 48], adjustments[f % 3]!, f),
  );
  const random = seededRandom(3);
  const histories = families.map((members) =>
    members.map(({ id, visits }) => ({
      id,
      visits: visits.slice(0, 5).map((v, i): Visit => {
        const found = measured((v.isInside ? 0.4 : 1.1) + 0.1 * normalDeviate(random), 0.05);
        const pair = { key: 'e', what: 'Error', point: '', unit: '1', shownIn: '1', found, left: null };
        return { ...v, run: `${id}${i}`, certificates: [], pairs: [pair] };
      }),
    })),
  );
  const begun = performance.now();
  const fitted = families.map((members) => familyOf(members, 0.95));
  const between = performance.now();
  let dates = 0;
  for (const [f, members] of histories.entries())
    for (const { visits } of members) {
      const known = {
        visits,
        ownMonths: null,
        procedure: { months: 12 },
        policy: { policy, scope: 'family' as const },
        family: fitted[f]!,
        counts: [],
        chart: noChecks,
      };
      const day = visits.at(-1)!.day;
      if (proposeNext(known, day, day).chosen.date) dates++;
    }
  const ended = performance.now();
  say(
    `Family fits · due dates of ${dates} instruments × 5 in 40 families (2 s wanted)`,
    `${((between - begun) / 1000).toFixed(2)} s · ${((ended - between) / 1000).toFixed(2)} s`,
  );
}

/** Next dates held against simulated families, drifts and laboratories whose truth is known. */
export function intervalRates(): void {
  recovery(200);
  fewData(400);
  driftDates(3000);
  bands(3000);
  againstFixed(6);
  manyDates();
}
