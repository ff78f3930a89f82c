import { useEffect, useRef, useState } from 'react';
import { dayIn } from '../../core/quantity/day-in-zone';
import { proposeNextDate } from '../../core/interval/next-date';
import { hasPair, verdictAsFound, verdictAsLeft } from '../../core/run/run-results';
import { dayField } from '../../ui/date-input';
import { VerdictWord } from '../../ui/VerdictWord';
import { useRun } from './run-context';

/** The next date with its reason, then the end of the run. */
export function FinishPanel({ kind }: { kind: 'interval' | 'complete' }) {
  const { state, now, act } = useRun();
  const found = verdictAsFound(state);
  const proposal = proposeNextDate(state, found, dayIn(now, state.timeZone));
  const [date, setDate] = useState(proposal.date);
  const [reason, setReason] = useState('');
  const [remark, setRemark] = useState('');
  const [fault, setFault] = useState('');
  const main = useRef<HTMLButtonElement>(null);
  useEffect(() => main.current?.focus(), [kind]);
  const isOther = date !== proposal.date;

  if (kind === 'interval')
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
          <input {...dayField} value={date} onChange={(e) => setDate(e.target.value)} className="figure w-full" />
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
        <button ref={main} data-keys className="button button-main min-h-13 !text-lg">
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
            <VerdictWord verdict={found} />
          </dd>
        </div>
        <div>
          <dt>As left{!hasPair(state) && ' (nothing adjusted)'}</dt>
          <dd>
            <VerdictWord verdict={verdictAsLeft(state)} />
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
      <button ref={main} data-keys className="button button-main min-h-13 !text-lg">
        Finish and make the certificate
      </button>
    </form>
  );
}
