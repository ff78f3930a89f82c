import { useEffect, useRef, useState } from 'react';
import { askServer } from '../../ui/ask-server';
import { DueWords } from '../../ui/DueTrack';
import { newKey } from '../../ui/new-key';
import { usePerson } from '../../ui/person';
import type { Standing } from '../../core/traceability/standing';
import { guarded } from '../../ui/guarded';

type Standard = {
  id: string;
  identification: string;
  designation: string;
  due: string;
  days: number | null;
  standing: Standing;
  refusal: string | null;
};

type Props = {
  instrument: { id: string; identification: string; isInUse: boolean; adjustmentAllowed: boolean };
  openRun: string | null;
  standards: Standard[];
  startNow: boolean;
};

/** Puts the instrument on the bench: chooses the standard and starts the run. */
export const StartRun = guarded(function StartRun({ instrument, openRun, standards, startNow }: Props) {
  const person = usePerson();
  const dialog = useRef<HTMLDialogElement>(null);
  const [chosen, setChosen] = useState(standards.find((s) => !s.refusal)?.id ?? '');
  const [fault, setFault] = useState('');
  const [run] = useState(newKey);
  useEffect(() => {
    if (startNow && !openRun && instrument.isInUse) dialog.current?.showModal();
  }, [startNow, openRun, instrument.isInUse]);

  if (openRun)
    return (
      <a href={`/runs/${openRun}`} className="button button-main">
        Carry on with the open run
      </a>
    );
  if (!instrument.isInUse) return null;

  async function start() {
    const answer = await askServer<{ run: string }>('POST', '/api/runs', {
      run,
      instrument: instrument.id,
      standard: chosen,
      person,
    });
    if (answer.ok) window.location.assign(`/runs/${answer.body.run}`);
    else setFault(answer.refusal.message);
  }

  return (
    <>
      <button type="button" className="button button-main" onClick={() => dialog.current?.showModal()}>
        Start a calibration
      </button>
      <dialog ref={dialog} aria-labelledby="start-title">
        <h2 id="start-title">Calibrate {instrument.identification}</h2>
        {!instrument.adjustmentAllowed && (
          <p className="caution mt-3">The owner wants a check only: nothing is to be adjusted.</p>
        )}
        <fieldset className="mt-4">
          <legend>Which blocks?</legend>
          {standards.length === 0 && (
            <p className="fault mt-2">
              No gauge blocks are registered. <a href="/standards/new">Enter a set with its certificate</a> first.
            </p>
          )}
          <div className="ruled mt-2 border-y border-rule">
            {standards.map((s) => (
              <label key={s.id} className={`flex items-start gap-3 py-3 ${s.refusal ? '' : 'cursor-pointer'}`}>
                <input
                  type="radio"
                  name="standard"
                  className="mt-1 size-5 accent-verdigris"
                  style={{ minHeight: 0 }}
                  disabled={s.refusal !== null}
                  checked={chosen === s.id}
                  onChange={() => setChosen(s.id)}
                />
                <span className="flex-1">
                  <span className="flex justify-between gap-3">
                    <span className={`ident ${s.refusal ? 'text-soft' : 'font-bold'}`}>{s.identification}</span>
                    <DueWords standing={s} />
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
        {(fault || !person) && (
          <p className="fault mt-3" role="alert">
            {fault || 'Say who is at the bench first: with the button at the top right.'}
          </p>
        )}
        <form method="dialog" className="mt-5 flex gap-3">
          <button type="button" className="button button-main" onClick={start} disabled={!chosen || !person}>
            Put it on the bench
          </button>
          <button className="button button-quiet">Not now</button>
        </form>
      </dialog>
    </>
  );
});
