import { useState } from 'react';
import { ask } from '../../ui/ask-server';
import { guarded } from '../../ui/guarded';
import { usePerson } from '../../ui/person';
import { SayWho } from '../../ui/SayWho';

/** Takes a procedure out of use: runs that were begun by it go on, new ones are not offered it. */
export const Retire = guarded(function Retire({ id, revision }: { id: string; revision: number }) {
  const person = usePerson('');
  const [reason, setReason] = useState('');
  const [fault, setFault] = useState('');
  return (
    <details className="mt-8">
      <summary className="cursor-pointer">Take it out of use</summary>
      <form
        className="mt-2 flex max-w-3xl flex-wrap items-end gap-3"
        onSubmit={async (e) => {
          e.preventDefault();
          const answer = await ask('DELETE /api/procedures/[id]', { id, body: { person, reason: reason.trim() } });
          if (answer.ok) window.location.assign('/procedures');
          else setFault(answer.refusal.message);
        }}
      >
        <label className="min-w-64 flex-1">
          <span className="block text-sm text-soft">
            Why: revision {revision} is not begun any more; what was begun goes on, and a newer revision is in use again
          </span>
          <input value={reason} onChange={(e) => setReason(e.target.value)} maxLength={300} className="w-full" />
        </label>
        {person ? <button className="button">Take it out of use</button> : <SayWho />}
        {fault && (
          <p className="fault w-full" role="alert">
            {fault}
          </p>
        )}
      </form>
    </details>
  );
});
