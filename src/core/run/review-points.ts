import { doneAt, type Logged } from '../state/logged';
import { kindOfSet } from '../evaluate/completeness';
import { withMinus } from './shown-value';
import { isMove } from '../document/declarations';
import { stepSaid } from '../steps/registry';
import { proposedFromHeld } from './adjustment-advice';
import { scatterOf } from './diagnosis';
import { oldConditions } from './cautions';
import { failureSentence, failuresIn } from './failures';
import { judgedPoints } from './judged-points';
import { stepOf } from './next-step';
import { limitedWords } from './limiting';
import { placeTitle, seriesOf, setTitle } from './place-words';
import { readLaterWords } from './read-later';
import { rangeNotCovered } from './range-covered';
import { rulingWords } from './ruling-words';
import { setAsFound } from './run-results';
import { placeOf, placeOfKey } from '../state/place-keys';
import type { RunState } from '../state/run-state';

/** Reasons that were given on the way and that whoever reads the results must know. @example reasonsGiven(run) // [] */
export function reasonsGiven(state: RunState): string[] {
  const steps = state.steps.flatMap((record) => {
    if (record.reason === null) return [];
    const item = state.plan.find((i) => i.type === 'step' && i.id === record.item.id && i.set === record.item.set);
    const step = item?.type === 'step' ? stepOf(state, item) : undefined;
    return step ? [`${step.title}: ${stepSaid(step, record)}`] : [];
  });
  const waits = [...state.waits].flatMap(([key, wait]) => {
    if (!wait.ended?.reason) return [];
    const item = state.plan[state.index.get(key) ?? -1];
    const title = item?.type === 'step' ? stepOf(state, item)?.title : undefined;
    const at = item ? placeTitle(state, placeOf(item)) : '';
    return [`${title ?? 'A wait'}${at ? ` at ${at}` : ''} was ended early: ${wait.ended.reason}`];
  });
  const conditions = [...new Set(state.conditions.flatMap((c) => (c.reason ? [`Conditions: ${c.reason}`] : [])))];
  const gates = [...state.gates].flatMap(([key, gate]) => {
    if (gate.passes || !gate.reason) return [];
    const item = state.plan[state.index.get(key) ?? -1];
    const series = item && 'series' in item ? seriesOf(state, item.series)?.title : undefined;
    return [`${series ?? 'A condition of the procedure'} was not met; gone on because: ${gate.reason}`];
  });
  const scattered = state.decisions.flatMap((d) => {
    const scatter = d.reason ? scatterOf(state, d.set) : undefined;
    return scatter ? [`${setTitle(d.set)}, scatter at ${scatter} far above the others; gone on because: ${d.reason}`] : [];
  });
  const kept = state.readings.flatMap((r) =>
    r.reason && !r.struck ? [`${placeTitle(state, r.slot)}, ${r.text} kept: ${r.reason}`] : [],
  );
  return [...new Set([...steps, ...waits, ...conditions, ...gates, ...scattered, ...kept])];
}

/**
 * What whoever reviews a run should look at before signing, each in a sentence; what is as it should be is not listed.
 * @example reviewPoints(run, events)[0] // 'As found. Outside: Error, 22.8 mm: +5.02 µm, allowed ±4 µm, and 1 more.'
 */
