import { failuresIn, failureSentence } from '../../core/run/failures';
import { setTitle } from '../../core/run/place-words';
import { evaluationIfAny, faultIn, isSettled } from '../../core/run/run-results';
import type { RunState } from '../../core/state/run-state';
import { unitIn, withUnit } from '../../core/steps/step-context';
import { VerdictWord } from '../../ui/VerdictWord';

/** A run with more readings than this says what its errors look like only when its readings are complete. */
const manyReadings = 200;

/** Under the sheet: what the set gave, or how it stands. */
export function Standing({ state, set }: { state: RunState; set: string }) {
  const isComplete = isSettled(state, set);
  const isSmall = state.readings.length <= manyReadings;
  if (!isComplete && !isSmall) return null;
  const fault = faultIn(state, set);
  if (fault) return <p className="fault mt-2">As a whole these readings cannot be worked out: {fault}</p>;
  const sentence = failureSentence(failuresIn(state, set));
  const inForce = state.procedure.conditions.flatMap((c) => {
    const last = state.conditions.findLast((r) => r.id === c.id && r.set === set);
    return last ? [`${c.title} ${withUnit(last.value, unitIn(state, c.unit, { set }))}`] : [];
  });
  return (
    <p className="mt-2 flex flex-wrap items-center gap-x-4 px-2 text-sm">
      {isComplete ? (
        <>
          <span>
            {setTitle(set)}: <VerdictWord verdict={evaluationIfAny(state, set).verdict} />
          </span>
          <span>{sentence}</span>
        </>
      ) : (
        <span className="text-soft">
          {inForce.length > 0 && `${inForce.join(', ')}. `}
          {sentence && `So far: ${sentence}`}
        </span>
      )}
    </p>
  );
}
