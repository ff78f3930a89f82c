import { useRef, useState } from 'react';
import { FormProvider } from 'react-hook-form';
import { plainPolicy, type Policy, type PolicyScope } from '../../core/interval/policy';
import type { Moved, PolicyBoard, PolicyPreview, PolicySubject } from '../../core/interval/policy-board';
import { schools, schoolTitles } from '../../core/interval/proposal';
import { ask, type Progress } from '../../ui/ask-server';
import { Combobox } from '../../ui/Combobox';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { FormInput, FormInputs } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { guarded } from '../../ui/guarded';
import { usePerson } from '../../ui/person';
import { kindTitle } from '../instruments/kind-title';
import { policyFields, policyFormSchema, typedPolicy, type PolicyTyped } from './policy-fields';
import { SayWho } from '../../ui/SayWho';

const scopeWords: Record<PolicyScope, string> = {
  laboratory: 'The laboratory',
  family: 'Family',
  owner: 'Owner',
  instrument: 'Instrument',
};
const titleOf = (s: PolicySubject): string =>
  s.scope === 'laboratory'
    ? 'The whole laboratory'
    : `${scopeWords[s.scope]}: ${s.scope === 'family' ? kindTitle(s.title) : s.title}`;
const keyOf = (s: { scope: string; subject: string }): string => `${s.scope}|${s.subject}`;

const columns: DataColumn<Moved>[] = [
  {
    id: 'identification',
    title: 'Instrument',
    sortBy: (m) => m.identification,
    cell: (m) => (
      <a href={`/instruments/${m.id}`} className="ident font-bold">
        {m.identification}
      </a>
    ),
  },
  { id: 'now', title: 'Now', className: 'figure', sortBy: (m) => m.now, cell: (m) => m.now ?? '–' },
  { id: 'then', title: 'Then', className: 'figure font-bold', sortBy: (m) => m.then, cell: (m) => m.then },
  { id: 'why', title: 'Why', isWideOnly: true, cell: (m) => <span className="text-sm">{m.reason}</span> },
];

