import { FormProvider, useFieldArray } from 'react-hook-form';
import type { StandardDeclaration } from '../../core/document/declarations';
import { Combobox } from '../../ui/Combobox';
import { FormEnd } from '../../ui/form/FormEnd';
import { faultIn, FormInput, FormInputs } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { guarded } from '../../ui/guarded';
import {
  blankPart,
  certificateFields,
  nameFields,
  standardFormSchema,
  typedStandard,
  type StandardValues,
} from './standard-fields';
import { StandardPart } from './StandardPart';

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
    values.id ? { to: 'PUT /api/standards/[id]', id: values.id, seen: version } : { to: 'POST /api/standards' },
    ({ id }) => window.location.assign(leadsTo ?? `/standards/${id}`),
  );
  const parts = useFieldArray({ control: form.control, name: 'parts', keyName: 'key' });
  const [kind, typedParts] = form.watch(['document.kind', 'parts']);
  const { errors } = form.formState;
  const declared = declarations.find((d) => d.kind === kind);
  const isDocument = typedParts[0]?.content === 'document';
  const missing = (declared?.parts ?? []).filter((p) => !typedParts.some((t) => t.id === p.id));

  /** Parts that procedures read of this kind, in place of a single one that is empty. */
  function addParts() {
    const isEmpty = typedParts.length === 1 && typedParts[0]!.id === '' && typedParts[0]!.table.trim() === '';
    const added = missing.map((p) => blankPart(p.id, p.unit));
    if (isEmpty) parts.replace(added);
    else parts.append(added);
  }

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
          {!isDocument && (
            <>
              <FormInputs fields={nameFields} />
              <div className="grid grid-cols-2 gap-4">
                <FormInputs fields={certificateFields(declared)} />
              </div>
            </>
          )}
        </div>
        <div className="flex flex-col gap-6">
          {parts.fields.map((part, i) => (
            <StandardPart
              key={part.key}
              index={i}
              isOne={parts.fields.length === 1 && typedParts[0]?.id === ''}
              declared={declared}
              former={values.document}
              onRemove={parts.fields.length > 1 ? () => parts.remove(i) : null}
            />
          ))}
          {!isDocument && (
            <p className="flex flex-wrap gap-2">
              {missing.length > 0 && (
                <button type="button" className="button" onClick={addParts}>
                  Add what procedures read of it: {missing.map((p) => p.id).join(', ')}
                </button>
              )}
              <button type="button" className="button button-quiet" onClick={() => parts.append(blankPart())}>
                Another part
              </button>
            </p>
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
