import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { limitedWords, proposedLimits } from '../../core/run/limiting';
import { runKeys } from './keymap';
import { ReasonPrompt } from './ReasonPrompt';
import { useRun } from './run-context';

const agreements = ['Agreed with the owner by telephone', 'The owner’s standing order'];

/** What is outside as it was left may still be used for what it holds: proposed, agreed with the owner, recorded. */
export function LimitTo({ children }: { children: React.ReactNode }) {
  const { state, act } = useRun();
  const [isAsking, setAsking] = useState(false);
  const [fault, setFault] = useState('');
  const proposed = proposedLimits(state);
  const { limited } = state;
  useHotkeys(runKeys.limit.keys, () => setAsking(true), {
    preventDefault: true,
    enabled: proposed !== null && !limited && !isAsking,
  });
  if (!proposed && !limited) return children;
  if (isAsking && proposed)
    return (
      <ReasonPrompt
        title={`Limited to ${limitedWords(state, proposed)}: what was agreed with the owner?`}
        ready={agreements}
        confirm="Limit it so"
        onCancel={() => setAsking(false)}
        onReason={(agreed) => {
          const refusal = act({ type: 'limited', to: proposed, agreed });
          if (!refusal) setAsking(false);
          return refusal?.message ?? null;
        }}
      />
    );
  return (
    <>
      <section className="mb-4 border-b border-rule pb-3" aria-label="Limited use">
        <p className="caution">
          {limited ? (
            <>
              <strong>Limited to {limitedWords(state, limited.to)}.</strong> {limited.agreed}. Label and certificate say so.
            </>
          ) : (
            <>
              It is outside its limits as it was left, and holds them for <strong>{limitedWords(state, proposed!)}</strong>.
            </>
          )}
        </p>
        {fault && <p className="fault mt-2">{fault}</p>}
        {limited ? (
          <button
            type="button"
            className="button mt-2"
            onClick={() => setFault(act({ type: 'limited', to: [], agreed: 'Taken back' })?.message ?? '')}
          >
            Take it back
          </button>
        ) : (
          <button type="button" className="button mt-2" onClick={() => setAsking(true)}>
            Limit it to that <span className="key">{runKeys.limit.shown}</span>
          </button>
        )}
      </section>
      {children}
    </>
  );
}
