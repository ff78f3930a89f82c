import { useState, type ReactNode } from 'react';
import { ask } from './ask-server';
import { dayField } from './date-input';
import { Dialog, DialogClose } from './Dialog';
import { usePerson } from './person';

type Props = {
  title: string;
  instruments: readonly string[];
  /** The day that is offered. */ first: string;
  /** The reason that stands for that day where no other is typed; empty where one has to be. */ reasonForFirst?: string;
  reasonTitle: (to: string) => string;
  onClose: () => void;
  children: (to: string) => ReactNode;
};

/** Gives due dates another day, with a reason that is kept. */
export function MoveDates({ title, instruments, first, reasonForFirst = '', reasonTitle, onClose, children }: Props) {
  const person = usePerson();
  const [to, setTo] = useState(first);
  const [reason, setReason] = useState('');
  const [fault, setFault] = useState('');
  const send = async () => {
    const said = reason.trim() || (to === first ? reasonForFirst.slice(0, 300) : '');
    const answer = await ask('POST /api/due', { body: { instruments: [...instruments], to, reason: said, person } });
    if (answer.ok) window.location.reload();
    else setFault(answer.refusal.message);
  };
  return (
    <Dialog isOpen onClose={onClose} title={title}>
      <form
        className="mt-4 flex flex-col gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        {children(to)}
        <label>
          <span className="block text-sm text-soft">To</span>
          <input {...dayField} value={to} onChange={(e) => setTo(e.target.value)} className="figure w-full" />
        </label>
        <label>
          <span className="block text-sm text-soft">{reasonTitle(to)}</span>
          <input value={reason} onChange={(e) => setReason(e.target.value)} className="w-full" maxLength={300} />
        </label>
        {fault && (
          <p className="fault" role="alert">
            {fault}
          </p>
        )}
        <p className="flex gap-3">
          <button className="button button-main">{instruments.length === 1 ? 'Move it' : 'Move them'}</button>
          <DialogClose className="button button-quiet">Leave it</DialogClose>
        </p>
      </form>
    </Dialog>
  );
}
