import type { NewAct } from '../../core/acts/registry';
import type { Refusal } from '../../core/state/refusal';
import { ReasonPrompt } from './ReasonPrompt';

/** Words for the record, beside what is being done. */
export function NotePrompt({
  title = 'A note for the record',
  act,
  onDone,
}: {
  title?: string;
  act: (entry: NewAct) => Refusal | null;
  onDone: () => void;
}) {
  return (
    <ReasonPrompt
      title={title}
      ready={[]}
      confirm="Record it"
      onCancel={onDone}
      onReason={(text) => {
        const refusal = act({ type: 'note-added', text });
        if (!refusal) onDone();
        return refusal?.message ?? null;
      }}
    />
  );
}
