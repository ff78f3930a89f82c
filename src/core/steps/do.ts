import { decimalsNeeded, plainDecimal, roundToDecimals } from '../quantity/rounding';
import { numberIn, type StepContext, type StepKind } from './step-context';

/** Something to be done. */
export const doStep: StepKind<'do'> = {
  admit: () => null,
  sentence: ({ step }) => step.instruction,
  said: () => 'done',
};

type ShownNumber = NonNullable<StepContext<'do'>['step']['show']>[number];

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
