import { useFormContext } from 'react-hook-form';
import type { ServerRefusal } from '../ask-server';
import { faultsIn } from './FormFields';

/** What stands under a form: what is wrong as a whole, and the two ways out. */
export function FormEnd({ refusal, verb, away }: { refusal: ServerRefusal | null; verb: string; away: string }) {
  const { formState } = useFormContext();
  const faults = formState.submitCount > 0 ? faultsIn(formState.errors) : [];
  const said =
    refusal?.message ?? (faults.length > 1 ? `${faults.length} fields are to be looked at. First: ${faults[0]}` : faults[0]);
  return (
    <>
      {said && (
        <p className="fault mt-4" role="alert">
          {said}
        </p>
      )}
      <div className="mt-5 flex gap-3">
        <button className="button button-main" disabled={formState.isSubmitting}>
          {verb}
        </button>
        <a href={away} className="button button-quiet">
          Cancel
        </a>
      </div>
    </>
  );
}
