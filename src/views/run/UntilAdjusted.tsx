import { isBeforeAdjusting } from '../../core/state/progress';
import { useState, type ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { runKeys } from './keymap';
import { ReasonPrompt } from './ReasonPrompt';
import { useRun } from './run-context';

const reasons = ['It holds the right value already', 'The cause lies elsewhere', 'Chosen by mistake'];

/** Beneath what leads to an adjustment, as long as nothing is changed: the way back to the judgement. */
export function UntilAdjusted({ set, children }: { set: string; children: ReactNode }) {
  const { state, act } = useRun();
  const [isAsking, setAsking] = useState(false);
  const isBefore = isBeforeAdjusting(state, set);
  useHotkeys(runKeys.giveUp.keys, () => setAsking(true), {
    enabled: isBefore,
    enableOnFormTags: ['INPUT'],
    preventDefault: true,
    // A letter belongs to the note that is being written.
    ignoreEventWhen: ({ target }) => target instanceof HTMLInputElement && target.inputMode !== 'decimal',
  });
  if (!isBefore) return children;
  return (
    <>
      {isAsking && (
        <ReasonPrompt
          title="Nothing was changed: why is it not adjusted?"
          ready={reasons}
          confirm="Back to the judgement"
          onCancel={() => setAsking(false)}
          onReason={(reason) => act({ type: 'adjustment-abandoned', set, reason })?.message ?? null}
        />
      )}
      {/* What was typed stays as it is. */}
      <div className={isAsking ? 'hidden' : ''}>
        {children}
        <button type="button" className="button button-quiet mt-3" onClick={() => setAsking(true)}>
          Nothing was changed: back <span className="key">{runKeys.giveUp.shown}</span>
        </button>
      </div>
    </>
  );
}
