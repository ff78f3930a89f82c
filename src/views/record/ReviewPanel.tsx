import type { NewAct } from '../../core/acts/registry';
import { useState } from 'react';
import { ask } from '../../ui/ask-server';
import { newKey } from '../../ui/new-key';
import { usePerson } from '../../ui/person';
import { SayWho } from '../../ui/SayWho';

type Props = {
  run: string;
  sequence: number;
  /** Whoever took part: none of them may sign. */ tookPart: ReadonlySet<string>;
  /** What deserves a look, each in a sentence. */ points: readonly string[];
  person: string;
};

/** A second person reads the record, and signs it or sends it back. */
export function ReviewPanel({ run, sequence, tookPart, points, person: initialPerson }: Props) {
  const person = usePerson(initialPerson);
  const [remark, setRemark] = useState('');
  const [fault, setFault] = useState('');
  // The same click sent twice is one event; the other decision is another.
  const [keys] = useState(() => ({ 'run-reviewed': newKey(), 'run-returned': newKey() }));
  const isSame = tookPart.has(person);
  const mayNot = isSame || !person;

  async function send(act: Extract<NewAct, { type: 'run-reviewed' | 'run-returned' }>) {
    const answer = await ask('POST /api/runs/[id]/events', {
      id: run,
      body: {
        expectedSequence: sequence,
        idempotencyKey: keys[act.type],
        person,
        act,
      },
    });
    if (answer.ok) window.location.reload();
    else setFault(answer.refusal.message);
  }

  return (
    <section className="mt-4 border-y border-ink bg-sheet px-4 py-4" aria-label="Review">
      <h2>To be signed by a second person</h2>
      <p className="mt-1 text-sm text-soft">{points.length > 0 ? 'Look at these first:' : 'Nothing was out of the ordinary.'}</p>
      {points.length > 0 && (
        <ul className="ruled mt-1 border-y border-rule">
          {points.map((point, i) => (
            <li key={i} className="py-1.5">
              {point}
            </li>
          ))}
        </ul>
      )}
      <div className="mt-3 flex flex-wrap items-end gap-4">
        <div className="min-w-64 flex-1">
          {mayNot ? (
            isSame ? (
              <p className="text-soft">{person} took part in this run; someone else reads and signs it.</p>
            ) : (
              <SayWho />
            )
          ) : (
            <label className="block">
              <span className="block text-sm text-soft">Remark: needed to send it back</span>
              <input value={remark} onChange={(e) => setRemark(e.target.value)} className="w-full" maxLength={300} />
            </label>
          )}
        </div>
        <button
          type="button"
          className="button"
          disabled={mayNot}
          onClick={() =>
            remark.trim().length < 3
              ? setFault('Write in the remark what is to be looked at again.')
              : send({ type: 'run-returned', remark: remark.trim() })
          }
        >
          Send it back
        </button>
        <button
          type="button"
          className="button button-main"
          disabled={mayNot}
          onClick={() => send({ type: 'run-reviewed', remark: remark.trim() })}
        >
          {mayNot ? 'Sign' : `Sign as ${person}`}
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
