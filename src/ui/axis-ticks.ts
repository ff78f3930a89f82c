/**
 * Round numbers along an axis, as many as can be read and never more, whatever the values are.
 * @param most ticks at the most
 * @returns ascending multiples of 1, 2 or 5 times a power of ten within from … to; empty when the range is none
 * @example roundTicks(-6, 6, 7) // [-6, -4, -2, 0, 2, 4, 6]
 */
export function roundTicks(from: number, to: number, most: number): number[] {
  const width = to - from;
  if (!(width > 0) || !Number.isFinite(width) || most < 2) return [];
  const rough = width / (most - 1);
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough * (1 - 1e-9))!;
  const first = Math.ceil(from / step - 1e-9);
  const count = Math.min(most, Math.floor(to / step + 1e-9) - first + 1);
  // Through text, so that 3 × 0.1 is 0.3.
  return Array.from({ length: Math.max(0, count) }, (_, i) => Number(((first + i) * step).toPrecision(12)) + 0);
}

/** 1 January of years between two instants, at most `most` of them, evenly apart. */
export function yearTicks(from: number, to: number, most: number): number[] {
  const [first, last] = [new Date(from).getUTCFullYear(), new Date(to).getUTCFullYear()];
  const every = Math.max(1, Math.ceil((last - first) / most));
  const count = Math.min(most + 1, Math.floor((last - first) / every) + 1);
  return Array.from({ length: Math.max(0, count) }, (_, i) => Date.UTC(first + i * every, 0, 1)).filter(
    (t) => t >= from && t <= to,
  );
}
