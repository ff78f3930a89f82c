import * as z from 'zod';
import { id, note, typed } from '../plan/atoms';
import type { Place, PlanItem } from '../plan/plan-schema';
import { isMove } from '../document/declarations';
import { setName } from '../procedure/schema/parts';
import { parseReading } from '../quantity/reading';
import { heldByRecord } from '../run/adjustment-advice';
import { ownFormIn } from '../state/own-units';
import { refuse, type Refusal } from '../state/refusal';
import { settingIn } from '../run/run-results';
import { markDone, type AdjustedRecord, type RunState } from '../state/run-state';
import { withPrintedUnit } from '../run/shown-value';
import { limitsIn, outsideWords, unitIn } from '../steps/step-context';
import { actKind } from './act-kind';
import { isNext, notNow } from './common';
import { alone } from './spreading';

type Adjusted = Omit<AdjustedRecord, 'at' | 'person' | 'sequence'>;

function admitAdjusted(state: RunState, act: Adjusted): Refusal | null {
  const item: PlanItem = { type: 'adjust', set: act.set, ...(act.each === undefined ? {} : { each: act.each }), id: act.id };
  if (!isNext(state, item)) return notNow();
  const doc = state.procedure.adjustments.find((a) => a.id === act.id)!;
  const place: Place = { set: act.set, series: doc.of[0]!, ...(act.each === undefined ? {} : { each: act.each }) };
  for (const stored of doc.stored) {
    const given = act.stored[stored.id];
    if (!given) return refuse(`${stored.title} is missing.`, 'stored', stored.id);
    const moves = isMove(doc, stored.id);
    for (const side of moves ? (['after'] as const) : (['before', 'after', 'readBack'] as const)) {
      const text = given[side];
      if (text === undefined)
        return refuse(
          side === 'before'
            ? `${stored.title}: read from the instrument what it holds now, and type it.`
            : `${stored.title}: read it back from the instrument, and type what it shows.`,
          'stored',
          stored.id,
          side,
        );
      const parsed = parseReading(text);
      if (!parsed.ok) return refuse(`${stored.title}: ${parsed.message}`, 'stored', stored.id, side);
      const limits = limitsIn(
        { state, place, setting: () => settingIn(state, act.set) },
        { lower: stored.lower, upper: stored.upper },
      );
      const form = ownFormIn(state, stored.unit);
      const value = form ? form.toDocument(parsed.reading.value) : parsed.reading.value;
      const outside = outsideWords(stored.title, value, unitIn(state, stored.unit, place), limits);
      // What it was found to hold may be beyond what it should: then somebody says so.
      if (outside && (side !== 'before' || act.note.length < 3))
        return refuse(
          side === 'before' ? `${outside} Read it again, or say in the note why.` : outside,
          'stored',
          stored.id,
          side,
        );
    }
    if (moves) continue;
    const known = heldByRecord(state, act.set, act.id, act.each ?? null)[stored.id];
    if (known !== undefined && Number(known) !== Number(given.before!.replace(',', '.').replace('−', '-')) && act.note.length < 3)
      return refuse(
        `${stored.title}: the record has ${known.replace('-', '−')}, the instrument holds ${given.before}. Read it again, or say in the note why they differ.`,
        'note',
      );
    if (given.readBack !== undefined && Number(given.readBack.replace(',', '.')) !== Number(given.after.replace(',', '.')))
      return refuse(
        `${stored.title}: ${given.after} was entered, but ${given.readBack} was read back. Enter it again.`,
        'stored',
        stored.id,
        'readBack',
      );
  }
  const held = doc.stored.filter((s) => !isMove(doc, s.id)).map((s) => act.stored[s.id]!);
  const number = (text: string) => Number(text.replace(',', '.').replace('−', '-'));
  if (held.length > 0 && held.length === doc.stored.length && held.every((s) => number(s.before!) === number(s.after)))
    return refuse(
      `It holds ${held.map((s) => s.before).join(' and ')} already: entering the same again adjusts nothing. Enter another value, or go back and look for the cause.`,
      'stored',
      doc.stored[0]!.id,
      'after',
    );
  return null;
}

/** An adjustment was made: what it held before, what it was given, and what was read back. */
export const adjusted = actKind(
  'adjusted',
  {
    set: setName,
    id,
    each: id.optional(),
    stored: z.record(z.string(), z.object({ before: typed.optional(), after: typed, readBack: typed.optional() })),
    note,
  },
  {
    admit: admitAdjusted,
    fold: (state, act, signed) => {
      state.adjusted.push({ ...act, ...signed });
      markDone(
        state,
        { type: 'adjust', set: act.set, ...(act.each === undefined ? {} : { each: act.each }), id: act.id },
        signed,
      );
    },
    words: (act, state) => {
      const doc = state.procedure.adjustments.find((a) => a.id === act.id);
      const stored = Object.entries(act.stored).map(([stored, s]) => {
        const declared = doc?.stored.find((d) => d.id === stored);
        const unit = unitIn(state, declared?.unit, { set: act.set, ...(act.each === undefined ? {} : { each: act.each }) });
        const after = withPrintedUnit(s.after, unit);
        return `${declared?.title ?? stored} ${s.before === undefined ? after : `${withPrintedUnit(s.before, unit)} before, ${after} after`}`;
      });
      return `${doc?.title ?? act.id}${stored.length ? `: ${stored.join('; ')}` : ''}${act.note ? `. ${act.note}` : ''}`;
    },
    spread: alone,
  },
);
