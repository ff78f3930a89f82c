import { ifHad } from '../core/faults';
import { decidingTolerance, limitsAt } from '../core/evaluate/results';
import type { Num, ResultDocument } from '../core/procedure/document-schema';
import type { Setting } from '../core/evaluate/setting';
import { caseOf, settingOfRun } from '../core/state/run-case';
import { settingIn } from '../core/run/run-results';
import { numberAt, scopeAt } from '../core/state/run-scope';
import { observedResolution } from '../core/run/reading-rules';
import { plainDecimal } from '../core/quantity/rounding';
import { placedPoint, type RunState, type Slot } from '../core/state/run-state';
import { files } from './bench-files';
import { normalDeviate } from './random';
import type { Truth } from './truths';

type Random = () => number;
/**
 * What is true of something that a reading hangs on: about a value, anywhere within, like the sum of two such, or with a standard
 * deviation. Numbers or formulas of this bench: the budget of the procedure is not read, so a budget that changes does not move them.
 * Many were set to what the budgets said when the benches came to have values of their own.
 */
export type Nature = {
  about?: number | string | undefined;
  within?: number | string | undefined;
  triangle?: number | string | undefined;
  spread?: number | string | undefined;
  /** A vector of this length in any phase: what of it falls along. */ vector?: number | string | undefined;
};
/**
 * What an observation shows: a formula, read where the reading stands. `@E` is the true value of the result E there, `@w` what nature
 * made of w, `~w` how far that is from what it is about. Noise and step are in the observation's unit; the step is what the procedure says.
 */
export type Shown = { is: string; noise?: number; step?: number; file?: keyof typeof files };
export type Bench = {
  /** Temperature of everything that is not told, °C. */ room?: number;
  /** Value, spread and decimals of a condition. */ conditions?: Record<string, [number, number, number]>;
  /** Numbers that steps ask for, or formulas of them, to whole numbers. */ measured?: Record<string, number | string>;
  /** What is true, by series (or `everywhere`: one draw for the run) and name. */ nature?: Record<
    string,
    Record<string, Nature>
  >;
  /** What it is found to hold before it is adjusted, where the record says otherwise. */
  holds?: Record<string, number>;
  /** True values of results that nothing limits. */ free?: Record<string, number>;
  /** What happens to it: to which series (else the first that is judged; one cause may move several), to all points alike or growing along them, and how much of the limit (of a free value: how many times it). */
  spoilt?: string | string[];
  spoiltBy?: 'offset' | 'span';
  spoiltShare?: number;
  series: Record<string, Record<string, Shown>>;
};

const conditions: Record<string, [number, number, number]> = { pressure: [1006, 12, 0], humidity: [48, 8, 0] };
const placeOfReading = ({ repeat: _repeat, observation: _observation, ...place }: Slot) => place;
const seriesOf = (state: RunState, slot: Slot) => state.procedure.series.find((s) => s.id === slot.series)!;

/** How far along its series a point stands, 0 to 1. */
export function along(state: RunState, slot: Slot): number {
  const points = [...new Set(state.plan.filter((i) => i.type === 'reading' && i.series === slot.series).map((i) => i.point))];
  const nominals = points.flatMap((point) => placedPoint(state, { ...slot, point: point! })?.nominal ?? []);
  const nominal = placedPoint(state, slot)?.nominal;
  const [least, greatest] = [Math.min(...nominals), Math.max(...nominals)];
  // By what it stands for, so that the same place come to again is the same; else by its order.
  if (nominal !== undefined && greatest > least) return (nominal - least) / (greatest - least);
  return points.length < 2 ? 0.5 : points.indexOf(slot.point) / (points.length - 1);
}

/** Half of what is allowed between two limits where a reading stands; null where not both sides are limited. */
export function halfOfLimits(state: RunState, slot: Slot, doc: ResultDocument): number | null {
  const bounds = boundsOf(state, slot, doc);
  return bounds?.lower == null || bounds.upper == null ? null : (bounds.upper - bounds.lower) / 2;
}

function boundsOf(state: RunState, slot: Slot, doc: ResultDocument): { lower: number | null; upper: number | null } | null {
  const s = settingIn(state, slot.set);
  const place = placeOfReading(slot);
  const tolerance = ifHad(() => decidingTolerance(s, doc, []));
  if (!tolerance) return null;
  const about = numberAt(s, doc.reference, place) ?? placedPoint(state, slot)?.nominal ?? 0;
  return ifHad(() => limitsAt(s, tolerance, about, about, scopeAt(s, place))) ?? { lower: null, upper: null };
}

