import { useState } from 'react';
import { FormProvider } from 'react-hook-form';
import * as z from 'zod';
import { peopleRulesSchema, type PeopleRules } from '../../core/register/entry-schemas';
import { FormInputs, type FormField } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { guarded } from '../../ui/guarded';

const fields: FormField[] = [
  {
    name: 'signOffMinutes',
    title: 'Without a hand on it a bench asks who is there after so many minutes',
    type: 'whole',
    hint: 'What was typed stays as it is',
  },
  { name: 'asksCompetence', title: 'Only those may calibrate, review or approve a family of whom that is noted', type: 'check' },
  {
    name: 'isOfOne',
    title: 'There is nobody else who could review: whoever measures signs too, and each certificate says so',
    type: 'check',
  },
];

const typedSchema = peopleRulesSchema.extend({
  signOffMinutes: z.preprocess((typed) => Number(String(typed).trim() || NaN), peopleRulesSchema.shape.signOffMinutes),
});

/** What the laboratory asks of whoever acts. */
export const RulesForm = guarded(function RulesForm({ rules }: { rules: PeopleRules }) {
  const [isSaved, setSaved] = useState(false);
  const { form, refusal, send } = useEntryForm<PeopleRules, PeopleRules, PeopleRules>(
    rules,
    () => typedSchema as unknown as z.ZodType<PeopleRules>,
    { to: 'PUT /api/laboratory/people' },
    () => setSaved(true),
  );
  return (
    <FormProvider {...form}>
      <form onSubmit={send()} onChange={() => setSaved(false)} noValidate className="mt-3 grid max-w-2xl gap-4">
        <FormInputs fields={fields} />
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
