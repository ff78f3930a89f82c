import type { Place } from '../plan/plan-schema';
import { worstVerdict, type Verdict } from '../conformity/decide';
import { evaluateSetting, evaluatedResult } from '../evaluate/evaluate';
import { kindOfSet } from '../evaluate/completeness';
import type { EvaluatedAggregate, EvaluatedResult, EvaluatedSeries, Evaluation } from '../evaluate/evaluation';
import { Absent, DocumentError } from '../faults';
import type { Setting } from '../evaluate/setting';
import { isDetermined, type Undetermined } from '../evaluate/undetermined';
import type { ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { settingOfRun } from '../state/run-case';
import { scopeAt } from '../state/run-scope';
import { grownSetting } from './grown-setting';
import { isDone, setOf } from '../state/progress';
import type { Reading, RunState } from '../state/run-state';

/** What is worked out from a state is worked out once for each of its sets. */
const settings = new WeakMap<RunState, Map<string, Setting>>();
const evaluations = new WeakMap<Setting, Evaluation>();

function remembered<T>(memo: WeakMap<RunState, Map<string, T>>, state: RunState, set: string, work: () => T): T {
  const known = memo.get(state) ?? new Map<string, T>();
  memo.set(state, known);
  if (!known.has(set)) known.set(set, work());
  return known.get(set)!;
}

/** The settings that were read last of a log, by set; the log is told by its list of readings, which grows with it. */
const latest = new WeakMap<
  readonly Reading[],
  Map<string, Pick<RunState, 'sequence'> & { content: unknown[]; setting: Setting }>
>();

/**
 * What the case of a set is made of: along one log no two different cases have the same. Once another set has begun, the sets before
 * it are evidence and change no more.
 */
function contentOf(state: RunState, set: string): unknown[] {
  const { readings, live, steps, conditions, adjusted, items, sets, plan } = state;
  return sets.at(-1)!.id === set
    ? [live, plan, readings.length, live.size, steps.length, conditions.length, adjusted.length, sets.length, [...items].join()]
    : [live];
}

/**
 * The setting of a set as the run stands; after one more reading it is grown from the one before.
 * @example settingIn(run, 'as-found').given.set // 'as-found'
 */
export const settingIn = (state: RunState, set: string): Setting =>
  remembered(settings, state, set, () => {
    const { sequence } = state;
    const known = latest.get(state.readings) ?? new Map<string, never>();
    latest.set(state.readings, known);
    const before = known.get(set);
    const content = contentOf(state, set);
    if (before?.content.length === content.length && content.every((c, i) => c === before.content[i])) return before.setting;
    const grown = before?.sequence === sequence - 1 ? grownSetting(before.setting, state, set) : null;
    const setting = grown ?? settingOfRun(state, set);
    known.set(set, { sequence, content, setting });
    return setting;
  });

const nothing: Evaluation = { complete: false, series: [], adjustments: [], verdict: null };

/**
 * Everything that a set gives as the run stands: what the command-line door answers to `caseFile`. A set of which too little has been
 * read gives nothing.
 * @throws DocumentError where readings lead a formula astray; `faultIn` says it in words
 * @example evaluationIn(run, 'as-found').series.length // 1
 */
export function evaluationIn(state: RunState, set: string): Evaluation {
  const setting = settingIn(state, set);
  const known = evaluations.get(setting);
  if (known) return known;
  const evaluation = evaluatedOrNothing(setting);
  evaluations.set(setting, evaluation);
  return evaluation;
}

function evaluatedOrNothing(setting: Setting): Evaluation {
  try {
    return evaluateSetting(setting);
  } catch (error) {
    if (error instanceof Absent) return nothing;
    throw error;
  }
}

/** Why a set cannot be worked out; null where it can. @example faultIn(run, 'as-found') // null */
export function faultIn(state: RunState, set: string): string | null {
  try {
    evaluationIn(state, set);
    return null;
  } catch (error) {
    if (error instanceof DocumentError) return error.message;
    throw error;
  }
}

/** The evaluation of a set, or nothing where it cannot be worked out. @example evaluationIfAny(run, 'as-found').series.length // 1 */
export const evaluationIfAny = (state: RunState, set: string): Evaluation =>
  faultIn(state, set) === null ? evaluationIn(state, set) : nothing;

/**
 * Results of one place of a set, worked out without the rest: those of its sweep, and those over the sweeps. Null where nothing was
 * read or a formula is led astray.
 * @example pointIn(run, place, [result]).E.verdict // 'pass'
 */
export function pointIn(
  state: RunState,
  place: Place,
  results: readonly ResultDocument[],
): Record<string, EvaluatedResult | Undetermined> | null {
  try {
    const s = settingIn(state, place.set);
    const scope = scopeAt(s, place);
    const { series, instance, point } = scope;
    if (!series || !instance || !point) return null;
    const had = results.flatMap((r): [string, EvaluatedResult | Undetermined][] => {
      const doc = series.doc.results.find((d) => d.symbol === r.symbol);
      const at = r.over?.includes('sweeps') || series.sweeps === null ? { ...scope, sweep: null } : scope;
      const result = doc && evaluatedResult(s, series, doc, at);
      return result ? [[r.symbol, result]] : [];
    });
    return Object.fromEntries(had);
  } catch (error) {
    if (error instanceof Absent || error instanceof DocumentError) return null;
    throw error;
  }
}

/** A result of one place where it is determined. @example determinedIn(run, place, result).estimate // 0.00198 */
export function determinedIn(state: RunState, place: Place, result: ResultDocument): EvaluatedResult | undefined {
  const found = pointIn(state, place, [result])?.[result.symbol];
  return found && isDetermined(found) ? found : undefined;
}

/**
 * Entries of a series in an evaluation: one for each instance that has readings, and what runs over them.
 * @example entriesOf(evaluationIn(run, 'as-found'), 'error').length // 1
 */
export const entriesOf = (evaluation: Evaluation, series: string): EvaluatedSeries[] =>
  evaluation.series.filter((s) => s.id === series);

/**
 * The worst verdict of one series; gates have no part in it.
 * @example verdictOfSeries(series, entriesOf(evaluationIn(run, 'as-found'), 'error')) // 'fail'
 */
export function verdictOfSeries(doc: SeriesDocument, entries: readonly EvaluatedSeries[]): Verdict | null {
  if (doc.gate) return null;
  const gates = new Set([
    ...doc.results.filter((r) => r.gate).map((r) => r.symbol),
    ...doc.aggregates.filter((a) => a.gate).map((a) => a.id),
  ]);
  // What is not limited informs, also where it is not determined.
  const isJudged = (x: Pick<ResultDocument, 'tolerance' | 'tolerances'>) => (x.tolerance ?? x.tolerances) !== undefined;
  const judged = new Set([
    ...doc.results.filter(isJudged).map((r) => r.symbol),
    ...doc.aggregates.filter(isJudged).map((a) => a.id),
  ]);
  const judges = new Set(doc.observe.filter((o) => o.options?.some((x) => x.accept !== undefined)).map((o) => o.id));
  const verdicts = entries.flatMap((e) => [
    ...e.points.flatMap((p) => [
      ...Object.entries(p.results).flatMap(([symbol, r]) =>
        gates.has(symbol) || !judged.has(symbol) || !r.verdict ? [] : [r.verdict],
      ),
      ...Object.entries(p.choices).flatMap(([id, verdict]) => (judges.has(id) ? [verdict] : [])),
    ]),
    ...e.aggregates.flatMap((a) => (gates.has(a.id) || !judged.has(a.id) || !a.verdict ? [] : [a.verdict])),
  ]);
  return worstVerdict(verdicts);
}

/**
 * The set whose readings of a series count as left: the latest as-found or as-left set that has read it; null when none has.
 * @example setAsLeft(run, 'error') // 'as-found'
 */
export function setAsLeft(state: RunState, series: string): string | null {
  const order = state.sets.filter((s) => ['as-found', 'as-left'].includes(kindOfSet(s.id))).map((s) => s.id);
  const read = new Set([...state.live.values()].filter((r) => r.slot.series === series).map((r) => r.slot.set));
  return [...order].reverse().find((set) => read.has(set)) ?? null;
}

/**
 * The set that was found: the first; where a cause that is not the instrument's was ruled out, the one read after that.
 * @example setAsFound(run) // 'as-found'
 */
export function setAsFound(state: RunState): string {
  const { sets, rulings, procedure } = state;
  let stands = sets[0]!.id;
  for (const ruling of rulings) {
    const whose = procedure.ruleOut.find((r) => r.id === ruling.id)?.whose ?? 'instrument';
    const next = sets[sets.findIndex((s) => s.id === stands) + 1]?.id;
    const isReadAgain = next !== undefined && kindOfSet(next) === 'as-found' && isSettled(state, next);
    if (ruling.set !== stands || whose === 'instrument' || !isReadAgain) break;
    stands = next;
  }
  return stands;
}

/** Whether anything was read again after the set that was found: only then there is a pair. @example hasPair(run) // false */
export function hasPair(state: RunState): boolean {
  const found = setAsFound(state);
  return state.procedure.series.some((s) => {
    const left = setAsLeft(state, s.id);
    return left !== null && left !== found && left !== 'as-found';
  });
}

/**
 * Whether everything that a set asks for is read, skipped on purpose, or optional; or the set was ended early.
 * @example isSettled(run, 'as-found') // true
 */
export function isSettled(state: RunState, set: string): boolean {
  if (setOf(state, set)?.ended) return true;
  const optional = new Set(state.procedure.series.filter((s) => s.optional).map((s) => s.id));
  return state.plan.every(
    (item) => item.set !== set || item.type !== 'reading' || optional.has(item.series!) || isDone(state, item),
  );
}

/** The verdict as found; null while something is missing. @example verdictAsFound(run) // 'fail' */
export function verdictAsFound(state: RunState): Verdict | null {
  const found = setAsFound(state);
  return isSettled(state, found) ? evaluationIfAny(state, found).verdict : null;
}

/**
 * The verdict as left: the worst of every series in the set that counts for it; null while something is missing.
 * @example verdictAsLeft(run) // 'fail'
 */
export function verdictAsLeft(state: RunState): Verdict | null {
  if (!state.sets.every((s) => isSettled(state, s.id))) return null;
  return worstVerdict(
    state.procedure.series.flatMap((doc) => {
      const set = setAsLeft(state, doc.id);
      return set === null ? [] : (verdictOfSeries(doc, entriesOf(evaluationIfAny(state, set), doc.id)) ?? []);
    }),
  );
}

/** The value of an aggregate, in words of where it stands. */
export type ShownAggregate = EvaluatedAggregate & { each: string | null };

/** Aggregates of a series in a set. @example aggregatesIn(run, 'as-found', 'error').length // 1 */
export const aggregatesIn = (state: RunState, set: string, series: string): ShownAggregate[] =>
  entriesOf(evaluationIfAny(state, set), series).flatMap((e) => e.aggregates.map((a) => ({ ...a, each: e.each ?? null })));
