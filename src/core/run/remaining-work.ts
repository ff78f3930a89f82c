import type { WorkStep } from '../day/day-board';
import { longestWait } from '../procedure/schema/steps';
import type { PlanItem } from '../plan/plan-schema';
import { isShared } from '../plan/shared';
import { isDone } from '../state/progress';
import type { RunState } from '../state/run-state';
import { minutesOf, waiting } from '../steps/wait';
import type { StepContext } from '../steps/step-context';
import { contextOf } from './next-step';
import { seriesOf, setTitle } from './place-words';

/** Nobody leaves the bench for a wait that is shorter, in minutes. */
const shortest = 10;
/** A block of work at the bench that is not broken off in between, in minutes. */
const block = 45;
/** The most steps that are told apart. */
const most = 60;

/** Titles of what is taken together that are named. */
const mostTitles = 3;

/** Minutes of hands where the procedure names none: it is taken to be done at once. */
const none = 0;

/** The standards that are held while something is done; what may stand anywhere, such as a thermometer of the room, is not held. */
function held(state: RunState, item: PlanItem): string[] {
  const series = 'series' in item && item.series !== undefined ? seriesOf(state, item.series) : undefined;
  if (!series) return [];
  const roles = new Set(Object.entries(series.uses).map(([use, doc]) => doc.role ?? use));
  const auxiliary = new Set(state.procedure.standards.filter((s) => s.auxiliary).map((s) => s.role));
  const standards = [...roles].filter((r) => !auxiliary.has(r)).flatMap((role) => state.standards[role] ?? []);
  return [...new Set(standards.map((s) => s.document.identification))].sort();
}

type Times = { title: string; hands: number; wait: number } & Pick<WorkStep, 'isRunning' | 'isUnknown'>;

/** Hands and wait of one item of the plan, as the procedure tells them. */
function timesOf(state: RunState, item: PlanItem, now: string): Times {
  if (item.type === 'reading') {
    const series = seriesOf(state, item.series!);
    return { title: `${setTitle(item.set)}: ${series?.title ?? ''}`, hands: series?.handsOn ?? none, wait: 0 };
  }
  if (item.type === 'adjust') {
    const adjustment = state.procedure.adjustments.find((a) => a.id === item.id);
    return { title: adjustment?.title ?? 'Adjust', hands: adjustment?.handsOn ?? none, wait: 0 };
  }
  const context = item.type === 'step' ? contextOf(state, item, now) : null;
  if (!context) return { title: '', hands: none, wait: 0 };
  const { step } = context;
  const hands = step.handsOn ?? none;
  if (step.kind !== 'wait') return { title: step.title, hands, wait: 0 };
  const { endsAt } = waiting(context as StepContext<'wait'>);
  if (endsAt !== null) {
    const left = (Date.parse(endsAt) - Date.parse(now)) / 60_000;
    return { title: step.title, hands: 0, wait: Math.max(0, left), isRunning: true };
  }
  const minutes = minutesOf(context as StepContext<'wait'>);
  // A wait whose length hangs on what is read first is not planned as if it took a week.
  return minutes >= longestWait
    ? { title: step.title, hands, wait: 0, isUnknown: true }
    : { title: step.title, hands, wait: minutes };
}

/**
 * Steps in their order: short waits are spent at the bench, and work that goes on is taken together.
 * @param coarser 1 where only work with the same standards is; above, waits and blocks are so many times longer, whatever they hold
 */
function takenTogether(parts: readonly WorkStep[], coarser: number): WorkStep[] {
  const steps: (WorkStep & { titles: string[] })[] = [];
  for (const part of parts) {
    const isWait = part.isWait && (part.isRunning || part.isUnknown || part.minutes >= shortest * coarser);
    const last = steps.at(-1);
    const goesOn = last && !last.isWait && !isWait && (coarser > 1 || last.uses.join() === part.uses.join());
    const minutes = goesOn ? last.minutes + part.minutes : Infinity;
    if (goesOn && minutes <= block * coarser) {
      const titles = [...new Set([...last.titles, part.title])];
      steps[steps.length - 1] = { ...last, minutes, titles, uses: [...new Set([...last.uses, ...part.uses])].sort() };
    } else steps.push({ ...part, isWait, titles: [part.title] });
  }
  return steps.map(({ titles, ...step }) => ({
    ...step,
    title: titles.slice(0, mostTitles).join(', ') + (titles.length > mostTitles ? ' …' : ''),
  }));
}

/**
 * What is left to do of a run, as far as its plan is known: hands and waits in their order, whole minutes, with the standards that each
 * holds. What follows a judgement is known when it has been made.
 * @param now ISO time: a wait that runs takes what is left of it
 * @param instruments how many stand in its set-up: what is not shared is done for each
 * @example remainingWork(began, '2026-11-24T08:00:00Z').every((s) => s.minutes > 0) // true
 */
export function remainingWork(state: RunState, now: string, instruments = 1): WorkStep[] {
  const parts = state.plan.slice(state.firstOpen).flatMap((item): WorkStep[] => {
    if (isDone(state, item)) return [];
    const { title, hands, wait, ...of } = timesOf(state, item, now);
    const uses = held(state, item);
    const times = isShared(state.procedure, item) ? 1 : instruments;
    return [
      ...(hands > 0 ? [{ title, minutes: hands * times, isWait: false, uses }] : []),
      ...(wait > 0 || of.isUnknown ? [{ title, minutes: wait, isWait: true, uses, ...of }] : []),
    ];
  });
  let steps = takenTogether(parts, 1);
  for (let coarser = 2; steps.length > most; coarser *= 2) steps = takenTogether(parts, coarser);
  return steps.map((s) => ({ ...s, minutes: Math.max(0, Math.ceil(s.minutes - 1e-9)) }));
}
