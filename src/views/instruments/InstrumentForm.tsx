import { useState, type FormEvent } from 'react';
import { askServer, type ServerRefusal } from '../../ui/ask-server';
import { Field } from '../../ui/Field';
import { FormNumbers } from '../../ui/form-numbers';
import { guarded } from '../../ui/guarded';

export type InstrumentValues = {
  id: string | null;
  identification: string;
  designation: string;
  owner: string;
  place: string;
  rangeLower: number | null;
  rangeUpper: number | null;
  calibratedLower: number | null;
  calibratedUpper: number | null;
  resolution: number | null;
  maximumPermissibleError: number | null;
  adjustmentAllowed: boolean;
  intervalMonths: number | null;
  state: string;
  nextDue: string | null;
};

/** Registers an instrument, or changes its entry. Runs keep what was true when they began. */
export const InstrumentForm = guarded(function InstrumentForm({ values }: { values: InstrumentValues }) {
  const [refusal, setRefusal] = useState<ServerRefusal | null>(null);
  const [busy, setBusy] = useState(false);
  const faultAt = (name: string) => (refusal?.path[0] === name ? refusal.message : undefined);
  const text = (value: number | null) => (value === null ? '' : String(value));

  async function save(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const numbers = new FormNumbers(form);
    const words = (name: string) => String(form.get(name) ?? '');
    const entry = {
      identification: words('identification'),
      kind: 'outside-micrometer',
      designation: words('designation'),
      owner: words('owner'),
      place: words('place'),
      rangeLower: numbers.at('rangeLower'),
      rangeUpper: numbers.at('rangeUpper'),
      calibratedLower: numbers.at('calibratedLower') ?? numbers.at('rangeLower'),
      calibratedUpper: numbers.at('calibratedUpper') ?? numbers.at('rangeUpper'),
      resolution: numbers.at('resolution'),
      maximumPermissibleError: numbers.at('maximumPermissibleError', 1e-3),
      adjustmentAllowed: form.get('adjustmentAllowed') === 'on',
      intervalMonths: numbers.at('intervalMonths'),
      state: form.get('outOfUse') === 'on' ? 'out-of-use' : 'in-use',
      nextDue: words('nextDue') || null,
    };
    if (numbers.refusal) return setRefusal(numbers.refusal);
    setBusy(true);
    const answer = await askServer<{ id: string }>(
      values.id ? 'PUT' : 'POST',
      values.id ? `/api/instruments/${values.id}` : '/api/instruments',
      entry,
    );
    setBusy(false);
    if (answer.ok) window.location.assign(`/instruments/${answer.body.id}`);
    else setRefusal(answer.refusal);
  }

  const input = (name: keyof InstrumentValues, more: Record<string, unknown> = {}) => (
    <input
      name={name}
      defaultValue={typeof values[name] === 'number' ? text(values[name] as number) : String(values[name] ?? '')}
      className="w-full"
      aria-invalid={faultAt(name) ? true : undefined}
      {...more}
    />
  );
  const figure = { inputMode: 'decimal', className: 'figure w-full' };

  return (
    <form onSubmit={save} className="mt-4 max-w-3xl">
      <div className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
        <Field label="Identification" hint="As engraved or on its label" fault={faultAt('identification')}>
          {input('identification', { required: true, autoFocus: true, maxLength: 120 })}
        </Field>
        <Field label="Make and type" fault={faultAt('designation')}>
          {input('designation', { maxLength: 120 })}
        </Field>
        <Field label="Owner" fault={faultAt('owner')}>
          {input('owner', { required: true, maxLength: 120 })}
        </Field>
        <Field label="Place" fault={faultAt('place')}>
          {input('place', { maxLength: 120 })}
        </Field>
        <fieldset className="grid grid-cols-2 gap-3">
          <legend className="font-bold">Range of the instrument</legend>
          <Field label="from, mm" fault={faultAt('rangeLower')}>
            {input('rangeLower', { ...figure, required: true })}
          </Field>
          <Field label="to, mm" fault={faultAt('rangeUpper')}>
            {input('rangeUpper', { ...figure, required: true })}
          </Field>
        </fieldset>
        <fieldset className="grid grid-cols-2 gap-3">
          <legend className="font-bold">Range to be calibrated</legend>
          <Field label="from, mm" fault={faultAt('calibratedLower')}>
            {input('calibratedLower', { ...figure, placeholder: 'as above' })}
          </Field>
          <Field label="to, mm" fault={faultAt('calibratedUpper')}>
            {input('calibratedUpper', { ...figure, placeholder: 'as above' })}
          </Field>
        </fieldset>
        <Field label="Resolution, mm" hint="One step of the display or vernier" fault={faultAt('resolution')}>
          {input('resolution', { ...figure, required: true })}
        </Field>
        <Field label="Maximum permissible error, µm" hint="Empty: the procedure's" fault={faultAt('maximumPermissibleError')}>
          {input('maximumPermissibleError', {
            ...figure,
            defaultValue:
              values.maximumPermissibleError === null
                ? ''
                : String(Number((values.maximumPermissibleError * 1000).toPrecision(6))),
          })}
        </Field>
        <Field label="Interval, months" hint="Empty: the procedure's policy" fault={faultAt('intervalMonths')}>
          {input('intervalMonths', { inputMode: 'numeric', className: 'figure w-full' })}
        </Field>
        <Field label="Next calibration due" hint="Set anew by each run" fault={faultAt('nextDue')}>
          {input('nextDue', { type: 'date' })}
        </Field>
      </div>
      <div className="mt-5 flex flex-col gap-3">
        <label className="flex items-center gap-3">
          <input type="checkbox" name="adjustmentAllowed" defaultChecked={values.adjustmentAllowed} />
          The owner allows adjustment
        </label>
        <label className="flex items-center gap-3">
          <input type="checkbox" name="outOfUse" defaultChecked={values.state === 'out-of-use'} />
          Out of use: it is not planned and cannot be put on the bench
        </label>
      </div>
      {refusal && (
        <p className="fault mt-4" role="alert">
          {refusal.message}
        </p>
      )}
      <div className="mt-5 flex gap-3">
        <button className="button button-main" disabled={busy}>
          {values.id ? 'Save' : 'Register'}
        </button>
        <a href={values.id ? `/instruments/${values.id}` : '/instruments'} className="button button-quiet">
          Cancel
        </a>
      </div>
    </form>
  );
});
