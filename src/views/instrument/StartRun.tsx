import { useEffect, useState, type ReactNode } from 'react';
import { dayField } from '../../ui/date-input';
import { Dialog, DialogClose } from '../../ui/Dialog';
import { askServer } from '../../ui/ask-server';
import { DueWords } from '../../ui/DueTrack';
import { newKey } from '../../ui/new-key';
import { usePerson } from '../../ui/person';
import type { ProcedureDocument } from '../../core/procedure/document-schema';
import type { DueStanding } from '../../core/traceability/standing';
import { guarded } from '../../ui/guarded';

/** A procedure that serves the instrument, with the standards that could fill its roles. */
export type BenchOption = {
  id: string;
  revision: number;
  title: string;
  choices: ProcedureDocument['choices'];
  roles: (ProcedureDocument['standards'][number] & {
    standards: ({
      id: string;
      identification: string;
      designation: string;
      due: string | null;
      refusal: string | null;
    } & DueStanding)[];
  })[];
};

type Props = {
  instrument: { id: string; identification: string; isInUse: boolean; adjustmentAllowed: boolean };
  openRun: string | null;
  procedures: BenchOption[];
  startNow: boolean;
};
type Role = BenchOption['roles'][number];

/** The plainest choice: the first that can be used. */
const firstUsable = (role: Role): string[] =>
  role.standards
    .filter((s) => !s.refusal)
    .slice(0, 1)
    .map((s) => s.id);

/** Puts the instrument on the bench: chooses procedure and standards, and starts the run. */
export const StartRun = guarded(function StartRun({ instrument, openRun, procedures, startNow }: Props) {
  const person = usePerson();
  const [isOpen, setOpen] = useState(false);
  const [chosen, setChosen] = useState(procedures[0]?.id ?? '');
  const [standards, setStandards] = useState<Record<string, string[]>>({});
  const [choices, setChoices] = useState<Record<string, string>>({});
  const [fault, setFault] = useState('');
  const [received, setReceived] = useState('');
  const [run] = useState(newKey);
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

  const procedure = procedures.find((p) => p.id === chosen);
  const optionOf = (choice: BenchOption['choices'][number]) => choices[choice.id] ?? choice.default ?? choice.options[0]!.id;
  // What a choice leaves out is not asked for.
  const isAsked = (when: Role['when']): boolean =>
    (Array.isArray(when) ? when : when ? [when] : []).every((w) => {
      if (!('choice' in w)) return true;
      const choice = procedure?.choices.find((c) => c.id === w.choice);
      return choice === undefined || [w.is].flat().includes(optionOf(choice));
    });
  const roles = procedure?.roles.filter((r) => isAsked(r.when)) ?? [];
  const filledBy = (role: Role) => standards[role.role] ?? firstUsable(role);
  const isReady = procedure !== undefined && roles.every((r) => r.optional || filledBy(r).length > 0);

  async function start() {
    const answer = await askServer<{ run: string }>('POST', '/api/runs', {
      run,
      instrument: instrument.id,
      procedure: chosen,
      standards: Object.fromEntries(roles.flatMap((r) => (filledBy(r).length ? [[r.role, filledBy(r)]] : []))),
      choices: Object.fromEntries((procedure?.choices ?? []).filter((c) => isAsked(c.when)).map((c) => [c.id, optionOf(c)])),
      received: received || undefined,
      person,
    });
    if (answer.ok) window.location.assign(`/runs/${answer.body.run}`);
    else setFault(answer.refusal.message);
  }

  return (
    <>
      <button type="button" className="button button-main" onClick={() => setOpen(true)}>
        Start a calibration
      </button>
      <Dialog isOpen={isOpen} onClose={() => setOpen(false)} title={`Calibrate ${instrument.identification}`}>
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
              <Radio key={p.id} name="procedure" isChecked={chosen === p.id} onChoose={() => setChosen(p.id)}>
                {p.title}, revision {p.revision}
              </Radio>
            ))}
          </fieldset>
        )}
        {procedure?.choices
          .filter((c) => isAsked(c.when))
          .map((c) => (
            <fieldset key={c.id} className="mt-4">
              <legend>{c.title}</legend>
              {c.options.map((o) => (
                <Radio
                  key={o.id}
                  name={`choice-${c.id}`}
                  isChecked={optionOf(c) === o.id}
                  onChoose={() => setChoices({ ...choices, [c.id]: o.id })}
                >
                  {o.title ?? o.id}
                  {o.caution && optionOf(c) === o.id && <span className="caution mt-1 block">{o.caution}</span>}
                </Radio>
              ))}
            </fieldset>
          ))}
        {roles.map((role) => (
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
                    checked={filledBy(role).includes(s.id)}
                    onChange={() => {
                      const now = filledBy(role);
                      const next = now.includes(s.id)
                        ? role.several || role.optional
                          ? now.filter((id) => id !== s.id)
                          : now
                        : role.several
                          ? [...now, s.id]
                          : [s.id];
                      setStandards({ ...standards, [role.role]: next });
                    }}
                  />
                  <span className="flex-1">
                    <span className="flex justify-between gap-3">
                      <span className={`ident ${s.refusal ? 'text-soft' : 'font-bold'}`}>{s.identification}</span>
                      {s.due && <DueWords standing={s} />}
                    </span>
                    <span className="block text-sm text-soft">{s.designation}</span>
                    {s.refusal && <span className="mt-1 block text-sm text-brick">{s.refusal}</span>}
                    {!s.refusal && s.standing === 'nearly-due' && (
                      <span className="mt-1 block text-sm text-ochre">
                        Its certificate runs out on {s.due}. It may still be used.
                      </span>
                    )}
                  </span>
                </label>
              ))}
            </div>
          </fieldset>
        ))}
        <label className="mt-4 block">
          <span className="block text-sm text-soft">Received on, where the certificate is to say it</span>
          <input {...dayField} value={received} onChange={(e) => setReceived(e.target.value)} className="figure" />
        </label>
        {(fault || !person) && (
          <p className="fault mt-3" role="alert">
            {fault || 'Say who is at the bench first: with the button at the top right.'}
          </p>
        )}
        <p className="mt-5 flex gap-3">
          <button type="button" className="button button-main" onClick={start} disabled={!isReady || !person}>
            Put it on the bench
          </button>
          <DialogClose className="button button-quiet">Not now</DialogClose>
        </p>
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
