import { coarser, type Cell } from './family-visits';
import { shapeBounds, shareStillInside, survivalModels, type Survival, type SurvivalModel } from './survival';

/** Log likelihood of what was seen; `within` as `shareStillInside` has it (Kalbfleisch and Prentice, The statistical analysis of failure time data, 3.9: interval-censored). */
export function logLikelihood(s: Survival, cells: readonly Cell[], within = 1): number {
  let sum = 0;
  for (const { since, until, inside, outside } of cells) {
    const share = Math.min(1 - 1e-12, Math.max(1e-12, shareStillInside(s, since, until, within)));
    if (inside > 0) sum += inside * Math.log(share);
    if (outside > 0) sum += outside * Math.log1p(-share);
  }
  return sum;
}

/** Months between which the time of a target is looked for. */
export const timeBounds: [number, number] = [0.25, 1200];

/** Half the 95 % point of χ² with one degree of freedom: what a profile may fall by (Wilks 1938). */
export const dropAt95 = 1.9207;

/**
 * The greatest value of a smooth function near a start, between two bounds: Newton's steps with differences over `h`, none longer than
 * `reach`, halved until they climb.
 */
function summit(f: (x: number) => number, start: number, [low, high]: [number, number], h: number, reach: number) {
  const inside = (x: number) => Math.min(high - h, Math.max(low + h, x));
  let x = inside(start);
  let value = f(x);
  for (let i = 0; i < 12; i++) {
    const [more, less] = [f(x + h), f(x - h)];
    const slope = (more - less) / (2 * h);
    const bend = (more - 2 * value + less) / (h * h);
    let step = bend < 0 ? -slope / bend : Math.sign(slope) * reach;
    step = inside(x + Math.max(-reach, Math.min(reach, step))) - x;
    if (Math.abs(step) < h / 50) break;
    let next = f(x + step);
    while (next < value && Math.abs(step) > h / 50) {
      step /= 3;
      next = f(x + step);
    }
    if (next <= value) break;
    [x, value] = [x + step, next];
  }
  return { x, value };
}

/** How far apart shapes are looked at to tell where their top is, on the scale of `scaled`. */
const shapeStep = 0.02;

/** A shape on a scale on which a step is alike everywhere. */
const scaled = (model: SurvivalModel, shape: number): number => (model === 'weibull' ? Math.log(shape) : shape);
const unscaled = (model: SurvivalModel, at: number): number => (model === 'weibull' ? Math.exp(at) : at);

export type ReliabilityFit = {
  best: Survival;
  logLikelihood: number;
  /** Months at the target, with 95 % confidence; a bound that the data do not give is that of the search. */
  low: number;
  high: number;
  /** Schwarz's weight of each model, given what was seen; they sum to 1. */ evidence: Record<SurvivalModel, number>;
};

type ModelFit = {
  best: Survival;
  value: number;
  /** The greatest log likelihood at the logarithm of a time; asked for in small steps from the best. */ profile: (
    logTime: number,
  ) => number;
  restart: () => unknown;
};

/** Times at which a first look is taken, all over. */
const looks = 24;

/** The best member of a model. @param start from where it is climbed; without it after a look all over */
function fitModel(
  model: SurvivalModel,
  cells: readonly Cell[],
  target: number,
  within: number,
  start: Survival | null,
): ModelFit {
  const [lowShape, highShape] = shapeBounds[model].map((s) => scaled(model, s)) as [number, number];
  const at = (logTime: number, shape: number): Survival => ({
    model,
    target,
    time: Math.exp(logTime),
    shape: unscaled(model, shape),
  });
  /** The best shape at a time; looked for from the last one, which is nearly it. */
  let [near, nearTime, ridge] = [lowShape, NaN, 0];
  const found = (logTime: number, shape: number, value: number) => {
    // How the best shape follows the time: where it will be at the next.
    if (Math.abs(logTime - nearTime) > 1e-6) ridge = Math.max(-3, Math.min(3, (shape - near) / (logTime - nearTime)));
    [near, nearTime] = [shape, logTime];
    return { shape, value };
  };
  const along = (logTime: number): { shape: number; value: number } => {
    const of = (shape: number) => logLikelihood(at(logTime, shape), cells, within);
    if (lowShape === highShape) return { shape: lowShape, value: of(lowShape) };
    const guess = Number.isNaN(nearTime) ? near : near + ridge * (logTime - nearTime);
    const middle = Math.min(highShape - shapeStep, Math.max(lowShape + shapeStep, guess));
    const [less, value, more] = [of(middle - shapeStep), of(middle), of(middle + shapeStep)];
    const slope = (more - less) / (2 * shapeStep);
    const bend = (more - 2 * value + less) / (shapeStep * shapeStep);
    const step = -slope / bend;
    // So near the top it is a parabola, whose top needs no further look.
    if (bend < 0 && Math.abs(step) < 4 * shapeStep && middle + step > lowShape && middle + step < highShape) {
      return found(logTime, middle + step, value - (slope * slope) / (2 * bend));
    }
    const top = summit(of, middle, [lowShape, highShape], shapeStep, 0.3);
    return found(logTime, top.x, top.value);
  };
  const [lowTime, highTime] = timeBounds.map(Math.log) as [number, number];
  let best = start && { logTime: Math.log(start.time), shape: scaled(model, start.shape) };
  if (!best) {
    // A coarse look all over, so that no lesser hill is climbed.
    let most = -Infinity;
    best = { logTime: lowTime, shape: lowShape };
    for (let i = 0; i <= looks; i++) {
      const logTime = lowTime + (i * (highTime - lowTime)) / looks;
      for (const part of lowShape === highShape ? [0] : [0, 0.25, 0.5, 0.75, 1]) {
        const shape = lowShape + part * (highShape - lowShape);
        const value = logLikelihood(at(logTime, shape), cells, within);
        if (value > most) [best, most] = [{ logTime, shape }, value];
      }
    }
  }
  near = best.shape;
  const { x } = summit((logTime) => along(logTime).value, best.logTime, [lowTime, highTime], 0.02, 0.4);
  const { shape, value } = along(x);
  return {
    best: at(x, shape),
    value,
    profile: (logTime) => along(logTime).value,
    restart: () => ([near, nearTime] = [shape, x]),
  };
}

