import { actWords } from '../../core/acts/words';
import type { RunState } from '../../core/state/run-state';
import { timeOfDay } from '../../ui/clock';
import type { PendingAct } from './pending-acts';
import type { Trouble } from './run-log-store';

type Props = {
  state: RunState;
  pending: readonly PendingAct[];
  isUnreachable: boolean;
  waiting: string | null;
  trouble: Trouble | null;
  isFull: boolean;
  /** The clock of this device differs from the server's by minutes. */ isClockOff?: boolean;
  onSendAgain: () => void;
  onLeaveOut: (key: string) => void;
};

/** What is typed and not recorded: on its way, or waiting for the person to decide. */
export function PendingBar({
  state,
  pending,
  isUnreachable,
  waiting,
  trouble,
  isFull,
  isClockOff,
  onSendAgain,
  onLeaveOut,
}: Props) {
  const [first] = pending;
  return (
    <>
      {isUnreachable && (
        <p className="caution mx-6 mt-2" role="status">
          The server does not answer. {pending.length} {pending.length === 1 ? 'entry is' : 'entries are'} kept in this browser
          and will be sent as soon as it does. You may go on.
        </p>
      )}
      {waiting && (
        <p className="caution mx-6 mt-2" role="status">
          {waiting} {pending.length === 1 ? 'One entry is' : `${pending.length} entries are`} not recorded yet.
        </p>
      )}
      {isClockOff && (
        <p className="caution mx-6 mt-2" role="status">
          The clock of this device is minutes away from the server’s. Times are recorded by the server’s; have this one set.
        </p>
      )}
      {isFull && (
        <p className="caution mx-6 mt-2" role="alert">
          This browser has no room left: what is not recorded yet is kept in this window alone. Do not close it before all is
          recorded.
        </p>
      )}
      {trouble && first && (
        <div className="fault mx-6 mt-2" role="alert">
          <p>
            {trouble.message} {pending.length === 1 ? 'This is' : 'These are'} not recorded, and kept until you decide:
          </p>
          <ol className="my-2 max-h-40 overflow-auto" aria-label="Not recorded">
            {pending.map((p) => (
              <li key={p.key} className="flex gap-3">
                <span className="figure">{timeOfDay(p.done.at)}</span> {actWords(p.act, state)}
              </li>
            ))}
          </ol>
          <p className="flex flex-wrap gap-3">
            <button type="button" className="button" onClick={onSendAgain}>
              Send {pending.length === 1 ? 'it' : 'them'} again
            </button>
            <button type="button" className="button" onClick={() => onLeaveOut(first.key)}>
              Leave out {pending.length === 1 ? 'this' : 'the first'}
            </button>
          </p>
        </div>
      )}
    </>
  );
}
