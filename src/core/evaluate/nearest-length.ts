/** Lengths finer than this share of the whole are not told apart when sums are sought. */
const finest = 1e-9;
/** The most places of the sum that are looked at; finer sets are searched by items instead. */
const mostPlaces = 4_000_000;

/**
 * The sum of some of the items that lies nearest to a length; of two equally near the lower. Nothing (0) is the sum of none.
 * @param lengths nominal lengths, greater than 0, each item once @param wanted in the same unit
 * @returns null where there is no item
 * @example nearestLength([1, 2, 5], 4) // 3
 */
export function nearestLength(lengths: readonly number[], wanted: number): number | null {
  const items = lengths.filter((l) => l > 0);
  if (items.length === 0) return null;
  if (wanted <= 0) return 0;
  const unit = commonMeasure(items);
  // Beyond the wanted length no sum but the least above it matters, and that is less than one item further.
  const top = Math.round(Math.min(sum(items), wanted + Math.max(...items)) / unit);
  if (top > mostPlaces) return nearestOfFew(items, wanted);
  const isSum = new Uint8Array(top + 1);
  isSum[0] = 1;
  for (const item of items) {
    const places = Math.round(item / unit);
    for (let at = top; at >= places; at--) if (isSum[at - places]) isSum[at] = 1;
  }
  const middle = wanted / unit;
  let best = 0;
  for (let at = 0; at <= top; at++) if (isSum[at] && Math.abs(at - middle) < Math.abs(best - middle) - finest * top) best = at;
  return Number((best * unit).toPrecision(12));
}

const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);

/** The greatest length of which every item is a multiple, as decimal fractions have one. */
function commonMeasure(items: readonly number[]): number {
  const slack = finest * Math.max(...items);
  const of = (a: number, b: number): number => {
    while (b > slack) {
      const rest = Math.abs(a - Math.round(a / b) * b);
      [a, b] = [b, rest];
    }
    return a;
  };
  return items.reduce(of);
}

/** Sums of at most this many items, where the items have no common measure that can be counted in. */
const fewItems = 4;

function nearestOfFew(items: readonly number[], wanted: number): number {
  let best = 0;
  const search = (from: number, total: number, left: number): void => {
    const [a, b] = [Math.abs(total - wanted), Math.abs(best - wanted)];
    if (a < b - finest * wanted || (Math.abs(a - b) <= finest * wanted && total < best)) best = total;
    if (left === 0 || total > wanted) return;
    for (let i = from; i < items.length; i++) search(i + 1, total + items[i]!, left - 1);
  };
  search(0, 0, items.length > 60 ? 3 : fewItems);
  return best;
}
