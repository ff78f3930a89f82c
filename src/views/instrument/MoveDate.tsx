import { useState } from 'react';
import type { Proposal } from '../../core/interval/proposal';
import { MoveDates } from '../../ui/MoveDates';

/** Sets another due date between two calibrations, with its reason. */
export function MoveDate({
  instrument,
  proposal,
  today,
}: {
  instrument: { id: string; identification: string; nextDue: string | null };
  proposal: Proposal;
  today: string;
}) {
  const [isOpen, setOpen] = useState(false);
  const proposed = proposal.date !== null && proposal.date > today ? proposal.date : today;
  return (
    <>
      <button type="button" className="button" onClick={() => setOpen(true)}>
        Move the due date
      </button>
      {isOpen && (
        <MoveDates
          title={`When ${instrument.identification} is due`}
          instruments={[instrument.id]}
          first={proposed}
          reasonForFirst={proposal.reason}
          reasonTitle={(to) =>
            to === proposed ? 'Reason, where it is another than the proposal’s' : `Reason for this date in place of ${proposed}`
          }
          onClose={() => setOpen(false)}
        >
          {() => (
            <p>
              It is due on <span className="figure font-bold">{instrument.nextDue ?? 'no day yet'}</span>. Proposed today:{' '}
              <span className="figure font-bold">{proposed}</span>.
            </p>
          )}
        </MoveDates>
      )}
    </>
  );
}
