import { runKeys } from './keymap';

/** What was typed and is doubted: what is offered in its place, and whether it may be kept on purpose. */
export type Doubt = { text: string; suggestion: string | undefined; keepable: boolean };

type Props = { message: string; doubt: Doubt | null; onMeant: () => void; onKeep: () => void };

/** What is said of what was typed, with the ways on: each is chosen on purpose, never by the key that records. */
export function DoubtNote({ message, doubt, onMeant, onKeep }: Props) {
  return (
    <div className={`mt-2 ${doubt ? 'caution' : 'fault'}`} role="alert">
      <p>{message}</p>
      {doubt && (
        <p className="mt-1 flex flex-wrap gap-2">
          {doubt.suggestion && (
            <button type="button" className="button" onClick={onMeant}>
              Take {doubt.suggestion} <span className="key">{runKeys.meant.shown}</span>
            </button>
          )}
          {doubt.keepable && (
            <button type="button" className="button" onClick={onKeep}>
              Keep {doubt.text} <span className="key">=</span>
            </button>
          )}
        </p>
      )}
    </div>
  );
}
