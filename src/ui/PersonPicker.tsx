import { useState, type FormEvent } from 'react';
import { UserRound } from 'lucide-react';
import { askServer } from './ask-server';
import { Dialog, DialogClose } from './Dialog';
import { choosePerson, usePerson } from './person';
import { guarded } from './guarded';

/** Says who is at the bench: every act of a run is signed with this name. */
export const PersonPicker = guarded(function PersonPicker({ people, chosen }: { people: string[]; chosen: string }) {
  const person = usePerson(chosen);
  const [known, setKnown] = useState(people);
  const [fault, setFault] = useState('');
  const [isOpen, setOpen] = useState(false);

  async function add(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = event.currentTarget;
    const answer = await askServer<{ name: string }>('POST', '/api/people', { name: String(new FormData(form).get('name')) });
    if (!answer.ok) return setFault(answer.refusal.message);
    setFault('');
    setKnown((before) => [...new Set([...before, answer.body.name])].sort());
    choosePerson(answer.body.name);
    form.reset();
    setOpen(false);
  }

  return (
    <>
      <button type="button" className="button button-quiet" onClick={() => setOpen(true)}>
        <UserRound size={18} aria-hidden />
        {known.includes(person) ? person : 'Who is at the bench?'}
      </button>
      <Dialog isOpen={isOpen} onClose={() => setOpen(false)} title="Who is at the bench?">
        <p className="mt-1 text-soft">Everything recorded on this device is signed with this name.</p>
        <div className="mt-4 flex flex-col gap-2">
          {known.map((name) => (
            <button
              key={name}
              type="button"
              className={`button ${name === person ? 'button-main' : ''}`}
              aria-pressed={name === person}
              onClick={() => {
                choosePerson(name);
                setOpen(false);
              }}
            >
              {name}
            </button>
          ))}
        </div>
        <form className="mt-4 flex items-end gap-2" onSubmit={add}>
          <label className="flex-1">
            <span className="block text-sm text-soft">Someone new</span>
            <input name="name" className="w-full" autoComplete="name" required maxLength={120} />
          </label>
          <button className="button">Add</button>
        </form>
        {fault && <p className="fault mt-3">{fault}</p>}
        <p className="mt-4 text-right">
          <DialogClose className="button button-quiet">Close</DialogClose>
        </p>
      </Dialog>
    </>
  );
});