/** A value that uses the stated share of what its limits allow here; null where nothing limits it. */
function ofLimits(state: RunState, slot: Slot, doc: ResultDocument, share: number): number | null {
  const bounds = boundsOf(state, slot, doc);
  if (!bounds) return null;
  const { lower, upper } = bounds;
  if (lower !== null && upper !== null) return (lower + upper) / 2 + (share * (upper - lower)) / 2;
  if (upper !== null) return upper * (0.5 + 0.4 * share);
  if (lower !== null) return lower + Math.abs(lower || 1) * (0.5 - 0.4 * share);
  return null;
}

/** Series by which nature is told that is the same for all of a run. */
const everywhere = 'everywhere';

/** What is true of something at a place, and whether one draw of it holds for the whole run. */
function natureOf({ nature }: Bench, { series }: Slot, symbol: string): { is: Nature; isCommon: boolean } {
  const own = nature?.[series]?.[symbol];
  const common = nature?.[everywhere]?.[symbol];
  if (!own && !common) throw new Error(`The bench names ${symbol} in ${series}, and does not tell what it is.`);
  return own ? { is: own, isCommon: false } : { is: common!, isCommon: true };
}

const numOf = (told: number | string | undefined): Num | undefined => (typeof told === 'string' ? { is: told } : told);

/** The setting of a run as it will be when this observation shows a value: what depends on it is then known. */
function settingWith(state: RunState, slot: Slot, value: number): Setting {
  const given = caseOf(state, slot.set);
  const { set: _set, repeat: _repeat, observation, ...place } = slot;
  const row = { ...place, conditions: {}, steps: {}, items: {}, readings: [{ [observation]: String(value) }] };
  return settingOfRun(state, slot.set, { ...given, observations: [...given.observations, row] });
}

/** A number where a reading stands: as it is known, else as it will be with about what is going to be shown. */
function numberHere(state: RunState, slot: Slot, n: Num | undefined, about?: () => Setting): number {
  const known = numberAt(settingIn(state, slot.set), n, placeOfReading(slot));
  return known ?? (about && n !== undefined ? numberAt(about(), n, placeOfReading(slot)) : undefined) ?? 0;
}

/** How far something is from what it is about, drawn as its nature says. */
function drawn(
  state: RunState,
  slot: Slot,
  { within, triangle, spread, vector }: Nature,
  random: Random,
  about?: () => Setting,
): number {
  const here = (told: number | string | undefined) => numberHere(state, slot, numOf(told), about);
  if (within !== undefined) return here(within) * (2 * random() - 1);
  if (triangle !== undefined) return here(triangle) * (random() + random() - 1);
  if (vector !== undefined) return here(vector) * Math.sin(2 * Math.PI * random());
  return spread === undefined ? 0 : here(spread) * normalDeviate(random);
}

/** What else is so at a bench. */
export type BenchOptions = {
  /** A source for each thing that is drawn, by its name, so that it is the same whatever is drawn before it; else one for all. */
  drawFor?: (key: string) => Random;
  /** What is to be added to the true value of a result where a reading stands. */
  more?: (state: RunState, slot: Slot, symbol: string) => number;
};

/** An instrument at a bench, and what is true of a result, which nobody there knows. */
export type BenchTruth = Truth & { trueValue: (state: RunState, slot: Slot, symbol: string) => number };

/**
 * An instrument of which is told what each observation shows, given the true values of its results.
 * @param isHidden whether standards and influences are off by what their budgets allow; else all are as they are assumed to be
 */
