import { printedUnit } from '../quantity/unit';
import type { Cause, DiagnoseQuestion } from './diagnose-schema';
import { Directions, logSum, overSizes, quadrature, weighted } from './gaussian';
import { candidatesOf, laidOut, priorsOf, type Candidate, type Laid, type Shape } from './patterns';

export type Diagnosed = {
  cause: Cause;
  probability: number;
  at?: string[];
  size?: Record<string, number>;
  standardUncertainty?: Record<string, number>;
  sentence: string;
};
export type Diagnosis = { causes: Diagnosed[]; noise: number; unexplained: number | null };

/** A cause as the posterior has it. */
export type Weighed = Diagnosed & {
  /** ln of the likelihood of the readings if this was the cause. */ evidence: number;
  /** ln of what was thought of it before; −∞ where it is out of the question. */ prior: number;
  /** What it adds to each reading, in their order. */ effect: number[];
};

/** Every instrument, sound or not, as shares of the smallest limit: offset, slope, and each point by itself. */
const usual = { offset: 0.1, slope: 0.1, point: 0.05 };
/** Sizes of causes lie between these shares of it, their logarithms alike probable. */
const sizes = { low: 0.3, high: 3 };
/** Repeats of an instrument that scatters are so many times as far apart. */
const ratios = { low: 2.5, high: 8 };

/** One way of one cause, its size and sign settled: how likely it is, and what its sizes are. */
type Branch = {
  cause: Cause;
  log: number;
  shape: Shape | null;
  key: string;
  sizes: { name: string; mean: number; square: number }[];
};

/** Covariance of the readings of a sound instrument, without their own scatter. */
function covarianceOf(question: DiagnoseQuestion, { readings, points, T, z }: Laid, background: typeof usual): number[][] {
  const common = (background.offset * T) ** 2 + question.shared ** 2;
  return readings.map((a) =>
    readings.map((b) => {
      const point = a.point === b.point ? (background.point * T) ** 2 + points[a.point]!.standardUncertainty ** 2 : 0;
      return common + (background.slope * T) ** 2 * z[a.point]! * z[b.point]! + point;
    }),
  );
}

/** Panels of the sums over sizes and over noises. */
export type Panels = { size: number; noise: number };
const exact: Panels = { size: 12, noise: 14 };

/** Both sizes of a cause that has two, over all four pairs of signs. */
function overTwo(
  linear: [number, number],
  q: [number, number, number],
  low: number,
  high: number,
): Omit<Branch, 'cause' | 'shape'>[] {
  const span = Math.log(high / low);
  const outer = quadrature(Math.log(low), Math.log(high), 14);
  return ([1, -1] as const).flatMap((signA) =>
    ([1, -1] as const).map((signB) => {
      // Neither is told more narrowly than the background that it stands on: these panels resolve it.
      const parts = outer.map(([u, w]) => {
        const a = signA * Math.exp(u);
        const inner = overSizes(linear[1] - q[1] * a, q[2], low, high, signB, 6);
        return { a, inner, log: Math.log(w / span) + linear[0] * a - 0.5 * q[0] * a * a + inner.log };
      });
      const log = logSum(parts.map((p) => p.log));
      const mean = (of: (p: (typeof parts)[number]) => number) =>
        parts.reduce((sum, p) => sum + Math.exp(p.log - log) * of(p), 0);
      return {
        log: log + Math.log(1 / 4),
        key: `${signA}${signB}`,
        sizes: [
          { name: 'offset', mean: mean((p) => p.a), square: mean((p) => p.a ** 2) },
          { name: 'span', mean: mean((p) => p.inner.mean), square: mean((p) => p.inner.square) },
        ],
      };
    }),
  );
}

/** Errors and patterns along the directions of the background, worked out once. */
type Spread = { directions: Directions; errors: Float64Array; patterns: Map<Shape, Float64Array>; steps: number };

