import { dayIn } from '../../core/quantity/calendar-day';
import { useEffect, useRef, useState, type FormEvent } from 'react';
import { proposeAdjustment } from '../../core/run/adjustment-advice';
import { diagnose } from '../../core/run/diagnosis';
import { passVerdict, type PointResult } from '../../core/run/point-results';
import { asLeftPass } from '../../core/run/run-state';
import { proposeNextDate } from '../../core/interval/next-date';
import { VerdictWord } from '../../ui/VerdictWord';
import { ReasonPrompt } from './ReasonPrompt';
import { useRun } from './run-context';

/** The as-found set is judged: leave it, or adjust? The tool proposes with a reason; going against it takes one. */
export function JudgePanel({ results }: { results: PointResult[] }) {
  const { state, act } = useRun();
  const [against, setAgainst] = useState(false);
  const main = useRef<HTMLButtonElement>(null);
  useEffect(() => main.current?.focus(), [against]);
  const diagnosis = diagnose(results, state.instrument.resolution);
  const advice = proposeAdjustment(state, results, diagnosis);
  const verdict = passVerdict(state, 'as-found', results);
  const decide = (adjust: boolean, reason: string) =>
    act({ type: 'adjustment-decided', adjust, proposed: advice.adjust, reason })?.message ?? null;
  if (against)
    return (
      <ReasonPrompt
        title={advice.adjust ? 'Leave it as it is: why?' : 'Adjust all the same: why?'}
        ready={[]}
        confirm={advice.adjust ? 'Leave it' : 'Adjust'}
        onCancel={() => setAgainst(false)}
        onReason={(reason) => decide(!advice.adjust, reason)}
      />
    );
  const mayAdjust = state.instrument.adjustmentAllowed;
  return (
    <div className="flex flex-col gap-4">
      <p className="text-2xl">
        As found: <VerdictWord verdict={verdict} />
      </p>
      <h2 className="text-lg leading-snug">{diagnosis.sentence}</h2>
      <p className="border-y border-rule py-3">
        <span className="block text-sm text-soft">Advice</span>
        <strong>{advice.adjust ? 'Set the zero.' : 'Leave it as it is.'}</strong> {advice.reason}
      </p>
      {verdict && verdict !== 'pass' && (
        <p className="caution">
          Before adjusting, rule out the cheap causes: wrong unit, wrong blocks, dirt, not settled, poor seating. Readings already
          taken stay as evidence.
        </p>
      )}
      <button ref={main} type="button" className="button button-main min-h-13 !text-lg" onClick={() => decide(advice.adjust, '')}>
        {advice.adjust ? 'Set the zero' : 'Leave it as it is'}
      </button>
      {(advice.adjust || mayAdjust) && (
        <button type="button" className="button" onClick={() => setAgainst(true)}>
          {advice.adjust ? 'Leave it all the same' : 'Adjust all the same'}
        </button>
      )}
    </div>
  );
}

/** The zero adjustment: the indication before and after, read from the instrument. */
export function AdjustPanel() {
  const { state, act } = useRun();
  const [before, setBefore] = useState('');
  const [after, setAfter] = useState('');
  const [note, setNote] = useState('');
  const [fault, setFault] = useState('');
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => form.current?.querySelector('input')?.focus(), []);
  const { adjustment } = state.procedure;

  function submit(event: FormEvent) {
    event.preventDefault();
    if (before.trim() && !after.trim() && document.activeElement?.getAttribute('name') === 'before')
      return form.current?.querySelector<HTMLInputElement>('[name="after"]')?.focus();
    setFault(act({ type: 'zero-adjusted', before: before || ' ', after: after || ' ', note })?.message ?? '');
  }
  const entry = (name: string, label: string, value: string, set: (text: string) => void) => (
    <label className="flex items-baseline gap-3 border-b border-rule-strong">
      <span className="w-40">{label}</span>
      <input
        name={name}
        value={value}
        onChange={(e) => set(e.target.value)}
        inputMode="decimal"
        autoComplete="off"
        maxLength={20}
        className="figure w-full !border-0 !bg-transparent !text-right !text-3xl font-bold"
      />
      <span className="text-xl text-soft">mm</span>
    </label>
  );
  return (
    <form ref={form} onSubmit={submit} className="flex flex-col gap-3">
      <p className="text-sm text-soft">{adjustment.title}</p>
      <h2 className="text-lg leading-snug">{adjustment.instruction}</h2>
      {adjustment.caution && <p className="caution">{adjustment.caution}</p>}
      {entry('before', 'Closed, before', before, setBefore)}
      {entry('after', 'Closed, after', after, setAfter)}
      <label>
        <span className="block text-sm text-soft">Note, if any</span>
        <input name="note" value={note} onChange={(e) => setNote(e.target.value)} className="w-full" maxLength={300} />
      </label>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <button className="button button-main min-h-13 !text-lg">Record the adjustment</button>
    </form>
  );
}

