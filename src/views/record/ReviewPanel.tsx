import { useState } from 'react';
import { askServer } from '../../ui/ask-server';
import { newKey } from '../../ui/new-key';
import { usePerson } from '../../ui/person';

/** A second person reads the record and signs it. */
export function ReviewPanel({
  run,
  sequence,
  finishedBy,
  person: initialPerson,
}: {
  run: string;
  sequence: number;
  finishedBy: string;
  person: string;
}) {
  const person = usePerson(initialPerson);
  const [remark, setRemark] = useState('');
  const [fault, setFault] = useState('');
  const [key] = useState(newKey);
  const isSame = person === finishedBy;

  async function sign() {
    const answer = await askServer('POST', `/api/runs/${run}/events`, {
      expectedSequence: sequence,
      idempotencyKey: key,
      person,
      act: { type: 'run-reviewed', remark: remark.trim() },
    });
    if (answer.ok) window.location.reload();
    else setFault(answer.refusal.message);
  }

  return (
    <section className="mt-4 border-y border-ink bg-sheet px-4 py-4" aria-label="Review">
      <div className="flex flex-wrap items-end gap-4">
        <div className="min-w-64 flex-1">
          <h2>To be signed by a second person</h2>
          {isSame || !person ? (
            <p className="text-soft">
              {isSame
                ? `${finishedBy} finished this run; someone else reads and signs it.`
                : 'Say who you are with the button at the top right.'}
            </p>
          ) : (
            <label className="mt-1 block">
              <span className="block text-sm text-soft">Remark, if any</span>
              <input value={remark} onChange={(e) => setRemark(e.target.value)} className="w-full" maxLength={1000} />
            </label>
          )}
        </div>
        <button type="button" className="button button-main" disabled={isSame || !person} onClick={sign}>
          {isSame || !person ? 'Sign' : `Sign as ${person}`}
        </button>
      </div>
      {fault && (
        <p className="fault mt-3" role="alert">
          {fault}
        </p>
      )}
    </section>
  );
}
