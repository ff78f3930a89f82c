import { FormProvider } from 'react-hook-form';
import { personEntrySchema } from '../core/register/entry-schemas';
import { FormInput } from './form/FormFields';
import { useEntryForm } from './form/use-entry-form';

type Name = { name: string };

/** A name that can sign from now on. */
export function AddPerson({
  title,
  onAdded,
  isFocused = false,
}: {
  title: string;
  onAdded: (name: string) => void;
  isFocused?: boolean;
}) {
  const { form, refusal, send } = useEntryForm<Name, Name, Name>(
    { name: '' },
    () => personEntrySchema,
    { to: 'POST /api/people' },
    ({ name }) => onAdded(name),
    { isCleared: true },
  );
  return (
    <FormProvider {...form}>
      <form onSubmit={send()} noValidate>
        <div className="flex items-start gap-2">
          <div className="flex-1">
            <FormInput field={{ name: 'name', title, type: 'text', isWanted: true, isFocused }} />
          </div>
          <button className="button mt-5">Add</button>
        </div>
        {refusal && !refusal.path.length && (
          <p className="fault mt-3" role="alert">
            {refusal.message}
          </p>
        )}
      </form>
    </FormProvider>
  );
}
