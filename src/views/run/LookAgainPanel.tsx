import type { PlanItem } from '../../core/plan/plan-schema';
import { sentenceOf } from '../../core/run/next-step';
import { lookedAt } from '../../core/run/rungs';
import type { TypedAt as Typed } from '../../core/run/typed-at';
import { placeOf } from '../../core/state/place-keys';
import { useRun } from './run-context';
import { TypedAt } from './TypedAt';

/** After a cause was looked for: the point that was outside, read once more, before all is read again. */
export function LookAgainPanel({ item }: { item: Extract<PlanItem, { type: 'look' }> }) {
  const { state, act, now } = useRun();
  const cause = state.procedure.ruleOut.find((r) => r.id === item.id);
  const record = (texts: Typed) =>
    act({ type: 'looked', ...placeOf(item), series: item.series!, point: item.point!, id: item.id, texts });
  return (
    <div className="flex flex-col gap-3">
      <h2 className="text-xl leading-snug">{sentenceOf(state, item, now)}</h2>
      {cause && (
        <p>
          <strong>{cause.title}.</strong> {cause.instruction}
        </p>
      )}
      {cause?.caution && <p className="caution">{cause.caution}</p>}
      <p className="text-sm text-soft">It stands beside the readings of the set, which stay as they are.</p>
      <TypedAt
        slots={lookedAt(state, item)}
        when="read once more"
        confirm="Record it"
        onTake={record}
        beside={
          <button type="button" className="button button-quiet" onClick={() => record({})}>
            Not read again
          </button>
        }
      />
    </div>
  );
}