/** How next dates are told: by laboratory, family, owner or instrument; what a change would do is shown before it is made. */
export const PolicyPanel = guarded(function PolicyPanel({ board, first }: { board: PolicyBoard; first: string }) {
  const [key, setKey] = useState(board.subjects.some((s) => keyOf(s) === first) ? first : 'laboratory|');
  const subject = board.subjects.find((s) => keyOf(s) === key) ?? board.subjects[0]!;
  const set = board.subjects.filter((s) => s.policy);
  return (
    <>
      <div className="mt-3 max-w-xl">
        <Combobox
          label="For"
          value={key}
          options={board.subjects.map((s) => ({ value: keyOf(s), title: `${titleOf(s)}${s.policy ? ', set' : ''}` }))}
          onChoose={setKey}
        />
      </div>
      <PolicyForm key={key} subject={subject} />
      {set.length > 0 && (
        <section className="mt-8">
          <h3 className="font-bold">What is set</h3>
          <ul className="ruled mt-2 border-y border-rule bg-sheet">
            {set.map((s) => (
              <li key={keyOf(s)} className="flex flex-wrap items-baseline gap-x-4 px-4 py-2">
                <button type="button" className="cursor-pointer underline underline-offset-3" onClick={() => setKey(keyOf(s))}>
                  {titleOf(s)}
                </button>
                <span className="font-bold">{schoolTitles[s.policy!.school]}</span>
                <span className="ml-auto text-sm text-soft">
                  {s.instruments} in use · {s.policy!.floor} to {s.policy!.ceiling} months
                </span>
              </li>
            ))}
          </ul>
          <p className="mt-1 text-sm text-soft">
            An instrument’s own goes before its owner’s, that before its family’s, that before the laboratory’s.
          </p>
        </section>
      )}
      {board.history.length > 0 && (
        <details className="mt-4">
          <summary className="cursor-pointer text-sm text-soft">Who set what, and when</summary>
          <ul className="mt-1 text-sm">
            {board.history.map((l) => (
              <li key={`${l.at}${keyOf(l)}`}>
                <span className="figure">{l.day}</span> {l.person}: {scopeWords[l.scope].toLowerCase()} {l.subject}:{' '}
                {l.policy ? schoolTitles[l.policy.school].toLowerCase() : 'taken back'}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
});

type Request = { scope: PolicyScope; subject: string; policy: Policy };

function PolicyForm({ subject }: { subject: PolicySubject }) {
  const person = usePerson();
  const { scope, subject: name } = subject;
  const [preview, setPreview] = useState<PolicyPreview | null>(null);
  const [fault, setFault] = useState('');
  const [progress, setProgress] = useState<Progress | null>(null);
  const giveUp = useRef(() => {});
  const schema = policyFormSchema(scope, name);
  const { form, refusal, send } = useEntryForm<PolicyTyped, Request, PolicyPreview>(
    typedPolicy(subject.policy ?? plainPolicy),
    () => schema,
    { to: 'POST /api/policies/preview' },
    setPreview,
    {
      onProgress: setProgress,
      signal: () => {
        setProgress(null);
        const next = new AbortController();
        giveUp.current = () => next.abort();
        return next.signal;
      },
    },
  );
  const typed = form.watch('policy');
  const change = (values: Partial<PolicyTyped['policy']>) => {
    setPreview(null);
    form.setValue('policy', { ...form.getValues('policy'), ...values }, { shouldDirty: true });
  };
  const store = async (policy: Policy | null) => {
    const answer = await ask('POST /api/policies', { body: { scope, subject: name, policy, person } });
    if (!answer.ok) return setFault(answer.refusal.message);
    // With the same subject in sight; a hash alone would not load the page again.
    window.history.replaceState(null, '', `/laboratory?scope=${scope}&subject=${encodeURIComponent(name)}#policy`);
    window.location.reload();
  };
  return (
    <FormProvider {...form}>
      <form onSubmit={send()} onChange={() => setPreview(null)} noValidate className="mt-4 grid gap-5">
        <fieldset>
          <legend className="text-sm text-soft">The next date is told by</legend>
          <div className="mt-1 grid gap-x-6 sm:grid-cols-2 lg:grid-cols-3">
            {schools.map((school) => (
              <label key={school} className="flex cursor-pointer items-center gap-3 py-2">
                <input
                  type="radio"
                  name="school"
                  className="size-5 accent-verdigris"
                  style={{ minHeight: 0 }}
                  checked={typed.school === school}
                  onChange={() => change({ school })}
                />
                {schoolTitles[school]}
              </label>
            ))}
          </div>
        </fieldset>
        <div className="grid items-start gap-4 sm:grid-cols-3">
          <FormInputs fields={policyFields.bounds} />
        </div>
        <div className="grid items-start gap-4 sm:grid-cols-3">
          <FormInputs fields={policyFields.fixed} />
          <FormInput field={policyFields.price} />
        </div>
        {typed.school === 'react' && (
          <div className="grid items-start gap-4 sm:grid-cols-3">
            <FormInputs fields={policyFields.steps} />
          </div>
        )}
        {typed.school === 'use' && (
          <div className="grid items-start gap-4 sm:grid-cols-3">
            <FormInput field={policyFields.use} />
            <Combobox
              label="Counted in"
              value={typed.useUnit}
              options={[
                { value: 'h', title: 'hours' },
                { value: 'cycles', title: 'cycles' },
              ]}
              onChoose={(unit) => change({ useUnit: unit as 'h' | 'cycles' })}
            />
          </div>
        )}
        <fieldset className="flex flex-wrap gap-x-6 gap-y-2">
          <legend className="text-sm text-soft">Similar instruments are of one kind, and of the same</legend>
          <FormInput field={{ name: 'policy.byDesignation', title: 'make and type', type: 'check' }} />
          <FormInput field={{ name: 'policy.byOwner', title: 'owner', type: 'check' }} />
          <FormInput field={{ name: 'policy.byUse', title: 'use', type: 'check' }} />
        </fieldset>
        {(refusal ?? fault) && (
          <p className="fault" role="alert">
            {refusal?.message ?? fault}
          </p>
        )}
        <p className="flex flex-wrap gap-3">
          <button className={`button ${preview ? '' : 'button-main'}`} disabled={form.formState.isSubmitting}>
            Show what would change
          </button>
          {form.formState.isSubmitting && progress && (
            <span className="flex items-center gap-3" role="status">
              {Math.round((100 * progress.done) / progress.of)} %
              <button type="button" className="button button-quiet" onClick={() => giveUp.current()}>
                Give it up
              </button>
            </span>
          )}
          {subject.policy && (
            <button type="button" className="button button-quiet" disabled={!person} onClick={() => void store(null)}>
              Take this policy back
            </button>
          )}
        </p>
      </form>
      {preview && (
        <section className="mt-4 border-l-4 border-verdigris bg-sheet p-4" aria-label="What would change">
          <p className="text-lg" role="status">
            Of {preview.concerned} instruments in use, <span className="font-bold">{preview.moved.length}</span> would come
            another day; due in the next year: <span className="figure font-bold">{preview.inAYear.then}</span> in place of{' '}
            <span className="figure">{preview.inAYear.now}</span>.
          </p>
          <p className="text-sm text-soft">
            Reckoned from each one’s last calibration. Due dates that stand are not moved; the next run is proposed by it.
          </p>
          {preview.moved.length > 0 && (
            <div className="mt-3 max-h-96 overflow-auto">
              <DataTable label="What would change" columns={columns} rows={preview.moved} idOf={(m) => m.id} isSmall />
            </div>
          )}
          <p className="mt-3">
            {person ? (
              <button type="button" className="button button-main" onClick={() => void store(preview.policy)}>
                Set this policy
              </button>
            ) : (
              <SayWho />
            )}
          </p>
        </section>
      )}
    </FormProvider>
  );
}
