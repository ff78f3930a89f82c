/** Ratios measured in one run, medians of several: nothing here fails, it tells. */
export const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/** Median time of one call in milliseconds. */
export function time(work: () => void, repeats = 9, calls = 20): number {
  for (let i = 0; i < calls; i++) work();
  return median(
    Array.from({ length: repeats }, () => {
      const start = performance.now();
      for (let i = 0; i < calls; i++) work();
      return (performance.now() - start) / calls;
    }),
  );
}

export const say = (what: string, value: string) => console.log(`${what.padEnd(86)} ${value}`);
