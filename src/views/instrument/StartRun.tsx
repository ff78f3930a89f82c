import { useEffect, useState, type ReactNode } from 'react';
import { FormProvider } from 'react-hook-form';
import type * as z from 'zod';
import { Combobox } from '../../ui/Combobox';
import { Dialog, DialogClose } from '../../ui/Dialog';
import { DueWords } from '../../ui/DueTrack';
import { Together } from './Together';
import { newKey } from '../../ui/new-key';
import { usePerson } from '../../ui/person';
import { faultsIn, FormInput } from '../../ui/form/FormFields';
import { useEntryForm } from '../../ui/form/use-entry-form';
import { guarded } from '../../ui/guarded';
import {
  askedFor,
  filledBy,
  optionOf,
  plainStart,
  pressed,
  startFormSchema,
  companionsChosen,
  type BenchChoice,
  type BenchOption,
  type Companion,
  type StartTyped,
} from './start-fields';
import { SayWho } from '../../ui/SayWho';

type Props = {
  instrument: { id: string; identification: string; isInUse: boolean; adjustmentAllowed: boolean };
  openRun: string | null;
  procedures: BenchOption[];
  companions: Companion[];
  startNow: boolean;
};
/** More options than this are chosen from a list. */
const mostBeside = 5;

/** Puts the instrument on the bench: chooses procedure and standards, and starts the run. */
export const StartRun = guarded(function StartRun({ instrument, openRun, procedures, companions, startNow }: Props) {
  const person = usePerson();
  const [isOpen, setOpen] = useState(false);
  const [run] = useState(newKey);
  /** Ids are chosen once, so that what is sent again starts nothing twice. */
  const [setUp] = useState(newKey);
  const [runs] = useState(() => new Map(companions.map((c) => [c.id, newKey()])));
  const { form, refusal, send } = useEntryForm<
    StartTyped,
    z.output<ReturnType<typeof startFormSchema>>,
    { run: string; setUp?: string }
  >(
    plainStart(procedures),
    () => startFormSchema(procedures),
    { to: 'POST /api/runs' },
    (answer) => window.location.assign(answer.setUp ? `/set-ups/${answer.setUp}` : `/runs/${answer.run}`),
  );
  useEffect(() => {
    if (startNow && !openRun && instrument.isInUse) setOpen(true);
  }, [startNow, openRun, instrument.isInUse]);

  if (openRun)
    return (
      <a href={`/runs/${openRun}`} className="button button-main">
        Carry on with the open run
      </a>
    );
  if (!instrument.isInUse) return null;

  const typed = form.watch();
  const procedure = procedures.find((p) => p.id === typed.procedure);
  const asked = askedFor(procedure, typed);
  const cautionOf = (choice: BenchChoice) => choice.options.find((o) => o.id === optionOf(typed, choice))?.caution;
  const choose = (choice: BenchChoice, option: string) => form.setValue('choices', { ...typed.choices, [choice.id]: option });
  const isReady = procedure !== undefined && asked.roles.every((r) => r.optional || filledBy(typed, r).length > 0);
  const together = companionsChosen(procedure, typed);
  const { errors, isSubmitting } = form.formState;
  const fault = refusal?.message ?? faultsIn(errors)[0];

  return (
    <>
      <button type="button" className="button button-main" onClick={() => setOpen(true)}>
        Start a calibration
      </button>
      <Dialog isOpen={isOpen} onClose={() => setOpen(false)} title={`Calibrate ${instrument.identification}`}>
        <FormProvider {...form}>
          <form
            onSubmit={send(() => ({
              run,
              instrument: instrument.id,
              person,
              ...(together.length
                ? { setUp: { id: setUp, with: together.map((id) => ({ run: runs.get(id), instrument: id })) } }
                : {}),
            }))}
            noValidate
          >
            {!instrument.adjustmentAllowed && (
              <p className="caution mt-3">The owner wants a check only: nothing is to be adjusted.</p>
            )}
            {procedures.length === 0 && (
              <p className="fault mt-3">
                No procedure serves this kind of instrument. <a href="/procedures">Import one</a> first.
              </p>
            )}
            {procedures.length > 1 && (
              <fieldset className="mt-4">
                <legend>By which procedure?</legend>
                {procedures.map((p) => (
                  <Radio
                    key={p.id}
                    name="procedure"
                    isChecked={typed.procedure === p.id}
                    onChoose={() => form.setValue('procedure', p.id)}
                  >
                    {p.title}, revision {p.revision}
                  </Radio>
                ))}
              </fieldset>
            )}
            {asked.choices.map((c) =>
              c.options.length > mostBeside ? (
                <div key={c.id} className="mt-4">
                  <Combobox
                    label={c.title}
                    value={optionOf(typed, c)}
                    options={c.options.map((o) => ({ value: o.id, title: o.title ?? o.id }))}
                    onChoose={(option) => choose(c, option)}
                  />
                  {cautionOf(c) && <p className="caution mt-1">{cautionOf(c)}</p>}
                </div>
              ) : (
                <fieldset key={c.id} className="mt-4">
                  <legend>{c.title}</legend>
                  {c.options.map((o) => (
                    <Radio
                      key={o.id}
                      name={`choice-${c.id}`}
                      isChecked={optionOf(typed, c) === o.id}
                      onChoose={() => choose(c, o.id)}
                    >
                      {o.title ?? o.id}
                      {optionOf(typed, c) === o.id && cautionOf(c) && <span className="caution mt-1 block">{cautionOf(c)}</span>}
                    </Radio>
                  ))}
                </fieldset>
              ),
            )}
            {asked.roles.map((role) => (
              <fieldset key={role.role} className="mt-4">
                <legend>
                  {role.title}
                  {role.optional && ', if there is one'}
                </legend>
                {role.standards.length === 0 && (
                  <p className={`mt-2 ${role.optional ? 'text-soft' : 'fault'}`}>
                    None is registered. <a href="/standards/new">Enter one with its certificate</a>
                    {role.optional ? '.' : ' first.'}
                  </p>
                )}
                <div className="ruled mt-2 border-y border-rule">
                  {role.standards.map((s) => (
                    <label key={s.id} className={`flex items-start gap-3 py-3 ${s.refusal ? '' : 'cursor-pointer'}`}>
                      <input
                        type={role.several || role.optional ? 'checkbox' : 'radio'}
                        name={`standard-${role.role}`}
                        className="mt-1 size-5 accent-verdigris"
                        style={{ minHeight: 0 }}
                        disabled={s.refusal !== null}
                        checked={filledBy(typed, role).includes(s.id)}
                        onChange={() =>
                          form.setValue('standards', { ...typed.standards, [role.role]: pressed(typed, role, s.id) })
                        }
                      />
                      <span className="flex-1">
                        <span className="flex justify-between gap-3">
                          <span className={`ident ${s.refusal ? 'text-soft' : 'font-bold'}`}>{s.identification}</span>
                          {s.due && <DueWords standing={s} />}
                        </span>
                        <span className="block text-sm text-soft">{s.designation}</span>
                        {s.refusal && <span className="mt-1 block text-sm text-brick">{s.refusal}</span>}
                        {s.caution && <span className="caution mt-1 block text-sm">{s.caution}</span>}
                        {!s.refusal && s.standing === 'nearly-due' && (
                          <span className="mt-1 block text-sm text-ochre">
                            Its certificate runs out on {s.due}. It may still be used.
                          </span>
                        )}
                      </span>
                    </label>
                  ))}
                </div>
                {role.optional && role.only.length > 0 && filledBy(typed, role).length === 0 && (
                  <p className="mt-1 text-sm text-ochre">Without it this is left out: {role.only.join(', ')}.</p>
                )}
              </fieldset>
            ))}
            {procedure && procedure.most > 1 && companions.length > 0 && (
              <Together
                first={instrument.identification}
                companions={companions}
                chosen={together}
                most={procedure.most}
                onChoose={(ids) => form.setValue('together', ids)}
              />
            )}
            <div className="mt-4">
              <FormInput field={{ name: 'received', title: 'Received on, where the certificate is to say it', type: 'day' }} />
            </div>
            {fault && (
              <p className="fault mt-3" role="alert">
                {fault}
              </p>
            )}
            <p className="sticky -bottom-6 -mx-6 mt-5 -mb-6 flex gap-3 border-t border-rule bg-sheet px-6 py-4">
              {person ? (
                <button className="button button-main" disabled={!isReady || isSubmitting}>
                  {together.length ? `Put ${together.length + 1} on the bench` : 'Put it on the bench'}
                </button>
              ) : (
                <SayWho />
              )}
              <DialogClose className="button button-quiet">Not now</DialogClose>
            </p>
          </form>
        </FormProvider>
      </Dialog>
    </>
  );
});

function Radio({
  name,
  isChecked,
  onChoose,
  children,
}: {
  name: string;
  isChecked: boolean;
  onChoose: () => void;
  children: ReactNode;
}) {
  return (
    <label className="flex cursor-pointer items-start gap-3 py-2">
      <input
        type="radio"
        name={name}
        className="mt-1 size-5 accent-verdigris"
        style={{ minHeight: 0 }}
        checked={isChecked}
        onChange={onChoose}
      />
      <span className="flex-1">{children}</span>
    </label>
  );
}
