import { momentsOf } from './moments-of-blocks';

/** The coverage interval and histogram of many values, without sorting all of them. */
export type Interval = { low: number; high: number };
export type Histogram = { edges: number[]; counts: number[] };

const fineBins = 8192;
const shownBins = 128;

export type Spread = { minimum: number; maximum: number; fine: Uint32Array };

/** Counts in fine bins between the smallest and the largest value, which the moments have found already. */
export function spreadOf(
  values: Float64Array,
  { minimum, maximum }: { minimum: number; maximum: number } = momentsOf(values),
): Spread {
  const fine = new Uint32Array(fineBins + 1);
  const scale = maximum > minimum ? fineBins / (maximum - minimum) : 0;
  for (let i = 0; i < values.length; i++) fine[((values[i]! - minimum) * scale) | 0]!++;
  fine[fineBins - 1]! += fine[fineBins]!;
  fine[fineBins] = 0;
  return { minimum, maximum, fine };
}

/** How far beyond the interval the equal classes reach, as a share of its width. */
const beyond = 0.6;

/**
 * The histogram that is shown: equal classes over the interval and somewhat beyond it, every trial counted. Where values lie
 * further out, one class at each end holds them, so that far tails do not squeeze the rest into one class.
 */
export function histogramOf(
  values: Float64Array,
  { minimum, maximum }: Pick<Spread, 'minimum' | 'maximum'>,
  interval: Interval,
): Histogram {
  const width = interval.high - interval.low;
  if (minimum === maximum || width === 0) return { edges: [minimum, maximum], counts: [values.length] };
  const low = Math.max(minimum, interval.low - beyond * width);
  const high = Math.min(maximum, interval.high + beyond * width);
  const counts = new Array<number>(shownBins).fill(0);
  const scale = shownBins / (high - low);
  let [below, above] = [0, 0];
  for (const value of values) {
    if (value < low) below++;
    else if (value > high) above++;
    else counts[Math.min(shownBins - 1, ((value - low) * scale) | 0)]!++;
  }
  const edges = Array.from({ length: shownBins + 1 }, (_, i) => (i === shownBins ? high : low + ((high - low) * i) / shownBins));
  return {
    edges: [...(below ? [minimum] : []), ...edges, ...(above ? [maximum] : [])],
    counts: [...(below ? [below] : []), ...counts, ...(above ? [above] : [])],
  };
}

/** How many fine bins from one end hold at least `count` values, and how many they hold. */
function binsHolding(fine: Uint32Array, count: number, fromBelow: boolean): { bins: number; held: number } {
  let [held, bins] = [0, 0];
  while (held < count) held += fine[fromBelow ? bins++ : fineBins - 1 - bins++]!;
  return { bins, held };
}

/** The `count` smallest and the `count` largest values, each in order: whole fine bins are gathered, and only those are sorted. */
function sortedTails(
  values: Float64Array,
  { minimum, maximum, fine }: Spread,
  count: number,
): { low: Float64Array; high: Float64Array } {
  const scale = maximum > minimum ? fineBins / (maximum - minimum) : 0;
  const [below, above] = [binsHolding(fine, count, true), binsHolding(fine, count, false)];
  const [low, high] = [new Float64Array(below.held), new Float64Array(above.held)];
  const firstHigh = fineBins - above.bins;
  let [atLow, atHigh] = [0, 0];
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    const bin = ((value - minimum) * scale) | 0;
    if (bin < below.bins) low[atLow++] = value;
    if (bin >= firstHigh) high[atHigh++] = value;
  }
  return { low: low.sort(), high: high.sort() };
}

/**
 * The coverage interval of M values (JCGM 101, 7.7): between the order statistics y_(r) and y_(r+q), q = the integer part of
 * pM + ½; symmetric in probability, or the shortest. Only the two tails are sorted.
 */
export function coverageInterval(
  values: Float64Array,
  probability: number,
  kind: 'shortest' | 'symmetric',
  spread: Spread = spreadOf(values),
): Interval {
  const M = values.length;
  const q = Math.min(M - 1, Math.floor(probability * M + 0.5));
  const rest = M - q; // r may be 1 … M − q
  const { low, high } = sortedTails(values, spread, rest);
  // high holds the largest values: y_(r+q) is the r-th of the largest `rest` ones.
  const offset = high.length - rest;
  if (kind === 'symmetric') {
    const r = Math.max(1, Math.min(rest, Math.floor((M - q) / 2 + 0.5)));
    return { low: low[r - 1]!, high: high[offset + r - 1]! };
  }
  let best = 1;
  for (let r = 1; r <= rest; r++) if (high[offset + r - 1]! - low[r - 1]! < high[offset + best - 1]! - low[best - 1]!) best = r;
  return { low: low[best - 1]!, high: high[offset + best - 1]! };
}
