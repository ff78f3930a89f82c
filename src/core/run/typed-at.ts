import type { Place } from '../plan/plan-schema';
import { parseReading } from '../quantity/reading';
import { refuse, type Refusal } from '../state/refusal';
import type { RunState } from '../state/run-state';
import { cannotShow } from './cannot-show';
import { observationOf, observedUnit } from './reading-rules';
import { lookedAt } from './rungs';
import { withPrintedUnit } from './shown-value';

/** What is typed at a point beside the readings of a set, by observation. */
export type TypedAt = Readonly<Record<string, string>>;

/**
 * Why what was typed cannot be what the displays of a point show; null where it can.
 * @example refusalOfTyped(run, place, { R: '7.702' }) // null
 */
export function refusalOfTyped(state: RunState, place: Place, texts: TypedAt): Refusal | null {
  for (const slot of lookedAt(state, place)) {
    const title = observationOf(state, slot)?.title ?? slot.observation;
    const typed = texts[slot.observation];
    if (!typed) return refuse(`${title}: what does it read now?`, 'texts', slot.observation);
    const parsed = parseReading(typed);
    if (!parsed.ok) return refuse(parsed.message, 'texts', slot.observation);
    const { value, text, resolution } = parsed.reading;
    const cannot = cannotShow(state, slot, value, resolution);
    if (cannot) return refuse(`${cannot.replace('{text}', text)} Read it again.`, 'texts', slot.observation);
  }
  return null;
}

/** It, as numbers and as it is kept. @example valuesOfTyped({ R: '7,702' }).values // { R: 7.702 } */
export function valuesOfTyped(texts: TypedAt): { values: Record<string, number>; texts: Record<string, string> } {
  const read = Object.entries(texts).flatMap(([observation, typed]) => {
    const parsed = parseReading(typed);
    return parsed.ok ? [[observation, parsed.reading] as const] : [];
  });
  return {
    values: Object.fromEntries(read.map(([observation, r]) => [observation, r.value])),
    texts: Object.fromEntries(read.map(([observation, r]) => [observation, r.text])),
  };
}

/** It, in words. @example 'Micrometer 7.700 mm' */
export const wordsOfTyped = (state: RunState, place: Place, texts: TypedAt): string =>
  lookedAt(state, place)
    .flatMap((slot) => {
      const [typed, observation] = [texts[slot.observation], observationOf(state, slot)];
      return typed && observation
        ? [`${observation.title ?? observation.id} ${withPrintedUnit(typed, observedUnit(state, slot, observation))}`]
        : [];
    })
    .join(', ');
