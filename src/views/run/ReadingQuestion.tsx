import { pointTitle } from '../../core/run/place-words';
import type { SeriesDocument } from '../../core/procedure/document-schema';
import type { Reading, Slot } from '../../core/state/run-state';
import type { Place } from '../../core/plan/plan-schema';
import type { Doubt } from './DoubtNote';
import { ItemsChooser } from './ItemsChooser';
import { ReasonPrompt } from './ReasonPrompt';
import { useRun } from './run-context';

/** What is asked before something is done to readings: why, or with which items. */
export type Asking = 'strike' | 'skip' | 'end' | 'reason' | { items: string };

const strikeReasons = ['Mistyped', 'Not settled', 'Disturbed', 'Dirt, wiped since'];
const skipReasons = ['The standard has nothing for it', 'The instrument does not reach it'];
const keepReasons = ['Read twice: it shows this', 'The instrument is damaged'];
const endReasons = ['The owner needs only this range', 'It cannot go further', 'No time today'];

type Props = {
  asking: Asking;
  slot: Slot;
  series: SeriesDocument;
  /** What a skip takes with it. */ scope: Place & { series: string };
  /** The reading that is struck out, as it is said. */ selected: { reading: Reading; words: string } | undefined;
  doubted: { message: string; doubt: Doubt } | null;
  onKeep: (text: string, reason: string) => string | null;
  /** Where to go on; null: with what comes next. */ onDone: (cursor: Slot | null) => void;
  onBack: () => void;
};

/** Asks, and does it with the answer. Null where there is nothing to ask about. */
export function ReadingQuestion({ asking, slot, series, scope, selected, doubted, onKeep, onDone, onBack }: Props) {
  const { state, act } = useRun();
  const done = (entry: Parameters<typeof act>[0], cursor: Slot | null): string | null => {
    const refusal = act(entry);
    if (refusal) return refusal.message;
    onDone(cursor);
    return null;
  };
  if (typeof asking === 'object') return <ItemsChooser slot={slot} use={asking.items} onDone={onBack} />;
  switch (asking) {
    case 'strike':
      return (
        selected && (
          <ReasonPrompt
            title={`Strike out ${selected.words}: why?`}
            ready={strikeReasons}
            confirm="Strike it out"
            onCancel={onBack}
            onReason={(reason) => done({ type: 'struck', sequence: selected.reading.sequence, reason }, slot)}
          />
        )
      );
    case 'skip':
      return (
        <ReasonPrompt
          title={`Skip ${series.points ? pointTitle(state, slot) : series.title}: why?`}
          ready={skipReasons}
          confirm="Skip it"
          onCancel={onBack}
          onReason={(reason) => done({ type: 'skipped', ...scope, reason }, null)}
        />
      );
    case 'end':
      return (
        <ReasonPrompt
          title="End these readings here: why? What is there stays; the record says that it is not complete."
          ready={endReasons}
          confirm="End them here"
          onCancel={onBack}
          onReason={(reason) => done({ type: 'set-ended', set: slot.set, reason }, null)}
        />
      );
    case 'reason':
      return (
        doubted && (
          <ReasonPrompt
            title={doubted.message}
            ready={keepReasons}
            confirm={`Keep ${doubted.doubt.text}`}
            onCancel={onBack}
            onReason={(reason) => onKeep(doubted.doubt.text, reason)}
          />
        )
      );
  }
}
