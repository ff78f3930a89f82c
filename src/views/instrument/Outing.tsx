import { FormProvider } from 'react-hook-form';
import * as z from 'zod';
import type { InstrumentHistory } from '../../core/interval/history';
import { faultIn, FormInput, type FormField } from '../../ui/form/FormFields';
import { shownNumber, typedNumber, typedText } from '../../ui/form/typed';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { usePerson } from '../../ui/person';

const outSchema = z.object({ place: typedText });
const backSchema = z.object({ used: typedNumber });

/** Takes an instrument out to be used, and back with what it was used for: hours by the clock are offered. */
export function Outing({ instrument, out, unit }: { instrument: string; out: InstrumentHistory['out']; unit: 'h' | 'cycles' }) {
  const address = `/api/instruments/${instrument}`;
  return out ? (
    <Move
      said={
        <>
          Out since <span className="figure font-bold">{out.since}</span>: {[out.person, out.place].filter(Boolean).join(', ')}
        </>
      }
      address={`${address}/back`}
      schema={backSchema}
      initially={{ used: unit === 'h' ? shownNumber(out.hours) : '' }}
      field={{ name: 'used', title: 'Used meanwhile', type: 'number', unit, isWanted: true }}
      does="It is back"
    />
  ) : (
    <Move
      said="Here."
      address={`${address}/out`}
      schema={outSchema}
      initially={{ place: '' }}
      field={{ name: 'place', title: 'It goes to', type: 'text' }}
      does="Take it out"
    />
  );
}

type MoveProps = {
  said: React.ReactNode;
  address: string;
  schema: z.ZodType;
  initially: Record<string, string>;
  field: FormField;
  does: string;
};

function Move({ said, address, schema, initially, field, does }: MoveProps) {
  const person = usePerson();
  const { form, refusal, send } = useEntryForm<Record<string, string>, unknown, object>(
    initially,
    () => schema,
    { method: 'POST', address },
    () => window.location.reload(),
  );
  return (
    <FormProvider {...form}>
      <form onSubmit={send(() => ({ person }))} noValidate className="mt-4 flex flex-wrap items-end gap-4">
        <p className="pb-2">{said}</p>
        <FormInput field={field} />
        <button className="button" disabled={!person || form.formState.isSubmitting}>
          {does}
        </button>
        {refusal && !faultIn(form.formState.errors, field.name) && (
          <p className="fault" role="alert">
            {refusal.message}
          </p>
        )}
      </form>
    </FormProvider>
  );
}
