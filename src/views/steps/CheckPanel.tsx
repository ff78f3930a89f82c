import { plainDecimal } from '../../core/quantity/rounding';
import { limitsIn, numberIn, outsideWords, unitIn } from '../../core/steps/step-context';
import { printedUnit } from '../../core/quantity/unit';
import { MainButton, type StepPanelProps } from './StepPanel';

/** A number worked out from what was read: looked at, then gone on from. */
export function CheckPanel({ context, step, done }: StepPanelProps<'check'>) {
  const value = numberIn(context, { is: step.is });
  const unit = unitIn(context.state, step.unit, context.place);
  if (value === undefined)
    return <p className="fault">{step.title} cannot be worked out yet: something it needs has not been read.</p>;
  const outside = outsideWords(step.title, value, unit, limitsIn(context, step));
  return (
    <>
      <h2 className="text-xl leading-snug">
        {outside ? 'This is outside what the procedure wants.' : 'This is as the procedure wants it.'}
      </h2>
      <p className={`figure text-6xl font-bold ${outside ? 'text-brick' : ''}`}>
        {plainDecimal(Number(value.toPrecision(4))).replace('-', '−')}{' '}
        <span className="text-2xl text-soft">{printedUnit(unit)}</span>
      </p>
      {outside && <p className="caution">{outside}</p>}
      <MainButton onPress={() => done(value)}>{outside ? 'Go on all the same' : 'Go on'}</MainButton>
    </>
  );
}
