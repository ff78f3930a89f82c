import type { Place, PlanItem } from '../plan/plan-schema';
import type { StepDocument } from '../procedure/document-schema';
import { nextItem, stepOf } from '../run/next-step';
import { placeTitle, seriesOf, setTitle } from '../run/place-words';
import { refuse, type Refusal } from '../state/refusal';
import { isClosed, setOf } from '../state/progress';
import { itemKey, placeOf } from '../state/place-keys';
import type { RunState } from '../state/run-state';

/** What several acts ask of a run. */

export const notNow = (): Refusal => refuse('This is not what comes next. Do the step that is shown first.', 'type');
export const evidence = (set: string, ...path: string[]): Refusal =>
  refuse(`The readings ${lower(set)} are closed: they are evidence.`, ...path);

export function isNext(state: RunState, item: PlanItem): boolean {
  const next = nextItem(state);
  return next !== null && itemKey(next) === itemKey(item);
}

/** Whether a set's readings are open: its judgement has not been made. */
export const isReading = (state: RunState, set: string): boolean => !isClosed(state, set) && setOf(state, set) !== undefined;

/** The step that an act does, as an item of the plan. */
export const stepItem = (act: Place & { id: string }): PlanItem & { type: 'step' } => ({
  type: 'step',
  ...placeOf(act),
  id: act.id,
});

/** The step of an act in the document, wherever in its set it stands; undefined where there is none. */
export function stepDone(state: RunState, p: Place & { id: string }): StepDocument | undefined {
  const item = state.plan.find((i) => i.type === 'step' && i.id === p.id && i.set === p.set && i.series === p.series);
  return (item?.type === 'step' && stepOf(state, item)) || undefined;
}

export const lower = (set: string): string => setTitle(set).toLowerCase();
export const joined = (...words: (string | undefined | false)[]): string => words.filter(Boolean).join(', ');
export const where = (state: RunState, p: Place): string => placeTitle(state, p) || seriesOf(state, p.series)?.title || '';
