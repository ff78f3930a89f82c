import { useEffect, useRef, useState } from 'react';
import type { RunState } from '../../core/state/run-state';
import { ReasonPrompt } from '../run/ReasonPrompt';

type Props = {
  states: readonly RunState[];
  /** Those that take part still. */ present: readonly number[];
  /** The one whose turn it is; null where all are meant. */ ready: number | null;
  onCancel: () => void;
  /** Takes one out; what stands in the way, or null. */
  onOut: (member: number, reason: string) => string | null;
};

const reasons = ['It does not work', 'It needs repair first', 'The owner wants it back'];

/** Takes an instrument out of the set-up: which, and why. The others go on; its own run can be carried on alone. */
export function TakeOutPanel({ states, present, ready, onCancel, onOut }: Props) {
  const [member, setMember] = useState<number | null>(ready ?? (present.length === 1 ? present[0]! : null));
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => first.current?.focus(), [member]);
  if (member !== null)
    return (
      <>
        <ReasonPrompt
          title={`Take ${states[member]!.instrument.identification} out of the set-up: why?`}
          ready={reasons}
          confirm="Take it out"
          onCancel={() => (present.length > 1 && ready === null ? setMember(null) : onCancel())}
          onReason={(reason) => onOut(member, reason)}
        />
        <p className="mt-3 text-sm text-soft">
          The others go on without it. What was read stays in its own run, which can be carried on alone or broken off.
        </p>
        {present.length > 1 && (
          <button type="button" className="button button-quiet" onClick={() => setMember(null)}>
            Another one
          </button>
        )}
      </>
    );
  return (
    <div
      className="flex flex-col gap-2"
      onKeyDown={(e) => {
        if (e.key === 'Escape') onCancel();
        const chosen = present[Number(e.key) - 1];
        if (chosen === undefined) return;
        e.preventDefault();
        setMember(chosen);
      }}
    >
      <h2 className="text-xl leading-snug">Which one is taken out?</h2>
      {present.map((m, i) => (
        <button
          key={m}
          ref={i === 0 ? first : undefined}
          type="button"
          data-keys={i === 0 || undefined}
          className="button !justify-start"
          onClick={() => setMember(m)}
        >
          <span className="key">{i + 1}</span> <span className="ident">{states[m]!.instrument.identification}</span>
        </button>
      ))}
      <button type="button" className="button button-quiet" onClick={onCancel}>
        Back <span className="key">Esc</span>
      </button>
    </div>
  );
}
