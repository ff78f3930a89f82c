import type { ReactNode } from 'react';
import { FormProvider } from 'react-hook-form';
import type * as z from 'zod';
import { faultIn, FormInput, type FormField } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import type { EndpointName } from '../../contract/endpoints';
import type { ServerRefusal } from '../../ui/ask-server';
import { usePerson } from '../../ui/person';

type Props = {
  /** How it stands. */ said: ReactNode;
  /** The instrument that it is about. */ instrument: string;
  to: EndpointName;
  schema: z.ZodType;
  initially: Record<string, string>;
  fields: readonly FormField[];
  does: string;
  /** Members beside what was typed, by what was refused before. */
  more?: (before: ServerRefusal | null) => object;
};

/** One line: how something of an instrument stands, what is typed about it, and what that does. Signed by whoever is at the bench. */
export function LineForm({ said, instrument, to, schema, initially, fields, does, more }: Props) {
  const person = usePerson();
  const { form, refusal, send } = useEntryForm<Record<string, string>, unknown, object>(
    initially,
    () => schema,
    { to, id: instrument },
    () => window.location.reload(),
  );
  const isAtField = fields.some((f) => faultIn(form.formState.errors, f.name) !== undefined);
  return (
    <FormProvider {...form}>
      <form
        onSubmit={send((before) => ({ person, ...more?.(before) }))}
        noValidate
        className="mt-4 flex flex-wrap items-end gap-4"
      >
        <p className="pb-2">{said}</p>
        {fields.map((field) => (
          <FormInput key={field.name} field={field} />
        ))}
        <button className="button" disabled={!person || form.formState.isSubmitting}>
          {does}
        </button>
        {refusal && !isAtField && (
          <p className="fault" role="alert">
            {refusal.message}
          </p>
        )}
      </form>
    </FormProvider>
  );
}
