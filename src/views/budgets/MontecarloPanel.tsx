import { useRef, useState } from 'react';
import type { MontecarloResult } from '../../core/montecarlo/montecarlo';
import { reportedPair } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import type { Budget } from '../../core/uncertainty/budget-schema';
import type { BudgetResult } from '../../core/uncertainty/propagate';
import { criterionWords, TrialHistogram } from './TrialHistogram';
import { askCore, type CoreQuestion } from '../../worker/ask-core';

const trials = 1_000_000;

type Ran = { budget: Budget; result: MontecarloResult; probability: number };

/** Monte Carlo beside the first-order result: is the first-order interval good enough? */
export function MontecarloPanel({ budget, first }: { budget: Budget; first: BudgetResult }) {
  const [kind, setKind] = useState<'symmetric' | 'shortest'>('symmetric');
  const [progress, setProgress] = useState<number | null>(null);
  const [ran, setRan] = useState<Ran | null>(null);
  const [fault, setFault] = useState('');
  const question = useRef<CoreQuestion | null>(null);
  const unit = printedUnit(budget.output.unit);
  const probability = first.coverageProbability ?? 0.9545;

  async function run() {
    setFault('');
    setProgress(0);
    question.current = askCore('montecarlo', { budget, trials, seed: 1, probability, interval: kind }, (done, of) =>
      setProgress(done / of),
    );
    const answer = await question.current.answer;
    setProgress(null);
    if (answer.ok) setRan({ budget, result: answer.document as MontecarloResult, probability });
    else if (answer.refusal.error.message !== 'Cancelled.') setFault(answer.refusal.error.message);
  }

  const isCurrent = ran?.budget === budget;
  const shown = ran && {
    value: reportedPair(ran.result.estimate, ran.result.standardUncertainty),
    low: reportedPair(ran.result.interval.low, ran.result.standardUncertainty / 10).estimate,
    high: reportedPair(ran.result.interval.high, ran.result.standardUncertainty / 10).estimate,
  };
  return (
    <section className="mt-6 border-t border-ink pt-4" aria-label="Monte Carlo">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="mr-auto">Monte Carlo</h2>
        <select value={kind} onChange={(e) => setKind(e.target.value as 'symmetric' | 'shortest')} aria-label="Kind of interval">
          <option value="symmetric">symmetric interval</option>
          <option value="shortest">shortest interval</option>
        </select>
        {progress === null ? (
          <button type="button" className="button" onClick={run}>
            Run {trials.toLocaleString('en').replace(/,/g, ' ')} trials
          </button>
        ) : (
          <button type="button" className="button" onClick={() => question.current?.cancel()}>
            Cancel ({Math.round(progress * 100)} %)
          </button>
        )}
      </div>
      {progress !== null && (
        <progress className="mt-2 w-full accent-verdigris" value={progress} aria-label="Progress of the trials" />
      )}
      {fault && (
        <p className="fault mt-2" role="alert">
          {fault}
        </p>
      )}
      {ran && shown && (
        <div className={isCurrent ? '' : 'opacity-60'}>
          {!isCurrent && <p className="caution mt-2 text-sm">The budget has changed since these trials. Run them again.</p>}
          <TrialHistogram result={ran.result} first={first} unit={unit} />
          <p className="figure mt-1 text-sm !whitespace-normal">
            Estimate {shown.value.estimate.replace('-', '−')} {unit}, u = {shown.value.expandedUncertainty} {unit};{' '}
            {Number((ran.probability * 100).toPrecision(4))} % of the trials lie from {shown.low.replace('-', '−')} to{' '}
            {shown.high.replace('-', '−')} {unit}.
          </p>
          {ran.result.validation ? (
            <p
              className={`mt-2 font-bold ${ran.result.validation.validated ? 'text-verdigris' : 'text-brick'}`}
              data-testid="validation"
            >
              {ran.result.validation.validated
                ? 'The first-order interval is good enough: it agrees with the trials to two digits of u.'
                : 'The first-order interval is not good enough here: report the interval of the trials.'}
              <span className="block text-sm font-normal text-soft">{criterionWords(ran.result.validation, unit)}</span>
            </p>
          ) : (
            <p className="caution mt-2 text-sm">{ran.result.warnings.join(' ')}</p>
          )}
        </div>
      )}
    </section>
  );
}