/** Every branch of every cause, for one noise of the instrument. */
function branchesAt(candidates: readonly Candidate[], { T }: Laid, spread: Spread, noise: number, panels: Panels): Branch[] {
  const { directions, errors: e, patterns, steps } = spread;
  const [low, high] = [sizes.low * T, sizes.high * T];
  const likelihood = (deviation: number) => {
    const { weights, logDeterminant } = directions.with(deviation ** 2 + steps);
    return { weights, log: -0.5 * (weighted(e, e, weights) + logDeterminant + e.length * Math.log(2 * Math.PI)) };
  };
  const { weights, log: plain } = likelihood(noise);
  const dot = (a: Float64Array, b: Float64Array) => weighted(a, b, weights);
  return candidates.flatMap(({ cause, sizes: names, shapes }): Branch[] => {
    if (cause === 'none') return [{ cause, log: plain, shape: null, key: '', sizes: [] }];
    if (cause === 'scatter')
      return quadrature(Math.log(ratios.low), Math.log(ratios.high), 5).map(([u, w]) => ({
        cause,
        log: Math.log(w / Math.log(ratios.high / ratios.low)) + likelihood(Math.exp(u) * noise).log,
        shape: null,
        key: '',
        sizes: [{ name: 'ratio', mean: Math.exp(u), square: Math.exp(2 * u) }],
      }));
    const laid = shapes.map((s) => patterns.get(s)!);
    if (names.length === 2) {
      const [p, q] = laid as [Float64Array, Float64Array];
      return overTwo([dot(e, p), dot(e, q)], [dot(p, p), dot(p, q), dot(q, q)], low, high).map((b) => ({
        ...b,
        log: b.log + plain,
        cause,
        shape: null,
      }));
    }
    const alike = -Math.log(shapes.length);
    return shapes.flatMap((shape, i): Branch[] => {
      const p = laid[i]!;
      const [linear, quadratic] = [dot(e, p), dot(p, p)];
      const name = names[0];
      if (name === undefined) return [{ cause, log: plain + alike + linear - 0.5 * quadratic, shape, key: String(i), sizes: [] }];
      return ([1, -1] as const).map((sign) => {
        const { log, mean, square } = overSizes(linear, quadratic, low, high, sign, panels.size);
        return {
          cause,
          log: plain + alike + log - Math.LN2,
          shape,
          key: `${i}${sign}`,
          sizes: [{ name, mean, square }],
        };
      });
    });
  });
}

/** Noises that are averaged over, with their logarithmic weights: the one that is given, or log-uniform ones. */
function noisesOf({ noise, resolution }: DiagnoseQuestion, T: number, panels: number): { noise: number; log: number }[] {
  if (noise !== null) return [{ noise, log: 0 }];
  const low = Math.max((resolution ?? 0) / 40, T / 3000);
  if (low >= T) return [{ noise: T, log: 0 }];
  return quadrature(Math.log(low), Math.log(T), panels).map(([u, w]) => ({
    noise: Math.exp(u),
    log: Math.log(w / Math.log(T / low)),
  }));
}

/**
 * What errors look like: every cause that they could show with its probability, by the exact posterior of the stated model.
 * @throws DocumentError where nothing was read, or no limit tells what is large
 * @example diagnoseErrors(question).causes[0].cause // 'curvature'
 */
export function diagnoseErrors(question: DiagnoseQuestion): Diagnosis {
  const { causes, ...rest } = weighedCauses(question);
  return { causes: causes.map(({ effect: _effect, evidence: _evidence, prior: _prior, ...c }) => c), ...rest };
}

/** As `diagnoseErrors`, with what each cause does to each reading, and what the readings alone say of it. */
export function weighedCauses(
  question: DiagnoseQuestion,
  panels: Panels = exact,
  background = usual,
): Omit<Diagnosis, 'causes'> & { causes: Weighed[] } {
  const laid = laidOut(question);
  const candidates = candidatesOf(question, laid);
  const priors = priorsOf(
    candidates.map((c) => c.cause),
    question.priors,
  );
  const directions = new Directions(covarianceOf(question, laid, background));
  const spread: Spread = {
    directions,
    errors: directions.along(laid.readings.map((r) => r.error)),
    patterns: new Map(candidates.flatMap((c) => c.shapes.map((s) => [s, directions.along(s.pattern)]))),
    steps: (question.resolution ?? 0) ** 2 / 12,
  };
  const told = noisesOf(question, laid.T, panels.noise).flatMap(({ noise, log }) =>
    branchesAt(candidates, laid, spread, noise, panels).map((b) => ({
      ...b,
      noise,
      evidence: b.log + log,
      log: b.log + log + Math.log(Math.max(priors.get(b.cause)!, 1e-300)),
    })),
  );
  const total = logSum(told.map((b) => b.log));
  const share = (b: { log: number }) => Math.exp(b.log - total);
  const causes = candidates
    .map(({ cause }) => {
      const own = told.filter((b) => b.cause === cause);
      const probability = priors.get(cause) === 0 ? 0 : own.reduce((sum, b) => sum + share(b), 0);
      return {
        probability,
        evidence: logSum(own.map((b) => b.evidence)),
        prior: Math.log(priors.get(cause)!),
        ...detailsOf(own, laid, question),
      };
    })
    .sort((a, b) => b.probability - a.probability);
  const first = causes[0]!;
  return {
    causes,
    noise: told.reduce((sum, b) => sum + share(b) * b.noise, 0),
    unexplained: deviationOf(laid.readings.map((r, i) => r.error - first.effect[i]!)),
  };
}