export function reviewPoints(state: RunState, events: readonly Logged[]): string[] {
  const set = (id: string) => setTitle(id).toLowerCase();
  const struck = state.readings.flatMap((r) =>
    r.struck
      ? [
          `${placeTitle(state, r.slot) || seriesOf(state, r.slot.series)?.title}, ${set(r.slot.set)}: ${r.text} struck out, ${r.struck.reason}`,
        ]
      : [],
  );
  const skipped = [...state.skipped].flatMap(([key, { reason }]) => {
    const place = placeOfKey(key);
    const title = placeTitle(state, place) || seriesOf(state, place.series)?.title;
    return reason ? [`${title}, ${set(place.set)}: skipped, ${reason}`] : [];
  });
  const ended = state.sets.flatMap((s) => (s.ended ? [`${setTitle(s.id)} ended early: ${s.ended.reason}`] : []));
  const givenUp = state.abandoned.map(
    (a) => `${setTitle(a.set)}: decided to adjust, and given up before anything was changed: ${a.reason}`,
  );
  const against = state.decisions.flatMap((d) =>
    d.adjustment === d.proposed ? [] : [`${setTitle(d.set)}: decided against the advice, ${d.reason}`],
  );
  const old = state.sets.flatMap(({ id }) => {
    const last = state.readings.filter((r) => r.slot.set === id).at(-1);
    return last
      ? oldConditions(state, id, last.at).map((c) => `${c.title}, ${set(id)}: read ${c.minutes} min before the last reading`)
      : [];
  });
  const corrected = state.corrections.map((c) => `It corrects certificate ${c.certificate}: ${c.reason} (${c.person})`);
  const amended = state.amended.map((a) => `${a.title}: ${a.after}, before ${a.before || 'nothing'}: ${a.reason}`);
  const doubtful = events.flatMap((e) =>
    e.clock ? [`Entry ${e.sequence}, ${doneAt(e).slice(0, 10)}: the clock is in doubt`] : [],
  );
  // Instances of a series may give one sentence several times.
  return [
    ...new Set([
      ...corrected,
      ...amended,
      ...outcomePoints(state),
      ...(state.limited ? [`Limited to ${limitedWords(state, state.limited.to)}. Agreed: ${state.limited.agreed}`] : []),
      ...timePoints(state, events),
      ...rulingWords(state),
      ...reasonsGiven(state),
      ...struck,
      ...skipped,
      ...readLaterWords(state),
      ...ended,
      ...givenUp,
      ...against,
      ...old,
      ...doubtful,
    ]),
  ];
}

/** What was found, done and proposed, where it is out of the ordinary. */
function outcomePoints(state: RunState): string[] {
  const last = state.sets.findLast((s) => ['as-found', 'as-left'].includes(kindOfSet(s.id)))!;
  const found = failuresIn(state, setAsFound(state));
  const first = failureSentence(found);
  const left = last.id !== setAsFound(state) ? failureSentence(failuresIn(state, last.id)) : '';
  const uncertain = tooUncertainIn(state, last.id);
  const adjusted = state.adjusted.flatMap((a) => {
    const doc = state.procedure.adjustments.find((x) => x.id === a.id);
    return (doc?.stored ?? []).flatMap((s) => {
      const stored = a.stored[s.id];
      if (!stored) return [];
      const { [s.id]: proposed } = proposedFromHeld(state, a.set, a.id, a.each ?? null, { [s.id]: stored.before ?? '' });
      const differs = proposed !== undefined && Number(proposed) !== asNumber(stored.after);
      return [
        ...(differs ? [`${doc!.title}, ${s.title}: set to ${withMinus(stored.after)}, proposed was ${withMinus(proposed)}`] : []),
        ...(stored.readBack === undefined && !isMove(doc!, s.id) ? [`${doc!.title}, ${s.title}: was not read back`] : []),
      ];
    });
  });
  const date = state.interval && state.interval.next !== state.interval.proposed;
  return [
    ...(first ? [`As found. ${first}`] : []),
    ...(left ? [`${setTitle(last.id)}. ${left}`] : []),
    ...uncertain,
    ...rangeNotCovered(state, setAsFound(state)),
    ...adjusted,
    ...(date ? [`Next date ${state.interval!.next}, proposed was ${state.interval!.proposed}: ${state.interval!.reason}`] : []),
    ...identicalRepeats(state),
  ];
}

const asNumber = (text: string): number => Number(text.replace(',', '.').replace('−', '-'));

/**
 * Results whose uncertainty is more than the limit they are held against: whatever they say, they decide little.
 * @example tooUncertainIn(run, 'as-found') // []
 */
