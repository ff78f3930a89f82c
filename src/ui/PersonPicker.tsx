import { useEffect, useState } from 'react';
import { UserRound } from 'lucide-react';
import { guarded } from './guarded';
import { later } from './later';
import { onAskWho, usePerson } from './person';

const WhoDialog = later(async () => (await import('./WhoDialog')).WhoDialog);

/** Says who is at the bench: every act of a run is signed with this name. */
export const PersonPicker = guarded(function PersonPicker({ people, chosen }: { people: string[]; chosen: string }) {
  const person = usePerson(chosen);
  const [known, setKnown] = useState(people);
  const [isOpen, setOpen] = useState(false);
  useEffect(() => onAskWho(() => setOpen(true)), []);
  return (
    <>
      <button type="button" className="button button-quiet" onClick={() => setOpen(true)}>
        <UserRound size={18} aria-hidden />
        {known.includes(person) ? person : 'Who is at the bench?'}
      </button>
      {isOpen && (
        <WhoDialog
          people={known}
          person={person}
          onAdded={(name) => setKnown((before) => [...new Set([...before, name])].sort())}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
});
