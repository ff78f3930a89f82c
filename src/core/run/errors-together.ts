import { diagnoseSchema, type Cause, type DiagnoseQuestion } from '../diagnose/diagnose-schema';
import type { Evaluation } from '../evaluate/evaluation';
import { cellsIn } from '../evaluate/observed';
import { noScope, pointsOf } from '../evaluate/setting';
import type { ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { placeKey } from '../state/place-keys';
import type { RunState, Scatter } from '../state/run-state';
import { mean, pooledStandardDeviation } from '../statistics/moments';
import { isSameKind } from '../quantity/unit';
import { unitIn } from '../steps/step-context';
import { isJudged, judgedPoints, ofStandards, type JudgedPoint } from './judged-points';
import { pointUnit, shownUnit } from './place-words';
import { evaluationIfAny, settingIn } from './run-results';

/** Errors of one result that are looked at together: of all its instances, or of one of them. */
export type ErrorsTogether = {
  series: SeriesDocument;
  result: ResultDocument;
  /** The instance, where only one of several is looked at. */ each: string | null;
  /** Judged values, in the order of the document. */ all: JudgedPoint[];
  /** Those that are asked about: of very many some along the range, and the one that uses most of its limits. */ points: JudgedPoint[];
  /** Of each reading of the question, in its order: the judged value that it belongs to. */ owners: number[];
  unit: string;
  shownIn: string;
  question: DiagnoseQuestion;
  /** How its repeats scatter about their own means; null where none were read. */ scatter: Scatter | null;
};

/** What repeats scatter in, told alike in every run. @example scatterKey('error', 'E', null) // 'error|E|' */
export const scatterKey = (series: string, symbol: string, each: string | null): string => `${series}|${symbol}|${each ?? ''}`;

/**
 * How the repeats of a set scatter, of each result and instance: what a later run of the same instrument, or one like it, is held against.
 * @example scatterIn(run, 'as-found')['error|E|'].dof >= 10 // true
 */
export const scatterIn = (state: RunState, set: string): Record<string, Scatter> =>
  Object.fromEntries(
    errorsTogether(state, set).flatMap((g) => (g.scatter ? [[scatterKey(g.series.id, g.result.symbol, g.each), g.scatter]] : [])),
  );

/** Scatters of several runs as one, of each result and instance. @example pooledScatter([{ a: { standardDeviation: 3, dof: 2 } }, { a: { standardDeviation: 4, dof: 2 } }]).a.dof // 4 */
export function pooledScatter(runs: readonly Readonly<Record<string, Scatter>>[]): Record<string, Scatter> {
  const pooled: Record<string, Scatter> = {};
  for (const [key, { standardDeviation: s, dof }] of runs.flatMap((r) => Object.entries(r))) {
    const before = pooled[key] ?? { standardDeviation: 0, dof: 0 };
    const all = before.dof + dof;
    const variance = (before.dof * before.standardDeviation ** 2 + dof * s ** 2) / all;
    pooled[key] = { standardDeviation: Math.sqrt(variance), dof: all };
  }
  return pooled;
}

/** More readings than these are looked at by their means. */
const mostReadings = 60;
/** Of more values than these some along the range are looked at. */
const mostPoints = 60;
/** So many degrees of freedom of repeats tell their scatter well enough to be taken as known. */
const enoughDof = 6;

/**
 * Points are mostly read once through, from one end to the other: then a drift and a slope look alike, and an instrument that grows along
 * its range is commoner than one that moves while it is read. A document that knows better says so.
 */
const usualDrift = 0.01;

/** Half of what is allowed between two limits, and the middle of it; null where only one side is limited. */
function band({ result: { limits } }: JudgedPoint): { centre: number; half: number } | null {
  if (limits?.lower === undefined || limits.upper === undefined) return null;
  const half = (limits.upper - limits.lower) / 2;
  return half > 0 ? { centre: (limits.upper + limits.lower) / 2, half } : null;
}

/**
 * The errors of a set as they are looked at: each judged result with limits on both sides, as a whole and instance by instance.
 * @example errorsTogether(run, 'as-found')[0].all.length // 10
 */
export function errorsTogether(state: RunState, set: string): ErrorsTogether[] {
  const evaluation = evaluationIfAny(state, set);
  const made = known.get(evaluation) ?? allTogether(state, set);
  if (evaluation.series.length > 0) known.set(evaluation, made);
  return made;
}
const known = new WeakMap<Evaluation, ErrorsTogether[]>();

function allTogether(state: RunState, set: string): ErrorsTogether[] {
  const minutes = minutesOf(state, set);
  return state.procedure.series.flatMap((series) =>
    series.gate
      ? []
      : series.results.flatMap((result) => {
          if (result.gate || !isJudged(result)) return [];
          const points = judgedPoints(state, set, series, [result.symbol]).filter((p) => band(p) !== null);
          const instances = [...new Set(points.map((p) => p.place.each))];
          const halves = new Set(points.map((p) => band(p)!.half.toPrecision(9)));
          const alike = points.length > 0 && (instances.length < 2 || halves.size === 1);
          const parts: [string | null, JudgedPoint[]][] = [
            ...(alike ? [[null, points] as [null, JudgedPoint[]]] : []),
            ...(instances.length > 1
              ? instances.map((e): [string | null, JudgedPoint[]] => [e ?? null, points.filter((p) => p.place.each === e)])
              : []),
          ];
          return parts.map(([each, of]) => together(state, set, series, result, each, of, minutes));
        }),
  );
}

/** When each repeat of a cell was read, in minutes from the first reading of the set. */
function minutesOf(state: RunState, set: string): Map<string, number[]> {
  const of = new Map<string, Map<number, number>>();
  let begun = Infinity;
  for (const { slot, at } of state.live.values()) {
    if (slot.set !== set) continue;
    const { repeat, observation: _observation, ...place } = slot;
    const key = placeKey(place);
    const time = Date.parse(at) / 60_000;
    begun = Math.min(begun, time);
    const cell = of.get(key) ?? new Map<number, number>();
    of.set(key, cell.set(repeat, Math.max(cell.get(repeat) ?? 0, time)));
  }
  return new Map([...of].map(([key, cell]) => [key, [...cell.values()].sort((a, b) => a - b).map((t) => t - begun)]));
}

function together(
  state: RunState,
  set: string,
  series: SeriesDocument,
  result: ResultDocument,
  each: string | null,
  all: JudgedPoint[],
  minutes: ReadonlyMap<string, number[]>,
): ErrorsTogether {
  const points = someOf(all);
  const place = points[0]?.place ?? { set, series: series.id };
  const unit = unitIn(state, result.unit, place);
  const bands = points.map((p) => band(p)!);
  const standards = ofStandards(state, result);
  const ofReadings = new Set((result.quantities ?? []).flatMap((q) => (q.distribution.type === 'readings' ? [q.symbol] : [])));
  const part = (p: JudgedPoint, symbols: ReadonlySet<string>) =>
    Math.hypot(0, ...p.result.contributions.filter((c) => symbols.has(c.symbol)).map((c) => c.contribution));
  // Where every point has an item of its own, what one is off by says nothing of the others.
  const isOneStandard = Object.values(series.uses).every((u) => !u.item && !u.pick && !u.stack);
  const shared = isOneStandard ? Math.min(...points.map((p) => part(p, standards))) : 0;
  const cells = points.map((p) => cellOf(state, set, series, p, minutes));
  const readings = points.map((p, i) => readingsOf(p, ofReadings, bands[i]!.centre, cells[i]!));
  const pooled = pooledStandardDeviation(readings.map((r) => r.map((x) => x.error)).filter((r) => r.length > 1));
  const resolution = Math.max(0, ...points.map((p) => p.resolution ?? 0));
  const least = Math.max(resolution / 40, Math.min(...bands.map((b) => b.half)) / 3000);
  // What it scattered by before tells whether it scatters more than it should now; else its own repeats are all there is to go by.
  const former = state.formerScatter[scatterKey(series.id, result.symbol, each)];
  const isOwn = !(former && former.dof >= enoughDof);
  const known = isOwn ? pooled : former;
  const isKnown = known !== null && known.dof >= enoughDof;
  const noise = isKnown ? Math.max(least, Math.sqrt(Math.max(0, known.standardDeviation ** 2 - resolution ** 2 / 12))) : null;
  const isMany = readings.reduce((sum, r) => sum + r.length, 0) > mostReadings;
  const asked = isMany ? readings.map(byMeans) : readings;
  const fewest = Math.min(...readings.map((r) => Math.max(1, r.length)));
  const isComparable = isSameKind(pointUnit(state, place), unit);
  const reference = (p: JudgedPoint) => (isComparable ? comparable(result, p) : null);
  const question = diagnoseSchema.parse({
    unit,
    resolution: isMany ? null : resolution || null,
    noise: isMany && noise !== null ? noise / Math.sqrt(fewest) : noise,
    shared,
    priors: expected(state.procedure.looks?.priors ?? {}),
    points: points.map((p, i) => ({
      id: String(i),
      nominal: p.nominal ?? 0,
      reference: reference(p) ?? 0,
      standardUncertainty: Math.sqrt(Math.max(0, p.result.standardUncertainty ** 2 - shared ** 2 - part(p, ofReadings) ** 2)),
      limits: { lower: -bands[i]!.half, upper: bands[i]!.half },
      readings: asked[i],
    })),
  });
  const out = impossible(
    series,
    points,
    isKnown && isOwn,
    points.every((p) => reference(p) !== null),
  );
  return {
    series,
    result,
    each,
    all,
    points,
    owners: asked.flatMap((r, i) => r.map(() => i)),
    unit,
    shownIn: shownUnit(state, result, place),
    scatter: pooled && pooled.dof > 0 ? { standardDeviation: pooled.standardDeviation, dof: pooled.dof } : null,
    question: { ...question, priors: { ...question.priors, ...Object.fromEntries(out.map((c) => [c, 0])) } },
  };
}

/** Of very many values some along the range, evenly, with the one that uses most of its limits. */
function someOf(all: JudgedPoint[]): JudgedPoint[] {
  if (all.length <= mostPoints) return all;
  const use = (p: JudgedPoint) => Math.abs(p.value - band(p)!.centre) / band(p)!.half;
  const worst = all.reduce((w, p) => (use(p) > use(w) ? p : w));
  const kept = new Set(
    Array.from({ length: mostPoints - 1 }, (_, i) => all[Math.round((i * (all.length - 1)) / (mostPoints - 2))]!),
  );
  return all.filter((p) => p === worst || kept.has(p));
}

type Cell = { minutes: number[]; directions: ('up' | 'down')[] };

/** When and in which direction each repeat of a judged value was read. */
function cellOf(
  state: RunState,
  set: string,
  series: SeriesDocument,
  { place }: JudgedPoint,
  minutes: ReadonlyMap<string, number[]>,
): Cell {
  const sweeps = place.sweep ? [place.sweep] : (series.sweeps?.map((w) => w.id) ?? [undefined]);
  const s = settingIn(state, set);
  const read = s.series.get(series.id);
  const instance = read?.instances.find((i) => i.id === (place.each ?? null));
  const found: Cell = { minutes: [], directions: [] };
  if (!read || !instance) return found;
  for (const sweep of sweeps) {
    const scope = { ...noScope(set, []), series: read, instance, sweep: sweep ?? null };
    const cells = cellsIn(s, scope, (x, i) => pointsOf(s, x, i)).filter((c) => c.point.id === place.point);
    const count = cells.reduce((sum, c) => sum + c.readings.length, 0);
    const times = minutes.get(placeKey({ ...place, sweep })) ?? [];
    const isBack = series.sweeps?.find((w) => w.id === sweep)?.backwards === true;
    for (let i = 0; i < count; i++) {
      found.directions.push(isBack ? 'down' : 'up');
      if (times[i] !== undefined) found.minutes.push(times[i]!);
    }
  }
  return found;
}

/** What a document expects, and what is usual of the rest as far as there is room for it. */
function expected(told: Partial<Record<Cause, number>>): Partial<Record<Cause, number>> {
  const room = 1 - Object.values(told).reduce((sum, p) => sum + p, 0);
  return { drift: Math.max(0, Math.min(usualDrift, room)), ...told };
}

type AskedReading = DiagnoseQuestion['points'][number]['readings'][number];

/** The error of each repeat about the result; one where its repeats are not told. */
function readingsOf(p: JudgedPoint, ofReadings: ReadonlySet<string>, centre: number, cell: Cell): AskedReading[] {
  const error = p.value - centre;
  const isTold = p.repeats.length > 1 && p.repeats.length === cell.directions.length;
  if (!isTold) {
    const last = cell.minutes.at(-1);
    const direction = new Set(cell.directions).size === 1 ? cell.directions[0] : undefined;
    return [{ error, ...(direction ? { direction } : {}), ...(last === undefined ? {} : { minute: last }) }];
  }
  const sensitivity = p.result.contributions.find((c) => ofReadings.has(c.symbol))?.sensitivity ?? 1;
  const middle = mean(p.repeats);
  return p.repeats.map((r, i) => ({
    error: error + sensitivity * (r - middle),
    direction: cell.directions[i]!,
    ...(cell.minutes.length === p.repeats.length ? { minute: cell.minutes[i]! } : {}),
  }));
}

/** Readings by their means: one in each direction. */
function byMeans(readings: AskedReading[]): AskedReading[] {
  return (['up', 'down'] as const).flatMap((direction) => {
    const here = readings.filter((r) => (r.direction ?? 'up') === direction);
    if (here.length === 0) return [];
    const minutes = here.flatMap((r) => r.minute ?? []);
    return [
      {
        error: mean(here.map((r) => r.error)),
        direction,
        ...(minutes.length === here.length ? { minute: mean(minutes) } : {}),
      },
    ];
  });
}

/** The reference of a judged value in the unit of its error; null where it is shown in another. */
function comparable(result: ResultDocument, p: JudgedPoint): number | null {
  const { reference } = result;
  const isOther = typeof reference === 'object' && reference.unit !== undefined && reference.unit !== result.unit;
  return reference === undefined || isOther ? null : (p.result.reference ?? null);
}

/** Causes that these errors cannot have, whatever they look like. */
function impossible(
  series: SeriesDocument,
  points: readonly JudgedPoint[],
  isScatterTheirOwn: boolean,
  isComparable: boolean,
): Cause[] {
  const shapes: Cause[] = ['span', 'offset-and-span', 'curvature', 'hysteresis'];
  const hasRange = !series.separate && points.every((p) => p.nominal !== undefined);
  const exchangeable = Object.values(series.uses).some((u) => u.item ?? u.pick ?? u.stack);
  return [
    // What the errors were reckoned from is the certificate's value: the tool sees to that.
    'nominal-for-certified',
    ...(hasRange ? [] : shapes),
    ...(series.separate ? (['odd-point', 'not-settled'] as Cause[]) : []),
    ...(isScatterTheirOwn ? (['scatter'] as Cause[]) : []),
    ...(exchangeable && isComparable ? [] : (['exchanged'] as Cause[])),
  ];
}
