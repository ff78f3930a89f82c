import { useEffect, useRef, useState } from 'react';
import { parsePlainNumber } from '../../core/quantity/reading';
import { printedUnit } from '../../core/quantity/unit';
import { measuredHere } from '../../core/steps/measure';
import { withUnit } from '../../core/steps/step-context';
import { BigEntry } from '../../ui/BigEntry';
import { StepText, type StepPanelProps } from './StepPanel';

/** A number read once. */
export function MeasurePanel({ context, step, item, done }: StepPanelProps<'measure'>) {
  const [typed, setTyped] = useState('');
  const [fault, setFault] = useState('');
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), [item.id]);
  const { unit, limits, toDocument } = measuredHere(context);
  const { lower, upper } = limits;
  const wanted =
    lower === undefined && upper === undefined
      ? ''
      : lower === undefined
        ? `at most ${withUnit(upper!, unit)}`
        : upper === undefined
          ? `at least ${withUnit(lower, unit)}`
          : `${withUnit(lower, unit)} to ${withUnit(upper, unit)}`;
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        const parsed = parsePlainNumber(typed);
        const refusal = done(parsed.ok ? toDocument(parsed.reading.value) : Number.NaN, typed.trim() || ' ');
        setFault(refusal ? `${refusal.message}${refusal.suggestion ? ` (${refusal.suggestion}?)` : ''}` : '');
      }}
    >
      <StepText text={step.ask} item={item} />
      <BigEntry
        unit={printedUnit(unit)}
        entryRef={input}
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          setFault('');
        }}
        inputMode="decimal"
        maxLength={20}
        aria-label={`${step.ask} In ${printedUnit(unit)}.`}
      />
      {wanted && <p className="text-sm text-soft">The procedure wants {wanted}.</p>}
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <button className="button button-main min-h-13 !text-lg">Record it</button>
    </form>
  );
}
