import type { PlanItem } from '../plan/plan-schema';
import { kindOfSet } from '../evaluate/completeness';
import type { StepDocument } from '../procedure/document-schema';
import { stepSentence } from '../steps/registry';
import type { StepContext } from '../steps/step-context';
import { minutesOf, waiting, type Waiting } from '../steps/wait';
import { filledText, placeTitle, seriesOf, setTitle } from './place-words';
import { settingIn } from './run-results';
import { isDone } from '../state/progress';
import { isQuickCheck, type RunState } from '../state/run-state';

/** What comes next is the first thing in the plan that is not done; nothing else decides it. @example nextItem(run).type // 'judge' */
export const nextItem = (state: RunState): PlanItem | null =>
  state.completed || state.brokenOff ? null : (state.plan[state.firstOpen] ?? null);

/** Whether the work at the bench is over: what is left is for the record. @example isBenchWorkOver(run) // false */
export function isBenchWorkOver(state: RunState): boolean {
  const item = nextItem(state);
  return item === null || item.type === 'interval' || item.type === 'complete';
}

export const stages = ['prepare', 'as-found', 'judge', 'adjust', 'as-left', 'check', 'finish', 'done'] as const;
export type Stage = (typeof stages)[number];

/** The stage in the trade's words. */
export const stageNames: Record<Stage, string> = {
  prepare: 'Prepare',
  'as-found': 'As found',
  judge: 'Judge',
  adjust: 'Adjust',
  'as-left': 'As left',
  check: 'Check',
  finish: 'Finish',
  done: 'Record',
};

const stageOfSet = (set: string): Stage => (kindOfSet(set) === 'quick' ? 'check' : (kindOfSet(set) as Stage));

/** The stage of an item: told from the plan alone. @example stageOf(began, nextItem(began)) // 'as-found' */
export function stageOf(state: RunState, item: PlanItem | null): Stage {
  if (!item) return 'done';
  switch (item.type) {
    case 'judge':
    case 'look':
      return 'judge';
    case 'adjust':
      return 'adjust';
    case 'interval':
    case 'complete':
      return 'finish';
    case 'begin':
      return stageOfSet(item.set);
    case 'step':
      if (item.of !== undefined && isQuickCheck(state)) return 'prepare';
      if (item.of !== undefined) return state.procedure.ruleOut.some((r) => r.id === item.of) ? 'judge' : 'adjust';
      if (item.series === undefined && stepOf(state, item)?.after === 'run') return 'finish';
      return hasReadings(state, item.set) || state.sets[0]!.id !== item.set ? stageOfSet(item.set) : 'prepare';
    case 'condition':
      return hasReadings(state, item.set) || state.sets[0]!.id !== item.set ? stageOfSet(item.set) : 'prepare';
    default:
      return stageOfSet(item.set);
  }
}

const hasReadings = (state: RunState, set: string): boolean => state.readings.some((r) => r.slot.set === set);

/**
 * The stages that this run goes through, in order.
 * @example stagesOf(run) // ['prepare', 'as-found', 'judge', 'adjust', 'as-left', 'finish']
 */
export function stagesOf(state: RunState): Stage[] {
  if (isQuickCheck(state)) return ['prepare', 'check', 'finish'];
  const kinds = new Set([...state.plan.map((i) => kindOfSet(i.set))] as string[]);
  return stages.filter((stage) => {
    switch (stage) {
      case 'adjust':
        return state.plan.some((i) => i.type === 'adjust' || (i.type === 'step' && i.of !== undefined)) || !isJudged(state);
      case 'as-left':
        return kinds.has('as-left') || !isJudged(state);
      case 'check':
        return kinds.has('check');
      case 'done':
        return false;
      default:
        return true;
    }
  });
}
const isJudged = (state: RunState): boolean => state.plan.every((i) => i.type !== 'judge' || isDone(state, i));

/**
 * The document's step that an item stands for; adjustments and causes have steps of their own.
 * @example stepOf(began, nextItem(began)).kind // 'identify'
 */
export function stepOf(state: RunState, item: Extract<PlanItem, { type: 'step' }>): StepDocument | undefined {
  const { procedure } = state;
  const adjustment = procedure.adjustments.find((a) => a.id === item.of);
  const lists =
    item.of !== undefined
      ? [adjustment?.steps, adjustment?.afterSteps, procedure.ruleOut.find((r) => r.id === item.of)?.steps]
      : item.series !== undefined
        ? [seriesOf(state, item.series)?.steps]
        : [procedure.steps];
  for (const list of lists) {
    const step = list?.find((s) => s.id === item.id);
    if (step) return step;
  }
  return undefined;
}

