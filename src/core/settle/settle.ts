import normalCdf from '@stdlib/stats-base-dists-normal-cdf';
import { printedUnit } from '../quantity/unit';
import { Approaches, type Way } from './approaches';
import type { SettleQuestion } from './settle-schema';

/** How a signal stands after a sample. Distances in its unit, times in seconds. */
export type SettleNow = {
  /** Distance still to go, with its sign. */ toGo: number;
  standardUncertainty: number;
  /** Of the approach; null where it has no end. */ timeConstant: number | null;
  /** Until what is still to come is smaller than the tolerance; null where it has no end. */ secondsLeft: number | null;
  /** Probability that what is still to come is smaller than the tolerance. */ probability: number;
  /** Probability that it never comes to rest. */ endless: number;
  /** Where it goes. */ end: number;
  endUncertainty: number;
};

export type SettleAnswer = {
  settledAt: number | null;
  value: number | null;
  standardUncertainty: number | null;
  now: Pick<SettleNow, 'toGo' | 'standardUncertainty' | 'timeConstant' | 'secondsLeft'>;
  sentence: string;
};

/** Fewer samples than this say nothing of an approach, and with fewer than so many nothing is called settled. */
const fewest = 4;
const fewestToSettle = 16;
/** What a model of an approach is wrong by in any case, in tolerances. */
const modelShare = 0.06;
/** More likely than this without an end, a signal is said not to settle. */
const endlessFrom = 0.7;

/** Whether a signal has settled, told sample by sample; what was told once is not taken back. */
export class SettleTracker {
  private readonly times: number[] = [];
  private readonly values: number[] = [];
  private approaches: Approaches | null = null;
  private spacing = 0;
  private low = Infinity;
  private high = -Infinity;
  private still = 0;
  private leastStep = Infinity;
  private readonly thirds: number[] = [];
  private looked = 0;
  /** By what the scatter about the likeliest approach is greater than thought, and its memory. */ private inflation = 1;

  constructor(
    private readonly tolerance: number,
    private readonly noise: number | null = null,
  ) {}

  /** Takes a sample in. @param seconds later than that of the sample before */
  add(seconds: number, value: number): SettleNow {
    const { times, values } = this;
    times.push(seconds);
    values.push(value);
    this.low = Math.min(this.low, value);
    this.high = Math.max(this.high, value);
    const n = values.length;
    if (n > 1) {
      const change = Math.abs(value - values[n - 2]!);
      if (change < 1e-9 * Math.max(1, Math.abs(value))) this.still++;
      else this.leastStep = Math.min(this.leastStep, change);
    }
    if (n > 3) this.thirds.push(Math.abs(values[n - 1]! - 3 * values[n - 2]! + 3 * values[n - 3]! - values[n - 4]!));
    this.follow();
    return this.judge();
  }

  /** Adds the sample to the sums; where the spacing turns out to be another, makes them anew. */
  private follow(): void {
    const { times, values } = this;
    const n = times.length;
    if (n < 2) return;
    const isTimeToLook = n === 2 || n === 6 || n === 20 || (n >= 60 && n >= 3 * this.looked);
    if (isTimeToLook) {
      this.looked = n;
      const gaps = times.slice(1).map((t, i) => t - times[i]!);
      const median = gaps.sort((a, b) => a - b)[gaps.length >> 1]!;
      if (!this.approaches || Math.abs(median / this.spacing - 1) > 0.2) {
        this.spacing = median;
        this.approaches = new Approaches(median, values[0]!);
        values.forEach((v, i) => this.approaches!.add(times[i]! - times[0]!, v));
        return;
      }
    }
    this.approaches!.add(times[n - 1]! - times[0]!, values[n - 1]!);
  }

  /** What a sample is away from its true value: as said, or from third differences; with the display's step and what any model misses. */
  private sigma(): number {
    const step = this.still > 0.15 * this.values.length && Number.isFinite(this.leastStep) ? this.leastStep : 0;
    const floor = step ** 2 / 12 + (modelShare * this.tolerance) ** 2;
    if (this.noise !== null) return Math.sqrt(this.noise ** 2 + floor);
    const recent = this.thirds.slice(-60).sort((a, b) => a - b);
    const median = recent.length ? recent[recent.length >> 1]! : this.tolerance;
    const found = (1.4826 * median) / Math.sqrt(20);
    // Few differences tell little of a scatter.
    return Math.sqrt((found * (1 + 2 / Math.max(4, recent.length))) ** 2 + floor);
  }

  /** Holds the likeliest approach against the latest samples: what it leaves, and how alike neighbours are, is scatter for the next. */
  private learn(ways: readonly Way[], sigma: number, size: number): void {
    const { times, values, tolerance } = this;
    const best = ways.reduce<Way | null>((b, w) => (w.kind !== 'drift' && (!b || w.weight > b.weight) ? w : b), null);
    if (!best) return;
    const from = Math.max(0, values.length - Math.min(80, Math.max(20, values.length >> 1)));
    const recent = values.slice(from).map((v, i) => [times[from + i]! - times[0]!, v] as const);
    const left = this.approaches!.residuals(best, recent, sigma, size, tolerance);
    const square = left.reduce((sum, r) => sum + r * r, 0);
    const beside = left.slice(1).reduce((sum, r, i) => sum + r * left[i]!, 0);
    const memory = Math.min(0.9, Math.max(0, beside / Math.max(1e-300, square) - 1.3 / Math.sqrt(left.length)));
    const greater = square / left.length / this.sigma() ** 2;
    this.inflation = Math.sqrt(Math.max(1, greater) * ((1 + memory) / (1 - memory)));
  }

