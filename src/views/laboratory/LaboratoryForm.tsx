import { useState, type FormEvent } from 'react';
import { askServer } from '../../ui/ask-server';
import { Field } from '../../ui/Field';
import { guarded } from '../../ui/guarded';

/** Name and address as they stand at the head of every certificate. */
export const LaboratoryForm = guarded(function LaboratoryForm({
  name,
  address,
  conditionInstruments,
  timeZone,
}: {
  name: string;
  address: string;
  conditionInstruments: string;
  timeZone: string;
}) {
  const [said, setSaid] = useState<{ ok: boolean; text: string } | null>(null);

  async function save(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const answer = await askServer('PUT', '/api/laboratory', {
      name: String(form.get('name')),
      address: String(form.get('address')),
      conditionInstruments: String(form.get('conditionInstruments')),
      timeZone: String(form.get('timeZone')),
    });
    setSaid(answer.ok ? { ok: true, text: 'Saved.' } : { ok: false, text: answer.refusal.message });
  }

  return (
    <form onSubmit={save} className="mt-3 grid gap-4">
      <Field label="Name, as it stands on certificates">
        <input name="name" defaultValue={name} required maxLength={120} className="w-full" />
      </Field>
      <Field label="Address">
        <input name="address" defaultValue={address} maxLength={300} className="w-full" />
      </Field>
      <Field
        label="Conditions are read from"
        hint="Thermometers, hygrometers and barometers with their numbers, as certificates name them"
      >
        <input name="conditionInstruments" defaultValue={conditionInstruments} maxLength={300} className="w-full" />
      </Field>
      <Field label="Time zone" hint="Dates on records and certificates are the laboratory's days">
        <select name="timeZone" defaultValue={timeZone} className="w-full">
          {[...new Set([timeZone, 'UTC', ...Intl.supportedValuesOf('timeZone')])].map((zone) => (
            <option key={zone} value={zone}>
              {zone.replaceAll('_', ' ')}
            </option>
          ))}
        </select>
      </Field>
      <div className="flex items-center gap-4">
        <button className="button button-main">Save</button>
        <span role="status" className={said && !said.ok ? 'fault' : ''}>
          {said?.text}
        </span>
      </div>
    </form>
  );
});
