/** Count, extremes, mean and central sums of powers of a set of values; sets merge exactly (Chan et al. 1983; Pébay 2008). */
export type Moments = { count: number; mean: number; square: number; cube: number; minimum: number; maximum: number };

export function momentsOf(values: Float64Array): Moments {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  const mean = sum / values.length;
  let [square, cube, minimum, maximum] = [0, 0, Infinity, -Infinity];
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (value < minimum) minimum = value;
    if (value > maximum) maximum = value;
    const d = value - mean;
    square += d * d;
    cube += d * d * d;
  }
  return { count: values.length, mean, square, cube, minimum, maximum };
}

export function mergeMoments(a: Moments, b: Moments): Moments {
  const count = a.count + b.count;
  const d = b.mean - a.mean;
  return {
    count,
    minimum: Math.min(a.minimum, b.minimum),
    maximum: Math.max(a.maximum, b.maximum),
    mean: a.mean + (d * b.count) / count,
    square: a.square + b.square + (d * d * a.count * b.count) / count,
    cube:
      a.cube +
      b.cube +
      (d ** 3 * a.count * b.count * (a.count - b.count)) / (count * count) +
      (3 * d * (a.count * b.square - b.count * a.square)) / count,
  };
}

export const deviationOf = (m: Moments): number => (m.count < 2 ? 0 : Math.sqrt(m.square / (m.count - 1)));

/** Skewness; 0 for values without spread. */
export const skewnessOf = (m: Moments): number => (m.square === 0 ? 0 : (Math.sqrt(m.count) * m.cube) / m.square ** 1.5);
