import { FormProvider } from 'react-hook-form';
import * as z from 'zod';
import { plainDecimal } from '../../core/quantity/rounding';
import { faultIn, FormInput } from '../../ui/form/FormFields';
import { typedNumber, typedText } from '../../ui/form/typed';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { usePerson } from '../../ui/person';

const schema = z.object({ day: typedText, count: typedNumber });

/** What the counter of hours or cycles showed last, and what it shows now. */
export function NoteCount({
  instrument,
  counts,
  unit,
  today,
}: {
  instrument: string;
  counts: readonly { day: string; count: number }[];
  unit: 'h' | 'cycles';
  today: string;
}) {
  const person = usePerson();
  const last = counts.at(-1);
  const { form, refusal, send } = useEntryForm<{ day: string; count: string }, z.output<typeof schema>, { noted: true }>(
    { day: today, count: '' },
    () => schema,
    { method: 'POST', address: `/api/instruments/${instrument}/counts` },
    () => window.location.reload(),
  );
  return (
    <FormProvider {...form}>
      <form onSubmit={send(() => ({ person }))} noValidate className="mt-4 flex flex-wrap items-end gap-4">
        <p className="pb-2">
          Counter: <span className="figure font-bold">{last ? `${plainDecimal(last.count)} ${unit}` : 'never noted'}</span>
          {last && `, ${last.day}`}
        </p>
        <FormInput field={{ name: 'count', title: 'It shows', type: 'number', unit }} />
        <FormInput field={{ name: 'day', title: 'on', type: 'day' }} />
        <button className="button" disabled={!person || form.formState.isSubmitting}>
          Note it
        </button>
        {refusal && !faultIn(form.formState.errors, 'count') && !faultIn(form.formState.errors, 'day') && (
          <p className="fault" role="alert">
            {refusal.message}
          </p>
        )}
      </form>
    </FormProvider>
  );
}