/** Where a step stands, for its rules and words. @example contextOf(began, nextItem(began)).step.id // 'number' */
export function contextOf(state: RunState, item: Extract<PlanItem, { type: 'step' }>, now: string): StepContext | null {
  const step = stepOf(state, item);
  if (!step) return null;
  const { type: _type, id: _id, of: _of, ...place } = item;
  return { state, setting: () => settingIn(state, item.set), place, step, now };
}

/** How far the wait has come that stands next; null when none does. @example waitingNow(run, '2026-11-24T09:00:00Z') // null */
export function waitingNow(state: RunState, now: string): Waiting | null {
  const item = nextItem(state);
  if (item?.type !== 'step') return null;
  const context = contextOf(state, item, now);
  return context?.step.kind === 'wait' ? waiting(context as StepContext<'wait'>) : null;
}

/** The minutes of the wait that stands next; none where no wait does. @example waitMinutes(run) // 0 */
export function waitMinutes(state: RunState): number {
  const item = nextItem(state);
  const context = item?.type === 'step' ? contextOf(state, item, state.startedAt) : null;
  return context?.step.kind === 'wait' ? minutesOf(context as StepContext<'wait'>) : 0;
}

/** Conditions that are recorded together: those that stand next to each other at one place. @example conditionsNow(run).length // 0 */
export function conditionsNow(state: RunState): Extract<PlanItem, { type: 'condition' }>[] {
  const first = nextItem(state);
  if (first?.type !== 'condition') return [];
  const group: Extract<PlanItem, { type: 'condition' }>[] = [];
  for (let i = state.firstOpen; i < state.plan.length; i++) {
    const item = state.plan[i]!;
    if (item.type !== 'condition' || item.set !== first.set || item.point !== first.point || item.each !== first.each) break;
    if (!isDone(state, item)) group.push(item);
  }
  return group;
}

/** A title inside a sentence: its first letter small, unless it is a symbol such as Ra, or more than its first letter is large. */
const inSentence = (title: string): string =>
  /^\p{Lu}\p{Ll}?$/u.test(title) || /^\p{Lu}\S*[\p{Lu}\d]/u.test(title) ? title : title.charAt(0).toLowerCase() + title.slice(1);

const sentenceOfReading = (state: RunState, item: Extract<PlanItem, { type: 'reading' }>): string => {
  const series = seriesOf(state, item.series);
  const observation = series?.observe.find((o) => o.id === item.id);
  const repeats = state.plan.filter(
    (i) =>
      i.type === 'reading' &&
      i.set === item.set &&
      i.series === item.series &&
      i.each === item.each &&
      i.point === item.point &&
      i.sweep === item.sweep &&
      i.id === item.id,
  ).length;
  const where = placeTitle(state, item);
  const title = observation?.title ?? item.id;
  return `${where || series?.title}: ${inSentence(title)}${repeats > 1 ? `, ${item.repeat} of ${repeats}` : ''}.`;
};

/**
 * What to do now, in one sentence.
 * @example sentenceOf(run, nextItem(run)) // 'The readings as found are complete. Leave it as it is, or adjust?'
 */
export function sentenceOf(state: RunState, item: PlanItem | null, now: string): string {
  if (!item) {
    if (state.brokenOff) return 'This run was broken off.';
    return state.reviewed ? 'This run is finished and signed.' : 'A second person reads the record and signs it.';
  }
  switch (item.type) {
    case 'step': {
      const context = contextOf(state, item, now);
      return context ? filledText(state, stepSentence(context), item) : item.id;
    }
    case 'condition': {
      const titles = conditionsNow(state).map((c) => conditionTitle(state, c.id));
      return `Read ${titles.join(', ')}.`;
    }
    case 'reading':
      return sentenceOfReading(state, item);
    case 'gate': {
      const series = seriesOf(state, item.series);
      const title = [...(series?.results ?? []), ...(series?.aggregates ?? [])].find(
        (x) => ('symbol' in x ? x.symbol : x.id) === item.id,
      );
      return `${title?.title ?? item.id}: look whether it is inside its limits.`;
    }
    case 'open':
      return `${seriesOf(state, item.series)?.title ?? item.id}: its points are known now.`;
    case 'look':
      return `${placeTitle(state, item) || seriesOf(state, item.series)?.title}: read it once more. Was it that?`;
    case 'judge':
      return `The readings ${setTitle(item.set).toLowerCase()} are complete. Leave it as it is, or adjust?`;
    case 'adjust':
      return state.procedure.adjustments.find((a) => a.id === item.id)?.title ?? item.id;
    case 'begin':
      return `Begin the readings ${setTitle(item.set).toLowerCase()}.`;
    case 'interval':
      return 'Set the date of the next calibration.';
    case 'complete':
      return isQuickCheck(state)
        ? 'Everything is there. Finish the check.'
        : 'Everything is there. Finish the run and make its certificate.';
  }
}

const conditionTitle = (state: RunState, id: string): string =>
  (state.procedure.conditions.find((c) => c.id === id)?.title ?? id).toLowerCase();
