import { useRef, useState } from 'react';
import type { MontecarloResult } from '../../core/montecarlo/montecarlo';
import { reportedPair } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import type { Budget } from '../../core/uncertainty/budget-schema';
import type { BudgetResult } from '../../core/uncertainty/propagate';
import { askCore, type CoreQuestion } from '../../worker/ask-core';

const trials = 1_000_000;

type Ran = { budget: Budget; result: MontecarloResult; probability: number };

/** The distribution of the result with both coverage intervals. */
function Histogram({ ran, first }: { ran: Ran; first: BudgetResult }) {
  const { histogram, interval } = ran.result;
  const [width, height] = [420, 150];
  // Far tails would squeeze the rest: what is drawn spans the intervals and half as much again.
  const U = (first.expandedUncertainty / first.coverageFactor) * 2;
  const low = Math.max(histogram.edges[0]!, Math.min(interval.low, first.estimate - U) - 0.5 * (interval.high - interval.low));
  const high = Math.min(
    histogram.edges.at(-1)!,
    Math.max(interval.high, first.estimate + U) + 0.5 * (interval.high - interval.low),
  );
  const at = (v: number) => ((v - low) / (high - low || 1)) * width;
  const top = Math.max(...histogram.counts);
  const bracket = (from: number, to: number, y: number, colour: string, dashed: boolean) => (
    <path
      d={`M${at(from)} ${y - 5} v10 m0 -5 H${at(to)} m0 -5 v10`}
      fill="none"
      stroke={colour}
      strokeWidth="2"
      strokeDasharray={dashed ? '5 3' : undefined}
    />
  );
  return (
    <svg
      viewBox={`0 0 ${width} ${height + 44}`}
      className="mt-2 w-full bg-sheet"
      role="img"
      aria-label={`Distribution of the result; Monte Carlo interval ${interval.low} to ${interval.high}`}
    >
      {histogram.counts.map((count, i) => {
        const [a, b] = [at(histogram.edges[i]!), at(histogram.edges[i + 1]!)];
        return b < 0 || a > width ? null : (
          <rect
            key={i}
            x={a}
            width={Math.max(0.5, b - a)}
            y={height - (height - 6) * (count / top)}
            height={(height - 6) * (count / top)}
            fill="var(--color-verdigris-tint)"
            stroke="var(--color-verdigris)"
            strokeWidth="0.4"
          />
        );
      })}
      <line x1="0" x2={width} y1={height} y2={height} stroke="var(--color-ink)" />
      {bracket(interval.low, interval.high, height + 14, 'var(--color-ink)', false)}
      {bracket(
        first.estimate - first.expandedUncertainty,
        first.estimate + first.expandedUncertainty,
        height + 32,
        'var(--color-brick)',
        true,
      )}
    </svg>
  );
}

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
          <Histogram ran={ran} first={first} />
          <p className="figure text-sm !whitespace-normal">
            — Monte Carlo, {Number((ran.probability * 100).toPrecision(4))} %: {shown.low.replace('-', '−')} to{' '}
            {shown.high.replace('-', '−')} {unit}, u = {shown.value.expandedUncertainty} {unit}
          </p>
          <p className="figure text-sm text-brick">- - first order: ± U about the estimate</p>
          {ran.result.validation ? (
            <p
              className={`mt-2 font-bold ${ran.result.validation.validated ? 'text-verdigris' : 'text-brick'}`}
              data-testid="validation"
            >
              {ran.result.validation.validated
                ? 'The first-order interval is good enough: it agrees with the trials to two digits of u.'
                : 'The first-order interval is not good enough here: report the interval of the trials.'}
            </p>
          ) : (
            <p className="caution mt-2 text-sm">{ran.result.warnings.join(' ')}</p>
          )}
        </div>
      )}
    </section>
  );
}
