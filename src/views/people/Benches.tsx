import { useState } from 'react';
import { ask } from '../../ui/ask-server';
import { Field } from '../../ui/Field';
import { guarded } from '../../ui/guarded';

/** Devices that stay signed in for everybody who works at them; this one can become one, and one that was lost is signed out. */
export const Benches = guarded(function Benches({ benches }: { benches: { id: string; name: string; devices: number }[] }) {
  const [shown, show] = useState(benches);
  const [name, setName] = useState('');
  const [fault, setFault] = useState('');

  async function make() {
    const answer = await ask('POST /api/benches', { body: { name } });
    if (answer.ok) window.location.assign('/sign-in');
    else setFault(answer.refusal.message);
  }
  async function end(id: string) {
    const answer = await ask('DELETE /api/benches/[id]', { id });
    if (!answer.ok) return setFault(answer.refusal.message);
    show((before) => before.filter((b) => b.id !== id));
  }
  return (
    <>
      <ul className="ruled mt-2 border-y border-rule bg-sheet" aria-label="Benches">
        {shown.map((b) => (
          <li key={b.id} className="flex min-h-12 items-center gap-3 px-4 py-1">
            <span className="mr-auto">
              {b.name}
              {b.devices > 1 && `, ${b.devices} devices`}
            </span>
            <button
              type="button"
              className="button button-quiet"
              aria-label={`Sign ${b.name} out`}
              onClick={() => void end(b.id)}
            >
              Sign it out
            </button>
          </li>
        ))}
        {shown.length === 0 && <li className="px-4 py-3 text-soft">No device is a bench yet.</li>}
      </ul>
      <form
        className="mt-4 flex max-w-xl items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void make();
        }}
      >
        <div className="flex-1">
          <Field
            label="Make a bench of this device"
            hint="You are signed out here; whoever works at it takes it over with digits"
          >
            <input
              className="w-full"
              placeholder="Bench 2, by the window"
              maxLength={60}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </Field>
        </div>
        <button className="button" disabled={name.trim() === ''}>
          Make it one
        </button>
      </form>
      {fault && (
        <p className="fault mt-2" role="alert">
          {fault}
        </p>
      )}
    </>
  );
});
