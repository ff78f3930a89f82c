import { useEffect, useRef } from 'react';
import type { StepPanelProps } from './StepPanel';
import { StepText } from './StepPanel';

/** A question that "yes" answers well; "no" asks what is wrong. */
export function ConfirmPanel({ step, item, done }: StepPanelProps<'confirm'>) {
  const yes = useRef<HTMLButtonElement>(null);
  useEffect(() => yes.current?.focus(), [item.id]);
  return (
    <div
      className="flex flex-col gap-4"
      onKeyDown={(e) => {
        const key = e.key.toLowerCase();
        if (key !== 'n' && key !== 'y') return;
        e.preventDefault();
        done(key === 'y');
      }}
    >
      <StepText text={step.ask} item={item} />
      <div className="flex gap-3">
        <button
          ref={yes}
          type="button"
          data-keys
          className="button button-main min-h-13 flex-1 !text-lg"
          onClick={() => done(true)}
        >
          Yes
        </button>
        <button type="button" className="button min-h-13 flex-1 !text-lg" onClick={() => done(false)}>
          No <span className="key">n</span>
        </button>
      </div>
    </div>
  );
}
