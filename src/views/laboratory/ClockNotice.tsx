import { useState } from 'react';
import { ask } from '../../ui/ask-server';
import { guarded } from '../../ui/guarded';
import { usePerson } from '../../ui/person';
import { SayWho } from '../../ui/SayWho';

const shown = (instant: string): string => `${instant.slice(0, 16).replace('T', ' ')} UTC`;

/** Something was recorded later than now: whoever knows that the later time was wrong says so, and certificates are issued again. */
export const ClockNotice = guarded(function ClockNotice({ latest, now }: { latest: string; now: string }) {
  const person = usePerson('');
  const [reason, setReason] = useState('');
  const [fault, setFault] = useState('');
  return (
    <form
      className="mb-8 border-l-8 border-ochre bg-ochre-tint px-4 py-3"
      onSubmit={async (e) => {
        e.preventDefault();
        const answer = await ask('POST /api/laboratory/clock', { body: { person, reason: reason.trim() } });
        if (answer.ok) window.location.reload();
        else setFault(answer.refusal.message);
      }}
    >
      <h2>The clock jumped</h2>
      <p className="mt-1">
        Something was recorded at {shown(latest)}; the server’s clock now says {shown(now)}. Until this is settled no certificate
        is issued. Is the clock wrong now, have it set. Was it wrong then, say so here: the entries stay as they are, marked.
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label className="min-w-64 flex-1">
          <span className="block text-sm text-soft">What happened to the clock</span>
          <input value={reason} onChange={(e) => setReason(e.target.value)} maxLength={300} className="w-full" />
        </label>
        {person ? <button className="button button-main">The time now is right, says {person}</button> : <SayWho />}
      </div>
      {fault && (
        <p className="fault mt-2" role="alert">
          {fault}
        </p>
      )}
    </form>
  );
});