/** A cause as it most probably is: where, how large, and what it does to each reading. */
function detailsOf(
  own: readonly Branch[],
  laid: Laid,
  { unit }: DiagnoseQuestion,
): Omit<Diagnosed, 'probability'> & { effect: number[] } {
  const ways = new Map<string, Branch[]>();
  for (const b of own) ways.set(b.key, [...(ways.get(b.key) ?? []), b]);
  const likeliest = [...ways.values()].reduce((best, w) =>
    logSum(w.map((b) => b.log)) > logSum(best.map((b) => b.log)) ? w : best,
  );
  const { cause, shape } = likeliest[0]!;
  const log = logSum(likeliest.map((b) => b.log));
  const found = likeliest[0]!.sizes.map(({ name }, i) => {
    const mean = likeliest.reduce((sum, b) => sum + Math.exp(b.log - log) * b.sizes[i]!.mean, 0);
    const square = likeliest.reduce((sum, b) => sum + Math.exp(b.log - log) * b.sizes[i]!.square, 0);
    return { name, mean, deviation: Math.sqrt(Math.max(0, square - mean ** 2)) };
  });
  const fixed = shape?.fixed === undefined ? [] : [{ name: 'factor', mean: shape.fixed, deviation: 0 }];
  const told = [...found, ...fixed];
  const effect = laid.readings.map((r, i) => {
    if (cause === 'none' || cause === 'scatter') return 0;
    if (cause === 'offset-and-span') return found[0]!.mean + found[1]!.mean * laid.z[r.point]!;
    return (found[0]?.mean ?? 1) * shape!.pattern[i]!;
  });
  return {
    cause,
    ...(shape?.at ? { at: shape.at } : {}),
    ...(told.length
      ? {
          size: Object.fromEntries(told.map((s) => [s.name, s.mean])),
          standardUncertainty: Object.fromEntries(told.map((s) => [s.name, s.deviation])),
        }
      : {}),
    sentence: sentenceOf(cause, told, shape?.at ?? [], unit),
    effect,
  };
}

/** Standard deviation (N − 1); null of one reading. */
function deviationOf(values: readonly number[]): number | null {
  if (values.length < 2) return null;
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1));
}

function sentenceOf(cause: Cause, told: { name: string; mean: number }[], at: readonly string[], unit: string): string {
  const printed = printedUnit(unit);
  const say = (name: string) => {
    const mean = told.find((s) => s.name === name)!.mean;
    const text = String(Number(mean.toPrecision(2))).replace('-', '−');
    return printed === '' || printed === '1' ? text : `${text} ${printed}`;
  };
  switch (cause) {
    case 'none':
      return 'Nothing but its usual scatter.';
    case 'offset':
      return `All errors lie off by the same, about ${say('offset')}.`;
    case 'span':
      return `The error grows along the range, to about ${say('span')} at its far end.`;
    case 'offset-and-span':
      return `Off by about ${say('offset')}, and by another ${say('span')} at the far end of the range.`;
    case 'curvature':
      return `The error bends along the range, by about ${say('curvature')} in the middle.`;
    case 'hysteresis':
      return `Up and down differ, by about ${say('hysteresis')} in the middle of the range.`;
    case 'odd-point':
      return `One point stands apart: ${at.join()}, by about ${say('displacement')}. Look at its standard.`;
    case 'scatter':
      return `Repeats lie about ${told[0]!.mean.toFixed(1)} times as far apart as they should.`;
    case 'drift':
      return `It moved while it was read, by about ${say('drift')} from the first reading to the last.`;
    case 'not-settled':
      return `First readings lag behind, by about ${say('displacement')}: it was read before it had settled.`;
    case 'factor':
      return told.length > 0
        ? `Readings are ${Number(told[0]!.mean.toPrecision(6))} times what they should be: another unit or a slipped point.`
        : 'Readings are in degrees Fahrenheit.';
    case 'exchanged':
      return `The standards of ${at.join(' and ')} changed places.`;
    case 'nominal-for-certified':
      return 'The errors were reckoned from nominal values in place of certified ones.';
  }
}

/** Sound instruments as they are met: as the model says, and with points and a slope that go farther their own way; alike probable. */
const backgrounds = [usual, { ...usual, slope: 0.25, point: 0.2 }];
/** Finer sums would not change a percent of what is said at the bench. */
const rough: Panels = { size: 6, noise: 4 };

/**
 * The causes of errors as they are weighed at the bench, where instruments differ in how far each point goes its own way: the posterior
 * over both kinds. Priors that leave nothing for what the readings could show are as good as none.
 * @throws DocumentError where nothing was read, or no limit tells what is large
 * @example weighedAtBench(question)[0].cause // 'curvature'
 */
export function weighedAtBench(question: DiagnoseQuestion): Weighed[] {
  const weigh = (asked: DiagnoseQuestion) => backgrounds.map((b) => weighedCauses(asked, rough, b).causes);
  const shown = candidatesOf(question, laidOut(question)).map((c) => c.cause);
  const isLeft = shown.some((c) => question.priors[c] !== 0);
  const ways = weigh(isLeft ? question : { ...question, priors: {} });
  const merged = ways[0]!.map(({ cause }) => {
    const each = ways.map((causes) => causes.find((c) => c.cause === cause)!);
    const best = each.reduce((a, b) => (b.evidence > a.evidence ? b : a));
    return { ...best, evidence: logSum(each.map((c) => c.evidence)) - Math.log(each.length) };
  });
  const total = logSum(merged.map((c) => c.prior + c.evidence));
  return merged
    .map((c) => ({ ...c, probability: Math.exp(c.prior + c.evidence - total) }))
    .sort((a, b) => b.probability - a.probability);
}
