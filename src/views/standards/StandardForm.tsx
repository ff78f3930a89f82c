import { useMemo } from 'react';
import { FormProvider } from 'react-hook-form';
import type { StandardDeclaration } from '../../core/procedure/declarations';
import { plainTitles, readStandardTable } from '../../core/standard/standard-table';
import { Combobox } from '../../ui/Combobox';
import { Field } from '../../ui/Field';
import { FormEnd } from '../../ui/form/FormEnd';
import { faultIn, FormInput, FormInputs } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { guarded } from '../../ui/guarded';
import {
  certificateFields,
  contentTitles,
  isTable,
  nameFields,
  standardFormSchema,
  typedStandard,
  type StandardValues,
} from './standard-fields';

/** Enters a standard from its certificate. Runs keep the values they were measured with; a former certificate is kept too. */
export const StandardForm = guarded(function StandardForm({
  values,
  declarations,
  version,
  leadsTo,
}: {
  values: StandardValues;
  declarations: StandardDeclaration[];
  /** Of the entry that is changed. */ version?: string | undefined;
  /** Where to go once it is entered; its own page if not said. */ leadsTo?: string | undefined;
}) {
  const { form, refusal, send } = useEntryForm(
    typedStandard(values, declarations),
    () => standardFormSchema(values.document, declarations),
    values.id
      ? { method: 'PUT', address: `/api/standards/${values.id}`, seen: version }
      : { method: 'POST', address: '/api/standards' },
    ({ id }) => window.location.assign(leadsTo ?? `/standards/${id}`),
  );
  const [content, kind, table, unit, smallUnit] = form.watch(['content', 'document.kind', 'table', 'document.unit', 'smallUnit']);
  const { errors } = form.formState;
  const list = useMemo(
    () => (isTable(content) ? readStandardTable(table, content, unit.trim(), smallUnit.trim()) : null),
    [table, content, unit, smallUnit],
  );
  // What the server or the entry's schema says of a certified value stands with the table.
  const tableFault = faultIn(errors, 'table') ?? (isTable(content) ? faultIn(errors, `document.${content}`) : undefined);

  return (
    <FormProvider {...form}>
      <form
        // Saved once more after values that jumped were shown: they were looked at.
        onSubmit={send((before) => ({ jumpsSeen: before?.details['jumps'] !== undefined }))}
        noValidate
        className="mt-4 grid gap-8 lg:grid-cols-[1fr_1.2fr]"
      >
        <div className="flex flex-col gap-4">
          <Combobox
            label="Kind"
            hint="Decides which roles it can fill"
            value={kind}
            options={declarations.map((d) => ({ value: d.kind, title: d.title }))}
            onChoose={(chosen) => form.setValue('document.kind', chosen, { shouldTouch: true, shouldDirty: true })}
            onOther={(other) => form.setValue('document.kind', other, { shouldTouch: true, shouldDirty: true })}
            fault={faultIn(errors, 'document.kind')}
            isFocused={values.id === null}
          />
          <FormInput field={{ name: 'place', title: 'Place', type: 'text' }} />
          {content !== 'document' && (
            <>
              <FormInputs fields={nameFields} />
              <div className="grid grid-cols-2 gap-4">
                <FormInputs fields={certificateFields(declarations.find((x) => x.kind === kind))} />
              </div>
            </>
          )}
        </div>
        <div>
          <Field label="What its certificate states">
            <select {...form.register('content')} className="w-full">
              {Object.entries(contentTitles).map(([id, title]) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </select>
          </Field>
          {isTable(content) && list && (
            <>
              <div className="mt-4">
                <Field
                  label={`A line each: ${plainTitles[content]}`}
                  hint="Paste the table of the certificate with its headings: serial, nominal, deviation (µm), U (µm), k are found by name. Comma or point; tabs, semicolons, commas or spaces between."
                  fault={tableFault}
                >
                  <textarea
                    {...form.register('table')}
                    rows={14}
                    className="figure w-full !whitespace-pre"
                    spellCheck={false}
                    maxLength={80_000}
                  />
                </Field>
              </div>
              <p className="mt-2" aria-live="polite">
                <span className="font-bold">
                  {list.rows.length} {list.rows.length === 1 ? 'line' : 'lines'} read
                </span>
                {list.rows.length > 0 && <span className="text-soft">: {list.columns.join(' · ')}</span>}
              </p>
              {!tableFault &&
                list.faults.slice(0, 6).map((f, i) => (
                  <p key={i} className="fault mt-2 text-sm">
                    Line {f.line}: {f.message}
                  </p>
                ))}
            </>
          )}
          {content === 'document' && (
            <div className="mt-4">
              <Field
                label="The standard as a document"
                hint="just-twice/standard, version 1"
                fault={faultIn(errors, 'source') ?? faultIn(errors, 'document')}
              >
                <textarea
                  {...form.register('source')}
                  rows={20}
                  className="w-full font-mono text-sm"
                  spellCheck={false}
                  maxLength={400_000}
                  placeholder='{ "format": "just-twice/standard", "version": 1, … }'
                />
              </Field>
            </div>
          )}
        </div>
        <div className="lg:col-span-2">
          <FormEnd
            refusal={refusal}
            verb={values.id ? 'Save' : 'Enter the standard'}
            away={values.id ? `/standards/${values.id}` : '/standards'}
          />
        </div>
      </form>
    </FormProvider>
  );
});
