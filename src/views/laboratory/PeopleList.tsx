import { useRef, useState } from 'react';
import { AddPerson } from '../../ui/AddPerson';
import { ask } from '../../ui/ask-server';
import { guarded } from '../../ui/guarded';

/** Who can sign. A name is retired after being asked once; what it has signed keeps it. */
export const PeopleList = guarded(function PeopleList({ people }: { people: string[] }) {
  const [known, setKnown] = useState(people);
  const [asked, setAsked] = useState<string | null>(null);
  const [fault, setFault] = useState('');
  const list = useRef<HTMLUListElement>(null);

  async function retire(name: string) {
    const answer = await ask('POST /api/people/retire', { body: { name } });
    setAsked(null);
    if (!answer.ok) return setFault(answer.refusal.message);
    setFault('');
    setKnown((before) => before.filter((n) => n !== name));
    list.current?.focus();
  }

  return (
    <>
      <ul ref={list} tabIndex={-1} className="ruled mt-2 border-y border-rule bg-sheet" aria-label="People">
        {known.map((name) => (
          <li key={name} className="flex min-h-12 flex-wrap items-center gap-2 px-4 py-1">
            <span className="mr-auto py-2">{name}</span>
            {asked === name ? (
              <>
                <span className="text-soft">No longer offered; past signatures stay.</span>
                <button type="button" autoFocus className="button" onClick={() => void retire(name)}>
                  Retire the name
                </button>
                <button type="button" className="button button-quiet" onClick={() => setAsked(null)}>
                  Keep it
                </button>
              </>
            ) : (
              <button type="button" className="button button-quiet" aria-label={`Retire ${name}`} onClick={() => setAsked(name)}>
                Retire
              </button>
            )}
          </li>
        ))}
        {known.length === 0 && <li className="px-4 py-3 text-soft">Nobody yet.</li>}
      </ul>
      {fault && <p className="fault mt-2">{fault}</p>}
      <div className="mt-4">
        <AddPerson title="Someone new" onAdded={(name) => setKnown((before) => [...new Set([...before, name])].sort())} />
      </div>
      <p className="mt-3 text-soft">A name typed by mistake can be retired; names that have signed a record stay in it.</p>
    </>
  );
});
