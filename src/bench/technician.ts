import type { NewAct } from '../core/acts/registry';
import { dayIn } from '../core/quantity/day-in-zone';
import { proposeNextDate } from '../core/run/next-date';
import { scatterOf } from '../core/run/diagnosis';
import { adjustmentAdvice, heldByRecord, proposedFromHeld } from '../core/run/adjustment-advice';
import { gateStanding } from '../core/run/gates';
import { conditionsNow, contextOf, nextItem } from '../core/run/next-step';
import { verdictAsFound } from '../core/run/run-results';
import { itemKey, placeOf, slotOf } from '../core/state/place-keys';
import type { RunState } from '../core/state/run-state';
import { recorded } from '../core/steps/identify';
import { keyedFigures, keyedValues } from '../core/steps/do';
import { settingsNow, shownNumbers } from '../core/steps/settings';
import { numberIn, type StepContext } from '../core/steps/step-context';
import { lookedAt } from '../core/run/rungs';

/** What the instrument on the bench shows, and what is around it. */
export type Shown = {
  reading: (state: RunState, slot: ReturnType<typeof slotOf>) => string;
  condition: (id: string) => string;
  measured: (id: string, state: RunState, place: ReturnType<typeof placeOf>) => number;
  stored: (id: string, proposed: number | undefined) => { before?: string; after: string };
};

type StepItem = Extract<NonNullable<ReturnType<typeof nextItem>>, { type: 'step' }>;

function plainStep(context: StepContext, item: StepItem): NewAct {
  const { step, state } = context;
  const place = { ...placeOf(item), id: item.id };
  const done = (value: string | number | boolean | Record<string, number>, text?: string): NewAct => ({
    type: 'step-done',
    ...place,
    value,
    ...(text === undefined ? {} : { text }),
  });
  switch (step.kind) {
    case 'confirm':
      return done(true);
    case 'do': {
      const shown = keyedFigures(context as StepContext<'do'>);
      if (Object.keys(shown).length === 0) return done(true);
      return { ...done(keyedValues(shown, step.show ?? [])), shown } as NewAct;
    }
    case 'identify': {
      const { texts, certified } = recorded(context as StepContext<'identify'>);
      return done(step.typed === 'certified' && certified.length ? certified.join(' ') : (texts[0] ?? 'none'));
    }
    case 'choose':
      return done(step.want ?? step.options[0]!.id);
    case 'check':
      return done(numberIn(context, { is: step.is })!);
    case 'connect':
      return done({}, 'directly');
    case 'wait':
      return state.waits.has(itemKey(item)) ? { type: 'wait-ended', ...place } : { type: 'wait-begun', ...place };
    case 'settings': {
      const shown = Object.fromEntries(
        settingsNow(context as StepContext<'settings'>).map((s) => [s.id, s.wanted ?? s.last ?? s.options[0] ?? '1']),
      );
      return { ...done(shownNumbers(shown)), shown } as NewAct;
    }
    case 'measure':
      throw new Error('What is measured is shown.');
  }
}

/**
 * What a technician in no trouble does next: does what the plan asks, types what is shown, follows the advice. Knows no family.
 * @param now when it is done @returns null when nothing is left but the review
 */
export function plainAct(state: RunState, shown: Shown, now: string): NewAct | null {
  const item = nextItem(state);
  if (!item) return null;
  switch (item.type) {
    case 'step': {
      const context = contextOf(state, item, now)!;
      if (context.step.kind !== 'measure') return plainStep(context, item);
      const value = shown.measured(item.id, state, placeOf(item));
      return { type: 'step-done', ...placeOf(item), id: item.id, value, text: String(value) };
    }
    case 'condition':
      return {
        type: 'conditions-recorded',
        ...placeOf(item),
        values: Object.fromEntries(conditionsNow(state).map((c) => [c.id, shown.condition(c.id)])),
      };
    case 'reading':
      return { type: 'observed', ...slotOf(item), text: shown.reading(state, slotOf(item)) };
    case 'gate': {
      const { passes } = gateStanding(state, item);
      const reason = passes ? {} : { reason: 'Door opened; steady again now' };
      return { type: 'gate-passed', ...placeOf(item), id: item.id, passes, ...reason };
    }
    case 'open':
      return { type: 'plan-resolved', ...placeOf(item), series: item.id };
    case 'look': {
      const texts = lookedAt(state, placeOf(item)).map((slot) => [slot.observation, shown.reading(state, slot)]);
      return {
        type: 'looked',
        ...placeOf(item),
        series: item.series!,
        point: item.point!,
        id: item.id,
        texts: Object.fromEntries(texts),
      };
    }
    case 'judge': {
      const { adjustment, each } = adjustmentAdvice(state, item.set);
      const of = adjustment !== null && each !== null ? { each } : {};
      const reason = scatterOf(state, item.set) ? 'Looked for the cause: the scatter is its own there' : '';
      return { type: 'adjustment-decided', set: item.set, adjustment, ...of, proposed: adjustment, reason };
    }
    case 'adjust': {
      const doc = state.procedure.adjustments.find((a) => a.id === item.id)!;
      const of = item.each === undefined ? {} : { each: item.each };
      const record = heldByRecord(state, item.set, item.id, item.each ?? null);
      const held = Object.fromEntries(doc.stored.map((s) => [s.id, shown.stored(s.id, undefined).before ?? record[s.id] ?? '0']));
      const proposed = proposedFromHeld(state, item.set, item.id, item.each ?? null, held);
      const stored = doc.stored.map((s) => {
        const { after } = shown.stored(s.id, proposed[s.id] === undefined ? undefined : Number(proposed[s.id]));
        return [s.id, { before: held[s.id], after, readBack: after }];
      });
      const differs = doc.stored.some((s) => record[s.id] !== undefined && Number(record[s.id]) !== Number(held[s.id]));
      const note = differs ? 'As shown by the instrument' : '';
      return { type: 'adjusted', set: item.set, id: item.id, ...of, stored: Object.fromEntries(stored), note };
    }
    case 'begin':
      return { type: 'set-begun', set: item.set, why: state.adjusted.length ? 'Adjusted' : '' };
    case 'interval': {
      const next = proposeNextDate(state, verdictAsFound(state), dayIn(now, state.timeZone));
      return { type: 'interval-decided', next: next.date, proposed: next.date, reason: next.reason };
    }
    case 'complete':
      return { type: 'run-completed', certificate: 'later', remark: '' };
  }
}
