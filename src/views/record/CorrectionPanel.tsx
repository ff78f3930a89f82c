import { useState } from 'react';
import { amendable } from '../../core/acts/amended';
import type { NewAct } from '../../core/acts/registry';
import { ask } from '../../ui/ask-server';
import { newKey } from '../../ui/new-key';
import { usePerson } from '../../ui/person';
import { SayWho } from '../../ui/SayWho';

type Member = keyof typeof amendable;
type Props = {
  run: string;
  sequence: number;
  certificate: string;
  /** What stands in it now. */ names: Readonly<Partial<Record<Member, string>>>;
  person: string;
};

/** A mistake was found after it was signed: another issue replaces this one, or it is taken back. What was issued stays to be seen. */
export function CorrectionPanel({ run, sequence, certificate, names, person: initialPerson }: Props) {
  const person = usePerson(initialPerson);
  const [reason, setReason] = useState('');
  const [member, setMember] = useState<Member | ''>('');
  const [value, setValue] = useState('');
  const [fault, setFault] = useState('');
  const [isSending, setSending] = useState(false);

  async function send(...acts: NewAct[]): Promise<void> {
    setSending(true);
    setFault('');
    let expectedSequence = sequence;
    for (const act of acts) {
      const answer = await ask('POST /api/runs/[id]/events', {
        id: run,
        body: { expectedSequence, idempotencyKey: newKey(), person, act },
      });
      if (!answer.ok) {
        setFault(answer.refusal.message);
        setSending(false);
        return;
      }
      expectedSequence = answer.body.event.sequence;
    }
    window.location.reload();
  }
  /** Does it where a reason was given. */
  const because = (...acts: NewAct[]) =>
    reason.trim().length < 3 ? setFault('Say in a few words what is wrong.') : void send(...acts);

  return (
    <details className="mt-4 border-y border-rule">
      <summary className="cursor-pointer py-3 font-bold">A mistake in it?</summary>
      <div className="pb-4">
        <p className="text-sm text-soft">
          What was signed is never changed. Another issue replaces {certificate} and says what is different; it is read and signed
          again. Or it is withdrawn: then nothing rests on this calibration any more.
        </p>
        <label className="mt-3 block">
          <span className="block text-sm text-soft">What is wrong; it stands on the next issue</span>
          <input value={reason} onChange={(e) => setReason(e.target.value)} maxLength={300} className="w-full" />
        </label>
        <div className="mt-3 flex flex-wrap items-end gap-3">
          <label>
            <span className="block text-sm text-soft">A name is mistyped</span>
            <select
              value={member}
              onChange={(e) => {
                const chosen = e.target.value as Member | '';
                setMember(chosen);
                setValue(chosen ? (names[chosen] ?? '') : '');
              }}
            >
              <option value="">none</option>
              {Object.entries(amendable).map(([id, title]) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </select>
          </label>
          {member && (
            <label className="min-w-56 flex-1">
              <span className="block text-sm text-soft">It should read</span>
              <input value={value} onChange={(e) => setValue(e.target.value)} maxLength={120} className="w-full" />
            </label>
          )}
        </div>
        <div className="mt-4 flex flex-wrap gap-3">
          {person ? (
            <>
              <button
                type="button"
                className="button button-main"
                disabled={isSending}
                onClick={() => {
                  const isSame = member && ['', names[member] ?? ''].includes(value.trim());
                  if (isSame) setFault('Type what it should read in place of this.');
                  else
                    because(
                      { type: 'correction-begun', reason: reason.trim() },
                      ...(member ? [{ type: 'amended' as const, member, value: value.trim(), reason: reason.trim() }] : []),
                    );
                }}
              >
                Correct it at the bench
              </button>
              <button
                type="button"
                className="button"
                disabled={isSending}
                onClick={() => because({ type: 'certificate-withdrawn', reason: reason.trim() })}
              >
                Withdraw {certificate}
              </button>
            </>
          ) : (
            <SayWho />
          )}
        </div>
        {fault && (
          <p className="fault mt-3" role="alert">
            {fault}
          </p>
        )}
      </div>
    </details>
  );
}
