import { decimalsNeeded, plainDecimal, roundToDecimals } from '../quantity/rounding';
import { refuse } from '../state/refusal';
import { numberIn, type StepContext, type StepKind } from './step-context';

/** Something to be done. */
export const doStep: StepKind<'do'> = {
  admit: (c, act) => {
    // What is shown is what was keyed in: the same digits, each of them. A log of before says nothing of it.
    const keyed = keyedFigures(c);
    if (!act.shown && c.step.show?.some((s) => s.id !== undefined)) return refuse('Tick each number as it is keyed in.', 'shown');
    for (const [id, text] of Object.entries(act.shown ?? {}))
      if (keyed[id] !== undefined && keyed[id] !== text)
        return refuse(`The number to be keyed in has changed to ${keyed[id]}. Key it in again.`, 'shown', id);
    const wanted = keyedValues(act.shown ?? {}, c.step.show ?? []);
    return act.shown && JSON.stringify(act.value) !== JSON.stringify(wanted) && act.value !== true
      ? refuse('The numbers recorded are not those shown.', 'value')
      : null;
  },
  sentence: ({ step }) => step.instruction,
  said: ({ show }, { shown }) =>
    shown
      ? `keyed in: ${(show ?? []).flatMap((s, i) => (shown[keyOf(s, i)] === undefined ? [] : [`${s.title} ${shown[keyOf(s, i)]}`])).join('; ')}`
      : 'done',
};

type ShownNumber = NonNullable<StepContext<'do'>['step']['show']>[number];

/**
 * By what a shown number is told apart: its id, or its place.
 * @example keyOf({ title: 'Value to enter', unit: 'mm', is: '1', id: 'value' }, 0) // 'value'
 */
export const keyOf = (shown: ShownNumber, index: number): string => shown.id ?? String(index + 1);

/**
 * All numbers that are to be keyed in, by their keys, as they are keyed in; those that are not known yet are left out.
 * @example keyedFigures(contextOf(began, nextItem(began))) // {}
 */
export const keyedFigures = (context: StepContext<'do'>): Record<string, string> =>
  Object.fromEntries(
    (context.step.show ?? []).flatMap((s, i) => {
      const text = keyedFigure(context, s);
      return text === null ? [] : [[keyOf(s, i), text]];
    }),
  );

/**
 * The numbers that formulas may name, as they were keyed in.
 * @example keyedValues({ value: '−0.5' }, [{ id: 'value' }]) // { value: -0.5 }
 */
export const keyedValues = (shown: Record<string, string>, show: readonly ShownNumber[]): Record<string, number> =>
  Object.fromEntries(
    show.flatMap((s) =>
      s.id !== undefined && shown[s.id] !== undefined ? [[s.id, Number(shown[s.id]!.replace('−', '-'))]] : [],
    ),
  );

/**
 * A number that something to be done needs, as it is keyed in: to the step of what takes it, else to six digits.
 * @returns null where it is not known yet
 */
export function keyedFigure(context: StepContext<'do'>, { is, step }: ShownNumber): string | null {
  const value = numberIn(context, { is });
  if (value === undefined) return null;
  const by = numberIn(context, step);
  const text = by
    ? roundToDecimals(Math.round(value / by) * by, decimalsNeeded([by]))
    : plainDecimal(Number(value.toPrecision(6)));
  return text.replace('-', '−');
}
