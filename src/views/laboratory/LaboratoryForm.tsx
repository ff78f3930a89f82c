import { useState } from 'react';
import { FormProvider } from 'react-hook-form';
import { laboratoryEntrySchema, type LaboratoryEntry } from '../../core/register/entry-schemas';
import { Combobox } from '../../ui/Combobox';
import { FormInputs, type FormField } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { guarded } from '../../ui/guarded';

const fields: FormField[] = [
  { name: 'name', title: 'Name, as it stands on certificates', type: 'text', isWanted: true },
  { name: 'address', title: 'Address', type: 'text', longest: 300 },
  {
    name: 'conditionInstruments',
    title: 'Conditions are read from',
    type: 'text',
    hint: 'Thermometers, hygrometers and barometers with their numbers, as certificates name them',
    longest: 300,
  },
];

/** Name and address as they stand at the head of every certificate. */
export const LaboratoryForm = guarded(function LaboratoryForm({ laboratory }: { laboratory: LaboratoryEntry }) {
  const [isSaved, setSaved] = useState(false);
  const { form, refusal, send } = useEntryForm<LaboratoryEntry, LaboratoryEntry>(
    laboratory,
    () => laboratoryEntrySchema,
    { to: 'PUT /api/laboratory' },
    // Named for the first time: on to the next step.
    () => (laboratory.name === '' ? window.location.assign('/') : setSaved(true)),
  );
  const timeZone = form.watch('timeZone');
  const zones = [...new Set([timeZone, 'UTC', ...Intl.supportedValuesOf('timeZone')])];

  return (
    <FormProvider {...form}>
      <form onSubmit={send()} onChange={() => setSaved(false)} noValidate className="mt-3 grid gap-4">
        <FormInputs fields={fields} />
        <Combobox
          label="Time zone"
          hint="Dates on records and certificates are the laboratory's days"
          value={timeZone}
          options={zones.map((zone) => ({ value: zone, title: zone.replaceAll('_', ' ') }))}
          onChoose={(zone) => {
            setSaved(false);
            form.setValue('timeZone', zone, { shouldDirty: true });
          }}
        />
        <div className="flex items-center gap-4">
          <button className="button button-main" disabled={form.formState.isSubmitting}>
            Save
          </button>
          <span role="status" className={refusal ? 'fault' : ''}>
            {refusal ? refusal.message : isSaved ? 'Saved.' : ''}
          </span>
        </div>
      </form>
    </FormProvider>
  );
});
