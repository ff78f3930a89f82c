import { doneAt } from '../log/acts';
import type { RecordedEvent } from '../log/event-schema';
import { stepSaid } from '../steps/registry';
import { diagnose } from './diagnosis';
import { oldConditions } from './cautions';
import { stepOf } from './next-step';
import { placeTitle, seriesOf, setTitle } from './place-words';
import { readLaterWords } from './read-later';
import { placeOfKey, type RunState } from './run-state';

/** Reasons that were given on the way and that whoever reads the results must know. */
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
    return [`${title ?? 'A wait'} was ended early: ${wait.ended.reason}`];
  });
  const conditions = [...new Set(state.conditions.flatMap((c) => (c.reason ? [`Conditions: ${c.reason}`] : [])))];
  const gates = [...state.gates].flatMap(([key, gate]) => {
    if (gate.passes || !gate.reason) return [];
    const item = state.plan[state.index.get(key) ?? -1];
    const series = item && 'series' in item ? seriesOf(state, item.series)?.title : undefined;
    return [`${series ?? 'A condition of the procedure'} was not met; gone on because: ${gate.reason}`];
  });
  const scattered = state.decisions.flatMap((d) => {
    const { scatter } = d.reason ? diagnose(state, d.set) : {};
    return scatter ? [`${setTitle(d.set)}, scatter at ${scatter} far above the others; gone on because: ${d.reason}`] : [];
  });
  const kept = state.readings.flatMap((r) =>
    r.reason && !r.struck ? [`${placeTitle(state, r.slot)}, ${r.text} kept: ${r.reason}`] : [],
  );
  return [...steps, ...waits, ...conditions, ...gates, ...scattered, ...kept];
}

/** What whoever reviews a run should look at before signing, each in a sentence; what is as it should be is not listed. */
export function reviewPoints(state: RunState, events: readonly RecordedEvent[]): string[] {
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
  const against = state.decisions.flatMap((d) =>
    d.adjustment === d.proposed ? [] : [`${setTitle(d.set)}: decided against the advice, ${d.reason}`],
  );
  const old = state.sets.flatMap(({ id }) => {
    const last = state.readings.filter((r) => r.slot.set === id).at(-1);
    return last
      ? oldConditions(state, id, last.at).map((c) => `${c.title}, ${set(id)}: read ${c.minutes} min before the last reading`)
      : [];
  });
  const doubtful = events.flatMap((e) =>
    e.clock ? [`Entry ${e.sequence}, ${doneAt(e).slice(0, 10)}: the clock is in doubt`] : [],
  );
  return [...reasonsGiven(state), ...struck, ...skipped, ...readLaterWords(state), ...ended, ...against, ...old, ...doubtful];
}

/** Whoever took readings, adjusted, or finished a run: none of them reviews it. */
export const tookPart = (state: RunState): ReadonlySet<string> =>
  new Set([
    ...state.readings.map((r) => r.person),
    ...state.adjusted.map((a) => a.person),
    ...(state.completed ? [state.completed.person] : []),
  ]);