export function benchTruth(
  bench: Bench,
  isHidden = false,
  { drawFor, more = () => 0 }: BenchOptions = {},
): (random: Random) => BenchTruth {
  return (random) => {
    const away = new Map<string, number>();
    /** What something is about where a reading stands. */
    const assumed = (state: RunState, slot: Slot, symbol: string, about?: () => Setting): number =>
      numberHere(state, slot, numOf(natureOf(bench, slot, symbol).is.about), about);
    const awayOf = (state: RunState, slot: Slot, symbol: string, about?: () => Setting): number => {
      if (!isHidden) return 0;
      const { is, isCommon } = natureOf(bench, slot, symbol);
      // The same place come to again is the same.
      const at = placedPoint(state, slot)?.nominal ?? slot.point;
      const key = isCommon ? symbol : `${slot.series}|${slot.each ?? ''}|${at}|${symbol}`;
      if (!away.has(key)) away.set(key, drawn(state, slot, is, drawFor?.(key) ?? random, about));
      return away.get(key)!;
    };
    let [zero, slope] = [0.22 * normalDeviate(random), 0.2 * normalDeviate(random)];
    const own = new Map<string, number>();
    let isSpoilt = false;
    const ownOf = (key: string) => {
      if (!own.has(key)) own.set(key, 0.08 * normalDeviate(drawFor?.(`own ${key}`) ?? random));
      return own.get(key)!;
    };
    const isSpoiltIn = (series: string, first?: string) => isSpoilt && [bench.spoilt ?? first].flat().includes(series);
    const shareAt = (state: RunState, slot: Slot, symbol: string): number => {
      const first = state.procedure.series.find((s) => s.results.some((r) => r.tolerance || r.tolerances))?.id;
      const growth = bench.spoiltBy === 'span' ? along(state, slot) : 1;
      const base = isSpoiltIn(slot.series, first)
        ? (bench.spoiltShare ?? 1.3) * growth
        : zero + slope * (2 * along(state, slot) - 1);
      return Math.max(isSpoilt ? -2 : -0.75, Math.min(isSpoilt ? 2 : 0.75, base + ownOf(`${slot.each ?? ''}|${symbol}`)));
    };
    const trueValue = (state: RunState, slot: Slot, symbol: string, about?: () => Setting): number => {
      const doc = seriesOf(state, slot).results.find((r) => r.symbol === symbol);
      if (!doc) return assumed(state, slot, symbol, about) + awayOf(state, slot, symbol, about);
      const free = bench.free?.[symbol];
      if (free !== undefined) return free * (1 + 0.02 * ownOf(symbol)) * (isSpoiltIn(slot.series) ? (bench.spoiltShare ?? 1) : 1);
      const value = ofLimits(state, slot, doc, shareAt(state, slot, symbol));
      if (value === null) throw new Error(`Nothing limits ${symbol} of ${slot.series}: tell its true value.`);
      return value + more(state, slot, symbol);
    };
    return {
      trueValue,
      shows: (state, slot, r) => {
        const observation = seriesOf(state, slot).observe.find((o) => o.id === slot.observation)!;
        if (observation.type === 'choice') return { text: observation.options!.find((o) => o.accept !== false)!.id };
        const shown = bench.series[slot.series]?.[slot.observation];
        if (!shown) throw new Error(`The bench does not tell what ${slot.series}.${slot.observation} shows.`);
        const s = settingIn(state, slot.set);
        const place = placeOfReading(slot);
        const told = (value: (symbol: string) => number, away: (symbol: string) => number): string =>
          shown.is
            .replace(/@([A-Za-z]\w*)/g, (_, symbol: string) => `(${value(symbol)})`)
            .replace(/~([A-Za-z]\w*)/g, (_, symbol: string) => `(${away(symbol)})`);
        /** What it will show, but for what hangs on that itself. */
        let around: Setting | null = null;
        const about = (): Setting => {
          const isResult = (symbol: string) => seriesOf(state, slot).results.some((r) => r.symbol === symbol);
          const roughly = told(
            (symbol) => (isResult(symbol) ? trueValue(state, slot, symbol) : assumed(state, slot, symbol)),
            () => 0,
          );
          return (around ??= settingWith(state, slot, numberAt(s, { is: roughly }, place) ?? 0));
        };
        const is = told(
          (symbol) => trueValue(state, slot, symbol, about),
          (symbol) => awayOf(state, slot, symbol, about),
        );
        const value = numberAt(s, { is }, place);
        if (value === undefined) throw new Error(`What ${slot.series}.${slot.observation} shows cannot be told: ${is}`);
        if (shown.file) return { text: files[shown.file](value, r) };
        const step =
          shown.step ??
          numberAt(s, observation.resolution, place) ??
          observedResolution(state, slot, observation) ??
          state.instrument.resolution;
        return { value: value + (shown.noise ?? 0.3 * step) * normalDeviate(r), step };
      },
      condition: (id, r) => {
        const [value, spread, decimals] = bench.conditions?.[id] ?? conditions[id] ?? [bench.room ?? 20.3, 0.4, 1];
        return (value + spread * (r() - 0.5)).toFixed(decimals);
      },
      measured: (id, state, place) => {
        const is = bench.measured?.[id] ?? 0;
        return typeof is === 'number' ? is : Number((numberAt(settingIn(state, place.set), { is }, place) ?? 0).toPrecision(4));
      },
      stored: (id, proposed) => ({
        ...(bench.holds?.[id] === undefined ? {} : { before: plainDecimal(bench.holds[id]) }),
        after: plainDecimal(Number((proposed ?? 0).toPrecision(9))),
      }),
      adjusted: () => {
        [zero, slope, isSpoilt] = [0.05, 0.05, false];
      },
      ages: (r) => {
        zero += 0.1 * normalDeviate(r);
        slope += 0.06 * normalDeviate(r);
      },
      spoil: () => {
        isSpoilt = true;
      },
    };
  };
}