export function tooUncertainIn(state: RunState, set: string): string[] {
  const wide = state.procedure.series.flatMap((series) =>
    series.gate
      ? []
      : judgedPoints(
          state,
          set,
          series,
          series.results.filter((r) => !r.gate).map((r) => r.symbol),
        ).filter(({ result: { limits, expandedUncertainty } }) => {
          const ends = [limits?.lower, limits?.upper].flatMap((l) => (l === undefined || l === 0 ? [] : [Math.abs(l)]));
          return ends.length > 0 && expandedUncertainty > Math.min(...ends);
        }),
  );
  return wide.length === 0
    ? []
    : [
        `U is more than the limit at ${wide[0]!.title || 'a point'}${wide.length > 1 ? ` and ${wide.length - 1} more` : ''}: the verdict there says little`,
      ];
}

/** Repeats that are all alike over many points where the display is finer than their scatter elsewhere: copied, or read too fast. */
function identicalRepeats(state: RunState): string[] {
  const cells = new Map<string, string[]>();
  for (const r of state.live.values()) {
    if (typeof r.value !== 'number') continue;
    const { repeat: _repeat, ...place } = r.slot;
    const key = JSON.stringify(place);
    cells.set(key, [...(cells.get(key) ?? []), r.text]);
  }
  const several = [...cells.values()].filter((texts) => texts.length >= 3);
  const alike = several.filter((texts) => new Set(texts).size === 1);
  return several.length >= fewestCells && alike.length === several.length
    ? [`All repeats are identical at ${alike.length} places: were they read, or copied?`]
    : [];
}

/** Fewer places with identical repeats say nothing. */
const fewestCells = 4;

/** Whether the work took the time that it takes, and what rests on the clock of a device that was out of reach. */
function timePoints(state: RunState, events: readonly Logged[]): string[] {
  const { leastMinutes } = state.procedure;
  const readings = [...state.live.values()];
  const from = Date.parse(state.startedAt);
  const to = Math.max(from, ...readings.map((r) => Date.parse(r.at)));
  const minutes = Math.round((to - from) / 60_000);
  const hurried =
    leastMinutes !== undefined && readings.length > 0 && minutes < leastMinutes
      ? [`Took ${minutes} min; the procedure takes at least ${leastMinutes}`]
      : [];
  const unsettled = state.procedure.series.flatMap((series) =>
    series.observe.flatMap((o) => {
      if (!o.settleSeconds) return [];
      const own = readings.filter((r) => r.slot.series === series.id && r.slot.observation === o.id);
      const quick = own.filter((r, i) => {
        const before = own[i - 1];
        if (before === undefined || before.slot.set !== r.slot.set) return false;
        // Of short times those of the point only; longer ones space the repeats too.
        const counts = before.slot.point !== r.slot.point || o.settleSeconds! >= spacingSeconds;
        return counts && Date.parse(r.at) - Date.parse(before.at) < 1000 * o.settleSeconds! * settledShare;
      });
      return quick.length
        ? [`${series.title}: ${quick.length} readings before ${o.settleSeconds} s had gone by at their point`]
        : [];
    }),
  );
  const alone = events.flatMap((e) => {
    const late = (Date.parse(e.at) - Date.parse(doneAt(e))) / 60_000;
    const hangs = ['wait-begun', 'wait-ended', 'interval-decided'].includes(e.act.type);
    return hangs && late > 1
      ? [`Entry ${e.sequence}: its time rests on a device that had been out of reach for ${Math.round(late)} min`]
      : [];
  });
  return [...hurried, ...unsettled, ...alone];
}

/** A little hurry is no haste. */
const settledShare = 0.8;
/** From so many seconds on, what is to stand is to stand before each repeat. */
const spacingSeconds = 30;

/** Whoever took readings, adjusted, or finished a run: none of them reviews it. @example tookPart(run).size // 1 */
export const tookPart = (state: RunState): ReadonlySet<string> =>
  new Set([
    ...state.readings.map((r) => r.person),
    ...state.adjusted.map((a) => a.person),
    ...state.corrections.map((c) => c.person),
    ...(state.completed ? [state.completed.person] : []),
  ]);
