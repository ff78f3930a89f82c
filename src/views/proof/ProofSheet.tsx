import { CircleCheck, CircleDashed, CircleX, Printer } from 'lucide-react';
import { useEffect, useState } from 'react';
import { compareWithPublished, unitOfResult, type Comparison, type PublishedExample } from '../../core/proof/published-example';
import { printedUnit } from '../../core/quantity/unit';
import { compareFunctions, type FunctionComparison } from '../../core/proof/published-functions';
import { compareShares } from '../../core/proof/published-shares';
import { askCore } from '../../worker/ask-core';
import { FunctionProof } from './FunctionProof';
import { ProofTable } from './ProofTable';
import { guarded } from '../../ui/guarded';

type Outcome = { comparisons: Comparison[] } | { fault: string };

const superscripts = '⁰¹²³⁴⁵⁶⁷⁸⁹';

/** A number as people write it: plain where that is short, else with a power of ten. */
const number = (value: number | boolean | null, digits = 12): string => {
  if (value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (value === 0) return '0';
  const rounded = Number(value.toPrecision(digits));
  if (Math.abs(value) < 1e9 && Math.abs(value) >= 1e-4) return String(rounded).replace('-', '−');
  const [mantissa, exponent] = rounded.toExponential().split('e') as [string, string];
  const power = [...exponent.replace('+', '')].map((c) => (c === '-' ? '⁻' : superscripts[Number(c)])).join('');
  return `${mantissa.replace('-', '−')} × 10${power}`;
};

const words: Record<string, string> = {
  estimate: 'estimate',
  standardUncertainty: 'standard uncertainty',
  effectiveDof: 'effective degrees of freedom',
  coverageFactor: 'coverage factor',
  expandedUncertainty: 'expanded uncertainty',
  'interval.low': 'lower end of the interval',
  'interval.high': 'upper end of the interval',
  'validation.validated': 'first-order interval is good enough',
  residualStandardDeviation: 'residual standard deviation',
  'correlation.0.1': 'correlation of the coefficients',
  'predictions.0.y': 'predicted value',
  'predictions.0.standardUncertainty': 'its standard uncertainty',
  falseAccept: 'false accept',
  falseReject: 'false reject',
};

/** A member of a result in words. */
const resultWords = (name: string): string =>
  words[name] ??
  name
    .replace(/^coefficients\.(\d+)$/, 'coefficient $1')
    .replace(/^standardUncertainties\.(\d+)$/, 'standard uncertainty of coefficient $1');

const verbTitles: Record<PublishedExample['verb'], string> = {
  budget: 'First-order propagation and coverage',
  montecarlo: 'Propagation of distributions by Monte Carlo',
  fit: 'Calibration curves (data published without units)',
  risk: 'Risks of wrong decisions',
  conformity: 'Decisions of conformity',
};

/** Every published example the product knows, recomputed in this browser on this machine. */
export const ProofSheet = guarded(function ProofSheet({
  examples,
  version,
}: {
  examples: PublishedExample[];
  /** Of this software. */ version: string;
}) {
  const [outcomes, setOutcomes] = useState<Record<string, Outcome>>({});
  const [functionLines, setFunctionLines] = useState<FunctionComparison[]>([]);
  const [shareLines, setShareLines] = useState<FunctionComparison[]>([]);
  const [machine, setMachine] = useState('');
  useEffect(() => {
    let stopped = false;
    let stop = () => {};
    async function recompute() {
      setMachine(
        `${new Date().toISOString().slice(0, 16).replace('T', ' ')} UTC · ${(navigator.userAgent.match(/(Firefox|Edg|OPR|Chrome|Version)\/[\d.]+/g) ?? [navigator.userAgent]).join(', ').replaceAll('/', ' ')}`,
      );
      setFunctionLines(compareFunctions());
      setShareLines(compareShares());
      for (const example of examples) {
        if (stopped) return;
        const question = askCore(example.verb, example.input);
        stop = question.cancel;
        const answer = await question.answer;
        if (!stopped)
          setOutcomes((before) => ({
            ...before,
            [example.id]: answer.ok
              ? { comparisons: compareWithPublished(example, answer.document) }
              : { fault: answer.refusal.error.message },
          }));
      }
    }
    void recompute();
    return () => {
      stopped = true;
      stop();
    };
  }, [examples]);

  const done = Object.keys(outcomes).length;
  const agrees = (o: Outcome | undefined) => o !== undefined && 'comparisons' in o && o.comparisons.every((c) => c.agrees);
  const agreeing = examples.filter((e) => agrees(outcomes[e.id])).length;
  const lines = [...functionLines, ...shareLines];
  const all = examples.length + lines.length;
  const differing = examples.length - agreeing + lines.filter((l) => !l.agrees).length;
  const verbs = [...new Set(examples.map((e) => e.verb))];
  return (
    <div>
      <div className="flex flex-wrap items-start gap-4">
        <div className="mr-auto max-w-3xl">
          <h1>Proof</h1>
          <p className="mt-1">
            Worked examples from public guides and reference data, computed anew by this software in this browser and compared
            with what was published.
          </p>
          <p className="mt-3 flex items-center gap-2 text-2xl font-bold" role="status">
            {done < examples.length ? (
              <>
                <CircleDashed aria-hidden /> {done} of {examples.length} examples recomputed
              </>
            ) : differing === 0 ? (
              <span className="flex items-center gap-2 text-verdigris">
                <CircleCheck aria-hidden /> All {all} agree
              </span>
            ) : (
              <span className="flex items-center gap-2 text-brick">
                <CircleX aria-hidden /> {differing} of {all} differ
              </span>
            )}
          </p>
          <p className="text-sm text-soft">
            Just Twice {version}
            {machine && ` · ${machine}`}
          </p>
        </div>
        <button type="button" className="button print:hidden" onClick={() => window.print()}>
          <Printer size={18} aria-hidden /> Print
        </button>
      </div>
      {verbs.map((verb) => (
        <ProofTable key={verb} title={verbTitles[verb]} label={verbTitles[verb]} what="Result" hasDifference>
          {examples.filter((e) => e.verb === verb).flatMap((e) => rowsOf(e, outcomes[e.id]))}
        </ProofTable>
      ))}
      {functionLines.length > 0 && <FunctionProof title="Functions that procedures may call" what="Call" lines={functionLines} />}
      {shareLines.length > 0 && (
        <FunctionProof
          title="Shares still inside, seen at intervals"
          what="Goes out"
          lines={shareLines}
          call={({ args }) => `between ${args.join(' and ')} months`}
        />
      )}
    </div>
  );
});

function rowsOf(example: PublishedExample, outcome: Outcome | undefined) {
  const names = Object.keys(example.expect);
  return names.map((name, i) => {
    const c = outcome && 'comparisons' in outcome ? outcome.comparisons.find((x) => x.name === name) : undefined;
    const published = example.expect[name]!;
    const unit = printedUnit(unitOfResult(example, name));
    const withUnit = (text: string) => (unit ? `${text} ${unit}` : text);
    return (
      <tr key={`${example.id} ${name}`} className={i === 0 ? 'border-t border-rule-strong' : 'border-t border-rule'}>
        {i === 0 && (
          <td rowSpan={names.length} className="max-w-72 px-3 py-1 align-top">
            {example.source}
            {example.note && <span className="block text-soft">{example.note}</span>}
            {outcome && 'fault' in outcome && <span className="fault mt-1 block">{outcome.fault}</span>}
          </td>
        )}
        <td className="px-3 py-1">{resultWords(name)}</td>
        <td className="figure px-3 text-right">{withUnit(number(published.value))}</td>
        <td className="figure px-3 text-right">{c ? withUnit(number(c.computed)) : '…'}</td>
        <td className="figure px-3 text-right">{c && c.difference !== null && withUnit(number(c.difference, 2))}</td>
        <td className="figure px-3 text-right text-soft">
          {'within' in published ? withUnit(number(published.within)) : 'the same'}
        </td>
        <td className="px-3">
          {c && (
            <span className={`inline-flex items-center gap-1 font-bold ${c.agrees ? 'text-verdigris' : 'text-brick'}`}>
              {c.agrees ? <CircleCheck size={15} aria-hidden /> : <CircleX size={15} aria-hidden />} {c.agrees ? 'yes' : 'no'}
            </span>
          )}
        </td>
      </tr>
    );
  });
}
