import type { Setting } from '../evaluate/setting';
import { parsePlainNumber } from '../quantity/reading';
import { printedUnit } from '../quantity/unit';
import { plainDecimal } from '../quantity/rounding';
import type { StepValue } from '../evaluate/case-schema';
import type { Place } from '../plan/plan-schema';
import type { Num, StepDocument } from '../procedure/document-schema';
import { numberAt } from '../state/run-scope';
import { refuse, type Refusal } from '../state/refusal';
import type { RunState, StepRecord } from '../state/run-state';

export type StepOf<K extends StepDocument['kind']> = Extract<StepDocument, { kind: K }>;

/** Where a step stands: in which run, at which place. */
export type StepContext<K extends StepDocument['kind'] = StepDocument['kind']> = {
  state: RunState;
  /** The run's setting, for formulas; asked for only where one is needed. */ setting: () => Setting;
  place: Place;
  step: StepOf<K>;
  now: string;
};

/** What was answered, as it was typed, and why where it is not as wanted. */
export type StepAnswer = {
  value: StepValue;
  text?: string | undefined;
  reason?: string | undefined;
  /** Settings as shown, or numbers as keyed in, by their ids. */ shown?: Record<string, string> | undefined;
};

/** The rules of one kind of step. */
export type StepKind<K extends StepDocument['kind']> = {
  /** Whether what was done may be recorded; null when it may. */
  admit: (context: StepContext<K>, act: StepAnswer) => Refusal | null;
  /** What to do, in one sentence. */
  sentence: (context: StepContext<K>) => string;
  /** What was recorded, in words. */
  said: (step: StepOf<K>, record: StepRecord) => string;
};

/** What a formula of a step needs to know of where it stands. */
type StepPlace = Pick<StepContext, 'state' | 'setting' | 'place'>;

/** @example numberIn(context, 4) // 4 */
export const numberIn = (c: StepPlace, number: Num | undefined): number | undefined =>
  number === undefined ? undefined : typeof number === 'number' ? number : numberAt(c.setting(), number, c.place);

/** A unit of the document where a step stands: itself, or the text column of this instance. @example unitIn(run, 'mm', place) // 'mm' */
export function unitIn(state: RunState, unit: string | { of: string } | undefined, place: Place): string {
  if (unit === undefined) return '';
  if (typeof unit === 'string') return unit;
  return String(columnOf(state, unit.of.replace(/^each\./, ''), place) ?? '');
}

/** A column of the present instance: of an instrument's list, or of the document. */
export function columnOf(state: RunState, column: string, place: Place): unknown {
  const series = state.procedure.series.find((s) => s.id === place.series);
  const each = series?.forEach;
  if (!each || place.each === undefined) return undefined;
  if ('items' in each) {
    const role = series.uses[each.items]?.role ?? each.items;
    const contents = (state.standards[role] ?? []).flatMap((s) => [s.document, ...(s.document.parts ?? [])]);
    const item = contents.flatMap((c) => c.items ?? []).find((i) => i.id === place.each);
    return item && { ...item.properties, ...item, title: item.marking || item.id }[column];
  }
  const rows: readonly { id: string }[] =
    'list' in each ? (state.instrument.lists[each.list] ?? []) : 'of' in each ? each.of : [];
  const row = rows.find((r) => r.id === place.each) as Record<string, unknown> | undefined;
  return row?.[column];
}

/** @example withUnit(20.5, 'Cel') // '20.5 °C' */
export const withUnit = (value: number, unit: string): string => {
  const printed = printedUnit(unit);
  const number = plainDecimal(value).replace('-', '−');
  return printed === '' || printed === '1' ? number : `${number} ${printed}`;
};

/** A typed number, or why it is none. */
export function typedNumber(text: string | undefined): { value: number } | Refusal {
  const parsed = parsePlainNumber(text ?? '');
  if (parsed.ok) return { value: parsed.reading.value };
  return { ...refuse(parsed.message, 'text'), ...(parsed.suggestion ? { suggestion: parsed.suggestion } : {}) };
}

type Limited = { lower?: Num | undefined; upper?: Num | undefined; near?: { is: string; within: Num } | undefined };

/**
 * Why a value is outside what a step or condition allows; null when it is inside.
 * @example outsideWords('Air', 25, 'Cel', { lower: 18, upper: 22 }) // 'Air: 25 °C; the procedure wants 18 to 22 °C.'
 */
export function outsideWords(
  title: string,
  value: number,
  unit: string,
  {
    lower,
    upper,
    near,
  }: { lower?: number | undefined; upper?: number | undefined; near?: { is: number; within: number } | undefined },
): string | null {
  if ((lower !== undefined && value < lower) || (upper !== undefined && value > upper)) {
    const range =
      lower === undefined
        ? `at most ${withUnit(upper!, unit)}`
        : upper === undefined
          ? `at least ${withUnit(lower, unit)}`
          : `${plainDecimal(lower)} to ${withUnit(upper, unit)}`;
    return `${title}: ${withUnit(value, unit)}; the procedure wants ${range}.`;
  }
  if (near && Math.abs(value - near.is) > near.within * (1 + 1e-9))
    return `${title}: ${withUnit(value, unit)}, more than ${withUnit(near.within, unit)} away from ${withUnit(near.is, unit)}.`;
  return null;
}

/** The limits of a step where it stands. @example limitsIn({ state: run, place }, { lower: 18, upper: 22 }).upper // 22 */
export function limitsIn(c: StepPlace, { lower, upper, near }: Limited) {
  const is = near ? numberIn(c, { is: near.is }) : undefined;
  const within = near ? numberIn(c, near.within) : undefined;
  return {
    lower: numberIn(c, lower),
    upper: numberIn(c, upper),
    ...(is !== undefined && within !== undefined ? { near: { is, within } } : {}),
  };
}
