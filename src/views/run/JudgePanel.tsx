import { useState } from 'react';
import { adjustmentAdvice } from '../../core/run/adjustment-advice';
import { diagnose } from '../../core/run/diagnosis';
import { instanceTitle, setTitle } from '../../core/run/place-words';
import { tooUncertainIn } from '../../core/run/review-points';
import { evaluationIfAny, isSettled } from '../../core/run/run-results';
import { VerdictWord } from '../../ui/VerdictWord';
import { MainButton } from '../steps/StepPanel';
import { ReasonPrompt } from './ReasonPrompt';
import { RuleOutList } from './RuleOutList';
import { useRun } from './run-context';

const scatterReasons = ['Read again: it stays', 'The scatter is the instrument’s own there'];

type Choice = { adjustment: string | null; each: string | null };

/** A set is judged: leave it, or adjust? The tool proposes with a reason; going against it takes one. */
export function JudgePanel({ set }: { set: string }) {
  const { state, act } = useRun();
  const [against, setAgainst] = useState<Choice | null>(null);
  const [fault, setFault] = useState('');
  const diagnosis = diagnose(state, set);
  const advice = adjustmentAdvice(state, set);
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
  const proposed: Choice = { adjustment: advice.adjustment, each: advice.each };
  const others: Choice[] = [
    { adjustment: null, each: null },
    ...(state.instrument.adjustmentAllowed
      ? advice.outlooks.map((o) => ({ adjustment: o.doc.id, each: o.advice.each ?? null }))
      : []),
  ].filter((c) => c.adjustment !== proposed.adjustment || c.each !== proposed.each);
  return (
    <div className="flex flex-col gap-4">
      <h2 className="text-2xl font-normal">
        {setTitle(set)}: <VerdictWord verdict={verdict} />
      </h2>
      {diagnosis.sentence && <h3 className="text-lg leading-snug">{diagnosis.sentence}</h3>}
      {tooUncertainIn(state, set).map((words) => (
        <p key={words} className="caution">
          {words}.
        </p>
      ))}
      <p className="border-y border-rule py-3">
        <span className="block text-sm text-soft">Advice</span>
        <strong>{titleOf(proposed)}.</strong> {advice.reason}
      </p>
      {fault && <p className="fault">{fault}</p>}
      <MainButton onPress={() => (diagnosis.scatter ? setAgainst(proposed) : setFault(decide(proposed, '') ?? ''))}>
        {titleOf(proposed)}
      </MainButton>
      {others.map((c) => (
        <button key={`${c.adjustment}|${c.each}`} type="button" className="button" onClick={() => setAgainst(c)}>
          {titleOf(c)} all the same
        </button>
      ))}
      {verdict && verdict !== 'pass' && <RuleOutList set={set} />}
    </div>
  );
}