  private judge(): SettleNow {
    const { tolerance, values, times } = this;
    const n = values.length;
    const last = values[n - 1]!;
    const size = Math.max(this.high - this.low, tolerance);
    if (n < fewest)
      return {
        toGo: 0,
        standardUncertainty: size,
        timeConstant: null,
        secondsLeft: null,
        probability: 0,
        endless: 0,
        end: last,
        endUncertainty: size,
      };
    const sigma = this.sigma() * this.inflation;
    const ways = this.approaches!.ways(sigma, size, tolerance);
    const greatest = ways.reduce((m, w) => Math.max(m, w.weight), -Infinity);
    const shares = ways.map((w) => Math.exp(w.weight - greatest));
    const total = shares.reduce((a, b) => a + b, 0);
    this.learn(ways, sigma, size);
    let [probability, endless] = [0, 0];
    const ending: [Way, number][] = [];
    ways.forEach((w, i) => {
      const share = shares[i]! / total;
      if (share < 1e-9) return;
      if (w.kind === 'drift') endless += share;
      else {
        probability += share * within(w.toGo, w.toGoUncertainty, tolerance);
        ending.push([w, share]);
      }
    });
    const rest = Math.max(1e-12, 1 - endless);
    const mean = (of: (w: Way) => number) => ending.reduce((sum, [w, s]) => sum + s * of(w), 0) / rest;
    const spread = (of: (w: Way) => number, own: (w: Way) => number, about: number) =>
      Math.sqrt(ending.reduce((sum, [w, s]) => sum + s * ((of(w) - about) ** 2 + own(w) ** 2), 0) / rest);
    const toGo = mean((w) => w.toGo);
    const end = mean((w) => w.end);
    const timeConstant = Math.exp(mean((w) => Math.log(w.tau)));
    const isEndless = endless > endlessFrom || times[n - 1] === times[0];
    return {
      toGo,
      standardUncertainty: spread(
        (w) => w.toGo,
        (w) => w.toGoUncertainty,
        toGo,
      ),
      timeConstant: isEndless ? null : timeConstant,
      secondsLeft: isEndless ? null : Math.max(0, timeConstant * Math.log(Math.max(1, Math.abs(toGo) / tolerance))),
      probability: n < fewestToSettle ? 0 : probability,
      endless,
      end,
      endUncertainty: spread(
        (w) => w.end,
        (w) => w.endUncertainty,
        end,
      ),
    };
  }
}

const within = (mean: number, deviation: number, bound: number): number =>
  normalCdf((bound - mean) / deviation, 0, 1) - normalCdf((-bound - mean) / deviation, 0, 1);

/**
 * Whether a signal has settled within a tolerance, and where it goes; each instant judged from the samples up to it alone.
 * @example settle({ unit: 'Cel', samples: [[0, 20], [1, 20.1]], tolerance: 0.02, noise: null, confidence: 0.95 }).settledAt // null
 */
export function settle({ unit, samples, tolerance, noise, confidence }: SettleQuestion): SettleAnswer {
  const tracker = new SettleTracker(tolerance, noise);
  let settled: { at: number; now: SettleNow } | null = null;
  let now: SettleNow | null = null;
  for (const [seconds, value] of samples) {
    now = tracker.add(seconds, value);
    if (!settled && now.probability >= neededFor(confidence)) settled = { at: seconds, now };
  }
  const { toGo, standardUncertainty, timeConstant, secondsLeft } = now!;
  return {
    settledAt: settled?.at ?? null,
    value: settled?.now.end ?? null,
    standardUncertainty: settled?.now.endUncertainty ?? null,
    now: { toGo, standardUncertainty, timeConstant, secondsLeft },
    sentence: settledSentence(settled?.now ?? null, now!, tolerance, unit),
  };
}

/**
 * The probability from which a signal is called settled. It is asked at every sample, and the approach may be none of those looked at:
 * more is wanted than the confidence itself.
 */
export const neededFor = (confidence: number): number => 1 - 0.2 * (1 - confidence);

/** A duration as it is said at the bench. */
export const aboutSeconds = (seconds: number): string =>
  seconds < 90
    ? `${Math.max(1, Math.round(seconds))} seconds`
    : seconds < 5400
      ? `${Math.round(seconds / 60)} minutes`
      : `${(seconds / 3600).toFixed(1)} hours`;

/** How it stands, in one sentence. */
export function settledSentence(settled: SettleNow | null, now: SettleNow, tolerance: number, unit: string): string {
  const digits = Math.max(0, 1 - Math.floor(Math.log10(tolerance)));
  const printed = printedUnit(unit);
  const say = (n: number) =>
    `${n.toFixed(Math.min(12, digits)).replace('-', '−')}${printed === '' || printed === '1' ? '' : ` ${printed}`}`;
  if (settled) return `Settled: it goes to ${say(settled.end)}, standard uncertainty ${say(settled.endUncertainty)}.`;
  if (now.probability === 0 && now.timeConstant === null && now.endless === 0) return 'Too few samples to say where it goes.';
  if (now.endless > endlessFrom) return 'It does not settle: it goes on moving. Look at contact, leaks and what heats it.';
  if (Math.abs(now.toGo) <= tolerance) return 'Nearly settled: a little longer, to be sure that it stays.';
  return `Still moving: about ${aboutSeconds(now.secondsLeft ?? 0)}, with ${say(Math.abs(now.toGo))} to go.`;
}
