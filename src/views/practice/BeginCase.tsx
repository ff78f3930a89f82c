import { useState, type ReactNode } from 'react';
import { ask } from '../../ui/ask-server';
import { usePerson } from '../../ui/person';

type Props = { caseId: string; person: string; isMain?: boolean; children: ReactNode };

/** Puts a case on the practice bench and goes there. */
export function BeginCase({ caseId, person: initial, isMain = false, children }: Props) {
  const person = usePerson(initial);
  const [fault, setFault] = useState('');
  const [isBusy, setBusy] = useState(false);
  const begin = async () => {
    if (!person) return setFault('Say who you are: choose your name at the top of the page.');
    setBusy(true);
    const answer = await ask('POST /api/practice', { body: { case: caseId, person } });
    if (answer.ok) return window.location.assign(`/practice/${answer.body.practice}`);
    setBusy(false);
    setFault(answer.refusal.message);
  };
  return (
    <span className="inline-flex flex-col items-start gap-1">
      <button type="button" className={`button ${isMain ? 'button-main' : ''}`} disabled={isBusy} onClick={() => void begin()}>
        {children}
      </button>
      {fault && (
        <span className="fault text-sm" role="alert">
          {fault}
        </span>
      )}
    </span>
  );
}
