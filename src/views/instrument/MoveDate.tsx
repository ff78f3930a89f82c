import { useState } from 'react';
import type { Proposal } from '../../core/interval/proposal';
import { askServer } from '../../ui/ask-server';
import { dayField } from '../../ui/date-input';
import { Dialog, DialogClose } from '../../ui/Dialog';
import { usePerson } from '../../ui/person';

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
  const person = usePerson();
  const [isOpen, setOpen] = useState(false);
  const proposed = proposal.date !== null && proposal.date > today ? proposal.date : today;
  const [to, setTo] = useState(proposed);
  const [reason, setReason] = useState('');
  const [fault, setFault] = useState('');
  const isProposed = to === proposed;
  const send = async () => {
    const said = reason.trim() || (isProposed ? proposal.reason.slice(0, 300) : '');
    const answer = await askServer('POST', '/api/due', { instruments: [instrument.id], to, reason: said, person });
    if (answer.ok) window.location.reload();
    else setFault(answer.refusal.message);
  };
  return (
    <>
      <button type="button" className="button" onClick={() => setOpen(true)}>
        Move the due date
      </button>
      <Dialog isOpen={isOpen} onClose={() => setOpen(false)} title={`When ${instrument.identification} is due`}>
        <form
          className="mt-4 flex flex-col gap-4"
          onSubmit={(e) => {
            e.preventDefault();
            void send();
          }}
        >
          <p>
            It is due on <span className="figure font-bold">{instrument.nextDue ?? 'no day yet'}</span>. Proposed today:{' '}
            <span className="figure font-bold">{proposed}</span>.
          </p>
          <label>
            <span className="block text-sm text-soft">New date</span>
            <input {...dayField} value={to} onChange={(e) => setTo(e.target.value)} className="figure w-full" />
          </label>
          <label>
            <span className="block text-sm text-soft">
              {isProposed ? 'Reason, where it is another than the proposal’s' : `Reason for this date in place of ${proposed}`}
            </span>
            <input value={reason} onChange={(e) => setReason(e.target.value)} className="w-full" maxLength={300} />
          </label>
          {fault && (
            <p className="fault" role="alert">
              {fault}
            </p>
          )}
          <p className="flex gap-3">
            <button className="button button-main">Move it</button>
            <DialogClose className="button button-quiet">Leave it</DialogClose>
          </p>
        </form>
      </Dialog>
    </>
  );
}
