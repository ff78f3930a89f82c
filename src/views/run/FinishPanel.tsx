import { useState } from 'react';
import { hasPair, verdictAsFound, verdictAsLeft } from '../../core/run/run-results';
import { pairsOfRun } from '../../core/run/run-pairs';
import { isQuickCheck } from '../../core/state/run-state';
import { limitWords, shownPair, withPrintedUnit } from '../../core/run/shown-value';
import { VerdictWord } from '../../ui/VerdictWord';
import { useRun } from './run-context';
import { useDecidingButton } from './use-bench';

/** The end of a run: what it came to, and a remark. */
export function FinishPanel() {
  const { state, act } = useRun();
  const isQuick = isQuickCheck(state);
  const [remark, setRemark] = useState('');
  const [fault, setFault] = useState('');
  const main = useDecidingButton();
  const found = verdictAsFound(state);
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        setFault(act({ type: 'run-completed', certificate: 'later', remark: remark.trim() })?.message ?? '');
      }}
    >
      <h2 className="text-lg">{isQuick ? 'Finish the check' : 'Finish the run'}</h2>
      {isQuick ? (
        <QuickValues />
      ) : (
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
      )}
      <label>
        <span className="block text-sm text-soft">{isQuick ? 'Remark, if any' : 'Remark on the certificate, if any'}</span>
        <textarea value={remark} onChange={(e) => setRemark(e.target.value)} rows={2} className="w-full" maxLength={1000} />
      </label>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <button {...main} className="button button-main min-h-13 !text-lg">
        {isQuick ? 'Finish, and look at the chart' : 'Finish and make the certificate'}
      </button>
    </form>
  );
}

/** What a quick check read, each with its tolerance, to be seen from a metre away. */
function QuickValues() {
  const { state } = useRun();
  return (
    <ul className="ruled border-y border-rule">
      {pairsOfRun(state).pairs.map((p) => {
        const v = p.found!;
        const { value } = shownPair(v.value, v.expandedUncertainty, p.unit, p.shownIn, v);
        const isOut = (v.lower !== null && v.value < v.lower) || (v.upper !== null && v.value > v.upper);
        return (
          <li key={p.key} className="py-2">
            <span className="block text-sm text-soft">{[p.what, p.point].filter(Boolean).join(', ')}</span>
            <span className={`figure block text-4xl font-bold ${isOut ? 'text-brick' : ''}`}>
              {withPrintedUnit(value, p.shownIn)}
            </span>
            <span className="block text-sm">
              {isOut ? 'Outside' : 'Inside'} {limitWords(v, p.unit, p.shownIn)}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
