import { AddPerson } from './AddPerson';
import { Dialog, DialogClose } from './Dialog';
import { choosePerson } from './person';

type Props = { people: string[]; person: string; onAdded: (name: string) => void; onClose: () => void };

/** Who is at the bench: one of the list, or someone new. */
export function WhoDialog({ people, person, onAdded, onClose }: Props) {
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
      <div className="mt-4">
        <AddPerson
          title="Someone new"
          onAdded={(name) => {
            onAdded(name);
            choosePerson(name);
            onClose();
          }}
        />
      </div>
      <p className="mt-4 text-right">
        <DialogClose className="button button-quiet">Close</DialogClose>
      </p>
    </Dialog>
  );
}
