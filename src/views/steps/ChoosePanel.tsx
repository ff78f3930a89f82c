import { useEffect, useRef } from 'react';
import { StepText, type StepPanelProps } from './StepPanel';

/** One of several: a digit chooses, Enter takes the one that is wanted. */
export function ChoosePanel({ step, item, done }: StepPanelProps<'choose'>) {
  const main = useRef<HTMLButtonElement>(null);
  useEffect(() => main.current?.focus(), [item.id]);
  const first = Math.max(
    0,
    step.options.findIndex((o) => o.id === step.want),
  );
  return (
    <div
      className="flex flex-col gap-3"
      onKeyDown={(e) => {
        const chosen = step.options[Number(e.key) - 1];
        if (!chosen) return;
        e.preventDefault();
        done(chosen.id);
      }}
    >
      <StepText text={step.ask} item={item} />
      {step.options.map((o, i) => (
        <button
          key={o.id}
          ref={i === first ? main : undefined}
          type="button"
          {...(i === first ? { 'data-keys': true } : {})}
          className={`button min-h-13 !justify-start !text-lg ${i === first ? 'button-main' : ''}`}
          onClick={() => done(o.id)}
        >
          <span className="key">{i + 1}</span> {o.title ?? o.id}
        </button>
      ))}
      {step.options.flatMap((o) => (o.caution ? [<p key={o.id} className="caution">{`${o.title}: ${o.caution}`}</p>] : []))}
    </div>
  );
}
