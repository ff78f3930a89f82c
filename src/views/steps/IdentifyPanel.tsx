import { useEffect, useRef, useState } from 'react';
import { BigEntry } from '../../ui/BigEntry';
import { recorded } from '../../core/steps/identify';
import { StepText, type StepPanelProps } from './StepPanel';

/** What stands on the thing itself is typed, and compared with the record. */
export function IdentifyPanel({ context, step, item, done }: StepPanelProps<'identify'>) {
  const [typed, setTyped] = useState('');
  const [fault, setFault] = useState('');
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), [item.id]);
  const { texts, certified } = recorded(context);
  const wanted = step.typed === 'certified' ? certified.map(String) : texts;
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        const refusal = done(typed.trim());
        setFault(refusal?.message ?? '');
        if (refusal) input.current?.select();
      }}
    >
      <StepText text={step.ask} item={item} />
      <BigEntry
        unit=""
        entryRef={input}
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          setFault('');
        }}
        maxLength={120}
        aria-label={step.ask}
        className="ident !text-4xl"
      />
      <p className="text-sm text-soft">
        {wanted.length > 0
          ? 'Read it from the thing itself: it is compared with the record.'
          : 'The record has none yet: what you type is kept.'}
      </p>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <button className="button button-main min-h-13 !text-lg">This is what it says</button>
    </form>
  );
}
