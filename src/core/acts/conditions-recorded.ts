import * as z from 'zod';
import { reason, typed } from '../plan/atoms';
import { at } from '../plan/plan-schema';
import { parseReading } from '../quantity/reading';
import { conditionsNow } from '../run/next-step';
import { placeTitle } from '../run/place-words';
import { refuse } from '../state/refusal';
import { caseOf, settingOfRun } from '../state/run-case';
import { markDone, type RunState } from '../state/run-state';
import { placeOf } from '../state/place-keys';
import { withPrintedUnit } from '../run/shown-value';
import { limitsIn, outsideWords, unitIn, withUnit } from '../steps/step-context';
import { actKind } from './act-kind';
import { isReading, joined, notNow } from './common';
import { byItem } from './spreading';

/** A condition ten times its own allowed span away from it was mistyped, not measured. */
function isAbsurd(declared: RunState['procedure']['conditions'][number], value: number): string | null {
  const { lower, upper, title } = declared;
  if (typeof lower !== 'number' || typeof upper !== 'number') return null;
  const span = 10 * (upper - lower);
  if (value >= lower - span && value <= upper + span) return null;
  const unit = typeof declared.unit === 'string' ? declared.unit : '';
  return `${title}: ${withUnit(value, unit)} cannot be right where ${withUnit(lower, unit)} to ${withUnit(upper, unit)} is wanted. Type it again.`;
}

/** Conditions of the room and of what lies in it, as they were read. */
export const conditionsRecorded = actKind(
  'conditions-recorded',
  { ...at, values: z.record(z.string(), typed), reason: reason.optional() },
  {
    admit: (state, act) => {
      const wanted = conditionsNow(state);
      const isWanted =
        wanted.length > 0 && wanted[0]!.set === act.set && wanted[0]!.point === act.point && wanted[0]!.each === act.each;
      const known = state.conditions.some((c) => c.set === act.set);
      if (!isWanted && !(known && isReading(state, act.set))) return notNow();
      for (const { id } of isWanted ? wanted : [])
        if (act.values[id] === undefined)
          return refuse(`${state.procedure.conditions.find((c) => c.id === id)!.title} is missing.`, 'values', id);
      const place = placeOf(act);
      const values: Record<string, number> = {};
      for (const [id, text] of Object.entries(act.values)) {
        const declared = state.procedure.conditions.find((c) => c.id === id);
        if (!declared) return refuse(`"${id}" is not a condition of this procedure.`, 'values', id);
        const parsed = parseReading(text);
        if (!parsed.ok) return refuse(`${declared.title}: ${parsed.message}`, 'values', id);
        values[id] = parsed.reading.value;
        const absurd = isAbsurd(declared, parsed.reading.value);
        if (absurd) return refuse(absurd, 'values', id);
      }
      if (act.reason) return null;
      // What another condition is compared with may be among those that are recorded now.
      const inForce = Object.fromEntries(state.conditions.filter((c) => c.set === act.set).map((c) => [c.id, c.value]));
      const setting = () =>
        settingOfRun(state, act.set, { ...caseOf(state, act.set), conditions: { ...inForce, ...values }, observations: [] });
      for (const [id, value] of Object.entries(values)) {
        const declared = state.procedure.conditions.find((c) => c.id === id)!;
        const limits = limitsIn({ state, place, setting }, declared);
        const outside = outsideWords(declared.title, value, unitIn(state, declared.unit, place), limits);
        if (outside) return refuse(`${outside} Wait until it is inside, or give the reason for going on.`, 'reason');
      }
      return null;
    },
    fold: (state, act, signed) => {
      for (const [id, typedText] of Object.entries(act.values)) {
        const parsed = parseReading(typedText);
        if (!parsed.ok) throw new Error(`The log holds a number that cannot be read: ${typedText}`);
        const { text, value } = parsed.reading;
        state.conditions.push({ ...signed, set: act.set, id, text, value, reason: act.reason ?? null });
        markDone(state, { type: 'condition', ...placeOf(act), id }, signed);
      }
    },
    words: (act, state) => {
      const values = Object.entries(act.values).map(([id, text]) => {
        const doc = state.procedure.conditions.find((c) => c.id === id);
        return `${doc?.title ?? id} ${withPrintedUnit(text, doc ? unitIn(state, doc.unit, act) : '')}`;
      });
      return `${joined(placeTitle(state, act), ...values)}${act.reason ? ` (${act.reason})` : ''}`;
    },
    spread: byItem((act) => ({ type: 'condition', ...placeOf(act), id: Object.keys(act.values)[0] ?? '' })),
  },
);
