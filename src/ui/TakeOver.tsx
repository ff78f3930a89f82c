import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { ask } from './ask-server';
import { Digits } from './Digits';

type Props = {
  people: readonly string[];
  /** Who was here last, and is asked first. */ last: string | null;
  /** Digits that may be known to all, as in a demo. */ known?: Readonly<Record<string, string>>;
  /** What each does, in a word. */ does?: Readonly<Record<string, string>>;
  onTaken: (person: string) => void;
};

/** Who works at the bench from now on: a name, chosen by finger or by its number, and that person's digits. */
export function TakeOver({ people, last, known = {}, does = {}, onTaken }: Props) {
  const only = people.length === 1 ? people[0]! : null;
  const [chosen, choose] = useState<string | null>(only ?? (last && people.includes(last) ? last : null));
  const [fault, setFault] = useState('');
  const [needsPassword, setNeedsPassword] = useState(false);

  async function take(person: string, digits: string) {
    const answer = await ask('POST /api/sign-in/bench', { body: { person, digits } });
    if (answer.ok) return onTaken(answer.body.person);
    setFault(answer.refusal.message);
    if (answer.refusal.details['needsPassword']) setNeedsPassword(true);
  }
  const pick = (person: string) => {
    setFault('');
    setNeedsPassword(false);
    const digits = known[person];
    if (digits) void take(person, digits);
    else choose(person);
  };
  useHotkeys(
    people.slice(0, 9).map((_, i) => String(i + 1)),
    (event) => {
      event.preventDefault();
      pick(people[Number(event.key) - 1]!);
    },
    { enabled: chosen === null },
    [people, chosen],
  );

  if (chosen === null)
    return (
      <>
        <ul className="mt-4 grid gap-2" aria-label="People">
          {people.map((name, i) => (
            <li key={name}>
              <button
                type="button"
                autoFocus={i === 0}
                className="button w-full !min-h-14 !justify-start !gap-4"
                onClick={() => pick(name)}
              >
                {i < 9 && <span className="key">{i + 1}</span>}
                <span>{name}</span>
                {does[name] && <span className="font-normal text-soft">{does[name]}</span>}
                {known[name] && <span className="figure ml-auto font-normal text-soft">{known[name]}</span>}
              </button>
            </li>
          ))}
        </ul>
        {fault && (
          <p className="fault mt-3" role="alert">
            {fault}
          </p>
        )}
      </>
    );
  return (
    <div className="mt-4">
      <p className="mb-3 text-lg font-bold">{chosen}</p>
      <Digits
        key={chosen}
        label="Digits"
        action="Go on"
        needsPassword={needsPassword}
        fault={fault}
        onEntered={(typed) => take(chosen, typed)}
      />
      {only === null && (
        <p className="mt-3">
          <button
            type="button"
            className="button button-quiet"
            onClick={() => {
              setFault('');
              setNeedsPassword(false);
              choose(null);
            }}
          >
            Somebody else
          </button>
        </p>
      )}
    </div>
  );
}
