import { useEffect, useRef, useState } from 'react';
import { useRun } from '../run/run-context';
import type { StepPanelProps } from './StepPanel';
import { StepText } from './StepPanel';

/** A question that "yes" answers well. "No" stops here: put right, another standard, or gone on from with a reason that prints. */
export function ConfirmPanel({ step, item, done }: StepPanelProps<'confirm'>) {
  const [isWrong, setWrong] = useState(false);
  const yes = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!isWrong) yes.current?.focus();
  }, [item.id, isWrong]);
  if (isWrong) return <WrongPanel step={step} item={item} done={done} onBack={() => setWrong(false)} />;
  return (
    <div
      className="flex flex-col gap-4"
      onKeyDown={(e) => {
        const key = e.key.toLowerCase();
        if (key !== 'n' && key !== 'y') return;
        e.preventDefault();
        if (key === 'y') done(true);
        else setWrong(true);
      }}
    >
      <StepText text={step.ask} item={item} />
      <div className="flex gap-3">
        <button
          ref={yes}
          type="button"
          data-keys
          className="button button-main min-h-13 flex-1 !text-lg"
          onClick={() => done(true)}
        >
          Yes
        </button>
        <button type="button" className="button min-h-13 flex-1 !text-lg" onClick={() => setWrong(true)}>
          No <span className="key">n</span>
        </button>
      </div>
    </div>
  );
}

/** What is wrong, and what becomes of it. */
function WrongPanel({
  step,
  item,
  done,
  onBack,
}: Pick<StepPanelProps<'confirm'>, 'step' | 'item' | 'done'> & { onBack: () => void }) {
  const { state, act, leaveFor } = useRun();
  const [wrong, setWrong] = useState('');
  const [fault, setFault] = useState('');
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  const said = wrong.trim();
  const withReason = (then: () => { message: string } | null) => {
    if (said.length < 3) {
      setFault('Say in a few words what is wrong.');
      return input.current?.focus();
    }
    setFault(then()?.message ?? '');
  };
  const another = () => {
    const refusal = act({ type: 'run-broken-off', reason: `${step.title}: ${said}. Begun again with another standard.` });
    if (!refusal) leaveFor(`/instruments/${encodeURIComponent(state.instrument.id)}?start`);
    return refusal;
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        withReason(() => done(true, undefined, said));
      }}
      onKeyDown={(e) => e.key === 'Escape' && onBack()}
    >
      <StepText text={step.ask} item={item} />
      <label>
        <span className="mb-1 block">No: what is wrong?</span>
        <input
          ref={input}
          data-keys
          value={wrong}
          onChange={(e) => {
            setWrong(e.target.value);
            setFault('');
          }}
          className="w-full"
          maxLength={280}
        />
      </label>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <button className="button button-main min-h-13 !text-lg">It is put right: go on</button>
      <button type="button" className="button" onClick={() => withReason(() => done(false, undefined, said))}>
        Go on as it is: this prints on the certificate
      </button>
      {Object.keys(state.standards).length > 0 && state.readings.length === 0 && (
        <button type="button" className="button" onClick={() => withReason(another)}>
          Choose another standard: begin again
        </button>
      )}
      <button type="button" className="button button-quiet" onClick={onBack}>
        Back <span className="key">Esc</span>
      </button>
    </form>
  );
}