/** How far from the best a profile is looked at to tell how it bends. */
const closeBy = 0.04;

/**
 * Where a profile has fallen by the drop, on one side of the best; the bound of the search where it never does. The root of what it has
 * fallen by grows nearly as the distance, so that a few looks along a chord find the place.
 */
function boundOf(fit: ModelFit, side: -1 | 1): number {
  const limit = Math.log(timeBounds[side === -1 ? 0 : 1]);
  const best = Math.log(fit.best.time);
  const wanted = Math.sqrt(dropAt95);
  const fallen = (logTime: number) => Math.sqrt(Math.max(0, fit.value - fit.profile(logTime))) - wanted;
  fit.restart();
  // As far as a parabola about the best would have it; where that is not far enough, on in steps that grow.
  const near = fit.value - fit.profile(best + side * closeBy);
  let step = near > 0 ? Math.max(0.02, Math.min(1, closeBy * Math.sqrt(dropAt95 / near))) : 0.1;
  let [inside, below] = [best, -wanted];
  let [outside, above] = [best, -wanted];
  while (above < 0) {
    if (outside === limit) return Math.exp(limit);
    [inside, below] = [outside, above];
    outside = side === -1 ? Math.max(limit, outside - step) : Math.min(limit, outside + step);
    above = fallen(outside);
    step = inside === best ? step / 2 : step * 1.6;
  }
  for (let i = 0; i < 12 && Math.abs(outside - inside) > 1e-3; i++) {
    const part = Math.min(0.9, Math.max(0.1, below / (below - above)));
    const middle = inside + part * (outside - inside);
    const there = fallen(middle);
    if (Math.abs(there) < 2e-3) return Math.exp(middle);
    if (there > 0) [outside, above] = [middle, there];
    else [inside, below] = [middle, there];
  }
  return Math.exp((inside + outside) / 2);
}

/** A model whose likelihood is so far behind at a first look, over fewer cells, is not looked at closely. */
const hopeless = 8;
/** A model with less of the evidence has no part in the bounds. */
const leastEvidence = 0.05;

/**
 * Maximum likelihood of the three models, the one with most evidence chosen (Schwarz 1978, with the number
 * seen outside as the size of the sample: Volinsky and Raftery 2000), and the months at which the share inside is
 * `target` with 95 % bounds by profile likelihood (Meeker and Escobar, Statistical methods for reliability data, 8.3), the widest of the
 * models that the evidence leaves standing.
 * @param cells with at least one seen outside @throws RangeError where none was: nothing bounds the time from above
 */
export function fitReliability(cells: readonly Cell[], target: number, within = 1): ReliabilityFit {
  const outside = cells.reduce((n, c) => n + c.outside, 0);
  if (outside === 0) throw new RangeError('Nothing was seen outside: a most likely interval has no end.');
  const few = coarser(cells);
  const seenFirst = survivalModels.map((model) => fitModel(model, few, target, within, null));
  const highest = Math.max(...seenFirst.map((f) => f.value));
  const fits = seenFirst.map((f) => (f.value < highest - hopeless ? f : fitModel(f.best.model, cells, target, within, f.best)));
  const score = fits.map((f) => f.value - 0.5 * (f.best.model === 'exponential' ? 1 : 2) * Math.log(outside));
  const most = Math.max(...score);
  const total = score.reduce((sum, s) => sum + Math.exp(s - most), 0);
  const evidence = { exponential: 0, weibull: 0, 'random-walk': 0 };
  fits.forEach((f, i) => (evidence[f.best.model] = Math.exp(score[i]! - most) / total));
  const chosen = fits[score.indexOf(most)]!;
  const standing = fits.filter((f) => f === chosen || evidence[f.best.model] >= leastEvidence);
  return {
    best: chosen.best,
    logLikelihood: chosen.value,
    low: Math.min(...standing.map((f) => boundOf(f, -1))),
    high: Math.max(...standing.map((f) => boundOf(f, 1))),
    evidence,
  };
}
