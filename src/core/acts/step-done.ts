import * as z from 'zod';
import { id, reason } from '../plan/atoms';
import { at } from '../plan/plan-schema';
import { contextOf } from '../run/next-step';
import { placeTitle } from '../run/place-words';
import { refuse } from '../state/refusal';
import { isDone } from '../state/progress';
import { itemKey, placeOf } from '../state/place-keys';
import { markDone, type RunState } from '../state/run-state';
import { keyedFigures, keyedValues } from '../steps/do';
import type { StepContext } from '../steps/step-context';
import type { StepValue } from '../evaluate/case-schema';
import type { Place } from '../plan/plan-schema';
import { admitStep, stepSaid } from '../steps/registry';
import { actKind } from './act-kind';
import { isReading, joined, notNow, stepDone as stepOfAct, stepItem } from './common';
import { byStep } from './spreading';

/** What was keyed in for one instrument of a set-up is, for another, what stands there for that one. */
function withItsNumbers<A extends Place & { id: string; value: StepValue; shown?: Record<string, string> | undefined }>(
  state: RunState,
  act: A,
): A {
  const context = act.shown ? contextOf(state, stepItem(act), '') : null;
  if (context?.step.kind !== 'do') return act;
  const shown = keyedFigures(context as StepContext<'do'>);
  return { ...act, shown, value: keyedValues(shown, context.step.show ?? []) };
}

/** A step of the procedure was done or answered. */
export const stepDone = actKind(
  'step-done',
  {
    ...at,
    id,
    value: z.union([z.number(), z.string().max(300), z.boolean(), z.record(z.string(), z.number())]),
    /** A number as it was typed. */
    text: z.string().max(300).optional(),
    reason: reason.optional(),
    /** Settings as the instrument shows them, or numbers as they were keyed in, by their ids. */
    shown: z.record(z.string().max(60), z.string().max(100)).optional(),
  },
  {
    admit: (state, act, { now }) => {
      const index = state.index.get(itemKey(stepItem(act)));
      const item = index === undefined ? undefined : state.plan[index]!;
      if (item?.type !== 'step') return refuse('The procedure has no such step.', 'id');
      // An answer may be corrected while its set is open; the first one stays in the log.
      if (index! !== state.firstOpen && !(isDone(state, item) && isReading(state, item.set))) return notNow();
      const context = contextOf(state, item, now);
      return context ? admitStep(context, act) : refuse('The procedure has no such step.', 'id');
    },
    fold: (state, act, signed) => {
      state.steps.push({
        ...signed,
        item: { ...placeOf(act), id: act.id },
        value: act.value,
        text: act.text ?? null,
        reason: act.reason ?? null,
        ...(act.shown ? { shown: act.shown } : {}),
      });
      markDone(state, stepItem(act), signed);
    },
    words: (act, state) => {
      const step = stepOfAct(state, act);
      const record = { value: act.value, text: act.text ?? null, reason: act.reason ?? null, shown: act.shown };
      return joined(
        placeTitle(state, act),
        `${step?.title ?? act.id}: ${step ? stepSaid(step, record as never) : String(act.value)}`,
      );
    },
    spread: (s, act) =>
      byStep(s, act).map(({ member, act: own }) => ({
        member,
        act: member === s.from ? own : withItsNumbers(s.states[member]!, own),
      })),
  },
);
