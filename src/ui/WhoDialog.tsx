import { useState, type FormEvent } from 'react';
import { askServer } from './ask-server';
import { Dialog, DialogClose } from './Dialog';
import { choosePerson } from './person';

type Props = { people: string[]; person: string; onAdded: (name: string) => void; onClose: () => void };

/** Who is at the bench: one of the list, or someone new. */
export function WhoDialog({ people, person, onAdded, onClose }: Props) {
  const [fault, setFault] = useState('');

  async function add(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = event.currentTarget;
    const answer = await askServer<{ name: string }>('POST', '/api/people', { name: String(new FormData(form).get('name')) });
    if (!answer.ok) return setFault(answer.refusal.message);
    onAdded(answer.body.name);
    choosePerson(answer.body.name);
    onClose();
  }

  return (
    <Dialog isOpen onClose={onClose} title="Who is at the bench?">
      <p className="mt-1 text-soft">Everything recorded on this device is signed with this name.</p>
      <div className="mt-4 flex flex-col gap-2">
        {people.map((name) => (
          <button
            key={name}
            type="button"
            className={`button ${name === person ? 'button-main' : ''}`}
            aria-pressed={name === person}
            onClick={() => {
              choosePerson(name);
              onClose();
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
  );
}