/** The next date with its reason, then the end of the run. */
export function FinishPanel({
  kind,
  found,
  left,
}: {
  kind: 'decide-interval' | 'complete';
  found: PointResult[];
  left: PointResult[];
}) {
  const { state, now, act } = useRun();
  const proposal = proposeNextDate(state, found, dayIn(now, state.timeZone));
  const [date, setDate] = useState(proposal.date);
  const [reason, setReason] = useState('');
  const [remark, setRemark] = useState('');
  const [fault, setFault] = useState('');
  const main = useRef<HTMLButtonElement>(null);
  useEffect(() => main.current?.focus(), [kind]);
  const isOther = date !== proposal.date;
  const leftVerdict = passVerdict(state, asLeftPass(state), asLeftPass(state) === 'as-left' ? left : found);

  if (kind === 'decide-interval')
    return (
      <form
        className="flex flex-col gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          setFault(
            act({
              type: 'interval-decided',
              next: date,
              proposed: proposal.date,
              reason: isOther ? reason.trim() : proposal.reason,
            })?.message ?? '',
          );
        }}
      >
        <h2 className="text-lg">Next calibration</h2>
        <p className="figure text-4xl font-bold">{date || '–'}</p>
        <p>{proposal.reason}</p>
        <label>
          <span className="block text-sm text-soft">Another date</span>
          <input type="date" value={date} onChange={(e) => setDate(e.target.value)} className="figure w-full" />
        </label>
        {isOther && (
          <label>
            <span className="block text-sm text-soft">Reason for this date in place of {proposal.date}</span>
            <input value={reason} onChange={(e) => setReason(e.target.value)} className="w-full" maxLength={300} />
          </label>
        )}
        {fault && (
          <p className="fault" role="alert">
            {fault}
          </p>
        )}
        <button ref={main} className="button button-main min-h-13 !text-lg">
          Set this date
        </button>
      </form>
    );
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        setFault(act({ type: 'run-completed', certificate: 'later', remark: remark.trim() })?.message ?? '');
      }}
    >
      <h2 className="text-lg">Finish the run</h2>
      <dl className="ruled border-y border-rule [&>div]:flex [&>div]:justify-between [&>div]:py-2">
        <div>
          <dt>As found</dt>
          <dd>
            <VerdictWord verdict={passVerdict(state, 'as-found', found)} />
          </dd>
        </div>
        <div>
          <dt>As left{!state.adjustment && ' (nothing adjusted)'}</dt>
          <dd>
            <VerdictWord verdict={leftVerdict} />
          </dd>
        </div>
        <div>
          <dt>Next calibration</dt>
          <dd className="figure">{state.interval?.next}</dd>
        </div>
      </dl>
      <label>
        <span className="block text-sm text-soft">Remark on the certificate, if any</span>
        <textarea value={remark} onChange={(e) => setRemark(e.target.value)} rows={2} className="w-full" maxLength={1000} />
      </label>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <button ref={main} className="button button-main min-h-13 !text-lg">
        Finish and make the certificate
      </button>
    </form>
  );
}
