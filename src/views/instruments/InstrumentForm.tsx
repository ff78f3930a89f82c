import { FormProvider } from 'react-hook-form';
import type { InstrumentDeclaration } from '../../core/document/declarations';
import { Combobox } from '../../ui/Combobox';
import { FormEnd } from '../../ui/form/FormEnd';
import { faultIn, FormInput, FormInputs, type FormField } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { guarded } from '../../ui/guarded';
import {
  declaredFields,
  instrumentFormSchema,
  ownFields,
  typedInstrument,
  type InstrumentTyped,
  type InstrumentValues,
} from './instrument-fields';
import { kindTitle } from './kind-title';

const unitField: FormField = { name: 'unit', title: 'Unit', type: 'unit', isWanted: true };

/** Registers an instrument, or changes its entry. What is asked follows its kind; runs keep what was true when they began. */
export const InstrumentForm = guarded(function InstrumentForm({
  values,
  declarations,
  version,
}: {
  values: InstrumentValues;
  declarations: InstrumentDeclaration[];
  /** Of the entry that is changed. */ version?: string | undefined;
}) {
  const of = (kind: string) => declarations.find((d) => d.kind === kind);
  const { form, refusal, send } = useEntryForm(
    typedInstrument(values, declarations),
    (typed: InstrumentTyped) => instrumentFormSchema(values, of(typed.kind)),
    values.id ? { to: 'PUT /api/instruments/[id]', id: values.id, seen: version } : { to: 'POST /api/instruments' },
    ({ id }) => window.location.assign(`/instruments/${id}`),
  );
  const [kind, unit] = form.watch(['kind', 'unit']);
  const own = ownFields(unit.trim());
  const declared = of(kind) && declaredFields(of(kind)!, unit);
  const kinds = [...new Set([...declarations.map((d) => d.kind), ...(kind ? [kind] : [])])];

  return (
    <FormProvider {...form}>
      <form onSubmit={send()} noValidate className="mt-4 max-w-3xl">
        <div className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
          <Combobox
            label="Kind"
            hint="Decides which procedures serve it"
            value={kind}
            options={kinds.map((k) => ({ value: k, title: kindTitle(k) }))}
            onChoose={(chosen) => form.setValue('kind', chosen, { shouldDirty: true, shouldTouch: true })}
            fault={faultIn(form.formState.errors, 'kind')}
            isFocused={values.id === null}
          />
          <FormInput field={unitField} />
          <FormInputs fields={own.names} />
          {(['range', 'used'] as const).map((which) => (
            <fieldset key={which} className="grid grid-cols-2 gap-3">
              <legend className="font-bold">{which === 'range' ? 'Range of the instrument' : 'Range to be calibrated'}</legend>
              <FormInputs fields={own[which]} />
            </fieldset>
          ))}
          <FormInputs fields={[...(declared?.single ?? []), ...own.times]} />
          {declared?.lists.map((field) => (
            <div key={field.name} className="sm:col-span-2">
              <FormInput field={field} />
            </div>
          ))}
        </div>
        <div className="mt-5 flex flex-col gap-3">
          <FormInputs fields={own.ticks} />
        </div>
        <FormEnd
          refusal={refusal}
          verb={values.id ? 'Save' : 'Register'}
          away={values.id ? `/instruments/${values.id}` : '/instruments'}
        />
      </form>
    </FormProvider>
  );
});
