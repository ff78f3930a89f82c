import { useEffect, useRef, useState } from 'react';
import { adjustmentAdvice } from '../../core/run/adjustment-advice';
import type { Diagnosis } from '../../core/run/diagnosis';
import { instanceTitle, setTitle } from '../../core/run/place-words';
import { errAlike } from '../../core/set-up/err-alike';
import { rangeNotCovered } from '../../core/run/range-covered';
import { tooUncertainIn } from '../../core/run/review-points';
import { evaluationIfAny, faultIn, isSettled } from '../../core/run/run-results';
import { causeFound } from '../../core/run/rungs';
import { unbroken } from '../../ui/unbroken';
import { VerdictWord } from '../../ui/VerdictWord';
import { GainNote } from './GainNote';
import { InDoubt } from './InDoubt';
import { ReasonPrompt } from './ReasonPrompt';
import { RuleOutList } from './RuleOutList';
import { useRun } from './run-context';
import { useDiagnosis } from './use-diagnosis';

const scatterReasons = ['Read again: it stays', 'The scatter is the instrument’s own there'];

type Choice = { adjustment: string | null; each: string | null };

/** A set is judged: leave it, or adjust? The tool proposes with a reason; going against it takes one. */
export function JudgePanel({ set }: { set: string }) {
  const { state } = useRun();
  const diagnosis = useDiagnosis(state, set);
  return diagnosis ? (
    <Decide set={set} diagnosis={diagnosis} />
  ) : (
    <h2 className="text-2xl font-normal" role="status">
      {setTitle(set)}: looking at the readings…
    </h2>
  );
}

function Decide({ set, diagnosis }: { set: string; diagnosis: Diagnosis }) {
  const { state, together, act } = useRun();
  const [against, setAgainst] = useState<Choice | null>(null);
  const [fault, setFault] = useState('');
  const panel = useRef<HTMLDivElement>(null);
  // What stands above it stays in sight.
  useEffect(() => panel.current?.focus({ preventScroll: true }), [against]);
  const advice = adjustmentAdvice(state, set);
  const alike = errAlike(together, set);
  const verdict = isSettled(state, set) ? evaluationIfAny(state, set).verdict : null;
  const titleOf = (c: Choice): string => {
    const doc = state.procedure.adjustments.find((a) => a.id === c.adjustment);
    if (!doc) return 'Leave it as it is';
    const each = c.each ? `${instanceTitle(state, doc.of[0]!, c.each)}: ` : '';
    return `${each}${doc.title}`;
  };
  const decide = ({ adjustment, each }: Choice, reason: string) =>
    act({
      type: 'adjustment-decided',
      set,
      adjustment,
      ...(adjustment !== null && each !== null ? { each } : {}),
      proposed: advice.adjustment,
      reason,
    })?.message ?? null;
  if (against)
    return (
      <ReasonPrompt
        title={
          diagnosis.scatter ? `Scatter at ${diagnosis.scatter}: why may it stand?` : `${titleOf(against)} all the same: why?`
        }
        ready={diagnosis.scatter ? scatterReasons : []}
        confirm={titleOf(against)}
        onCancel={() => setAgainst(null)}
        onReason={(reason) => decide(against, reason)}
      />
    );
  const found = causeFound(state, set);
  const proposed: Choice = { adjustment: advice.adjustment, each: advice.each };
  const others: Choice[] = [
    { adjustment: null, each: null },
    ...(state.instrument.adjustmentAllowed
      ? advice.outlooks.map((o) => ({ adjustment: o.doc.id, each: o.advice.each ?? null }))
      : []),
  ].filter((c) => c.adjustment !== proposed.adjustment || c.each !== proposed.each);
  const readAgain = () => setFault(act({ type: 'ruling-out', set, id: found!.id, note: found!.note })?.message ?? '');
  // Where a cause was found, whatever else is decided is against the advice.
  const choices = found ? [null, proposed, ...others] : [proposed, ...others];
  const choose = (i: number) => {
    const choice = choices[i];
    if (choice === null) return readAgain();
    if (!choice) return;
    if (i > 0 || diagnosis.scatter) setAgainst(choice);
    else setFault(decide(choice, '') ?? '');
  };
  if (faultIn(state, set) !== null)
    return (
      <div ref={panel} role="group" aria-label="Decide" data-keys tabIndex={-1} className="flex flex-col gap-3 outline-none">
        <h2 className="text-2xl font-normal">{setTitle(set)}: no results</h2>
        <p className="fault">{unbroken(advice.reason)}</p>
      </div>
    );
  return (
    <div
      ref={panel}
      role="group"
      aria-label="Decide"
      data-keys
      tabIndex={-1}
      className="flex flex-col gap-3 outline-none"
      onKeyDown={(e) => {
        // A digit decides; Enter, which may bounce from the last reading, does not.
        if (!/^[1-9]$/.test(e.key) || e.ctrlKey || e.metaKey || e.altKey) return;
        e.preventDefault();
        choose(Number(e.key) - 1);
      }}
    >
      <h2 className="text-2xl font-normal">
        {setTitle(set)}: <VerdictWord verdict={verdict} />
      </h2>
      {diagnosis.sentence && <h3 className="text-lg leading-snug">{unbroken(diagnosis.sentence)}</h3>}
      {alike && <p className="caution">{alike.sentence}</p>}
      {[...tooUncertainIn(state, set), ...rangeNotCovered(state, set)].map((words) => (
        <p key={words} className="caution">
          {words}.
        </p>
      ))}
      <p className="border-y border-rule py-2">
        <span className="block text-sm text-soft">Advice</span>
        {found ? (
          <>
            <strong>Read everything again.</strong> It was “{found.note}”. {unbroken(found.words)}.
          </>
        ) : (
          <>
            {advice.before && `${advice.before} `}
            <strong>{titleOf(proposed)}.</strong> {unbroken(advice.reason)}
          </>
        )}
      </p>
      {advice.outlooks.length > 0 && state.instrument.adjustmentAllowed && <GainNote set={set} />}
      {verdict?.startsWith('conditional') && <InDoubt set={set} />}
      {verdict && verdict !== 'pass' && <RuleOutList set={set} isJudged />}
      {/* The decision is in sight whatever stands above it. */}
      <div className="sticky bottom-8 z-10 flex flex-col gap-2 bg-paper pt-2 pb-4">
        {fault && <p className="fault">{fault}</p>}
        <button type="button" className="button button-main min-h-13 !justify-start !text-lg" onClick={() => choose(0)}>
          <span className="key">1</span> {found ? 'Read everything again' : titleOf(proposed)}
        </button>
      </div>
      <div className="flex flex-col gap-2">
        {choices.slice(1).map((c, i) => (
          <button
            key={`${c!.adjustment}|${c!.each}`}
            type="button"
            className="button !justify-start text-left"
            onClick={() => choose(i + 1)}
          >
            <span className="key">{i + 2}</span> {titleOf(c!)} all the same
          </button>
        ))}
      </div>
    </div>
  );
}
