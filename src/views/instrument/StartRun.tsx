import { ChoiceField } from './ChoiceField';
import { Radio } from './Radio';
import { RoleField } from './RoleField';
import { useEffect, useState } from 'react';
import { FormProvider } from 'react-hook-form';
import type * as z from 'zod';
import { Dialog, DialogClose } from '../../ui/Dialog';
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
  /** Why whoever is here may not begin it, and who may; null where that is allowed. */ mayNot: string | null;
};

/** Puts the instrument on the bench: chooses procedure and standards, and starts the run. */
export const StartRun = guarded(function StartRun({ instrument, openRun, procedures, companions, startNow, mayNot }: Props) {
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
            {mayNot && <p className="caution mt-3">{mayNot}</p>}
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
            {asked.choices.map((c) => (
              <ChoiceField key={c.id} choice={c} value={optionOf(typed, c)} onChoose={(option) => choose(c, option)} />
            ))}
            {asked.roles.map((role) => (
              <RoleField
                key={role.role}
                role={role}
                filled={filledBy(typed, role)}
                onPress={(standard) =>
                  form.setValue('standards', { ...typed.standards, [role.role]: pressed(typed, role, standard) })
                }
              />
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
                <button className="button button-main" disabled={!isReady || isSubmitting || mayNot !== null}>
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
