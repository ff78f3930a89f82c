import { filledText } from '../../core/run/place-words';
import { nextItem, stepOf } from '../../core/run/next-step';
import { isClosed } from '../../core/state/progress';
import { itemKey } from '../../core/state/place-keys';
import type { RunState } from '../../core/state/run-state';
import { stepSaid } from '../../core/steps/registry';
import { withUnit, unitIn } from '../../core/steps/step-context';
import { timeOfDay } from '../../ui/clock';
import { useRun } from './run-context';

type StepItem = Extract<RunState['plan'][number], { type: 'step' }>;
type Line = {
  key: string;
  title: string;
  ask: string;
  said: string;
  when: string | null;
  isNext: boolean;
  /** An answer that can be given anew. */ answered: StepItem | null;
};

/** Kinds of step that ask something. */
const asking: ReadonlySet<string> = new Set(['confirm', 'identify', 'choose', 'measure', 'settings']);

/** What is done before the first reading: the plan's own steps and conditions, each with what was recorded. */
function linesOf(state: RunState): Line[] {
  const next = nextItem(state);
  const first = state.plan.findIndex((i) => i.type === 'reading');
  const items = state.plan.slice(0, first < 0 ? undefined : first);
  return items.flatMap((item): Line[] => {
    const key = itemKey(item);
    const isNext = next !== null && itemKey(next) === key;
    const done = state.done.get(key);
    if (item.type === 'condition') {
      const doc = state.procedure.conditions.find((c) => c.id === item.id);
      const record = [...state.conditions].reverse().find((c) => c.id === item.id);
      const said = record && doc ? withUnit(record.value, unitIn(state, doc.unit, item)) : '';
      return [
        {
          key,
          title: doc?.title ?? item.id,
          ask: 'Conditions',
          said: done ? said : '',
          when: record?.at ?? null,
          isNext,
          answered: null,
        },
      ];
    }
    if (item.type !== 'step') return [];
    const step = stepOf(state, item);
    if (!step) return [];
    const record = [...state.steps].reverse().find((r) => itemKey({ type: 'step', ...r.item }) === key);
    const wait = state.waits.get(key);
    const said = record
      ? stepSaid(step, record)
      : wait?.ended
        ? wait.ended.reason
          ? `ended early: ${wait.ended.reason}`
          : 'over'
        : wait
          ? 'running'
          : '';
    const answered = record && asking.has(step.kind) && !isClosed(state, item.set) ? item : null;
    const ask = 'ask' in step ? (step.ask ?? step.title) : 'instruction' in step ? step.instruction : '';
    return [{ key, title: step.title, ask: filledText(state, ask, item), said, when: done?.at ?? null, isNext, answered }];
  });
}

/** What was and is to be prepared; answers can be given anew until the set is judged. */
export function PreparationList({ onCorrect }: { onCorrect: (item: StepItem) => void }) {
  const { run, state } = useRun();
  return (
    <>
      <p className="mb-1 text-right text-sm">
        <a href={`/runs/${run}/kit`} tabIndex={-1}>
          Kit list
        </a>
      </p>
      <ol className="ruled border-y border-rule bg-sheet" aria-label="Preparation">
        {linesOf(state).map((line) => (
          <li
            key={line.key}
            aria-current={line.isNext ? 'step' : undefined}
            className={`grid grid-cols-[10rem_1fr_auto_4rem] items-baseline gap-3 px-4 py-2.5 ${line.isNext ? 'bg-verdigris-tint font-bold' : ''}`}
          >
            <span>{line.title}</span>
            <span
              className={
                line.said.startsWith('no:')
                  ? 'text-brick'
                  : line.said || line.isNext
                    ? 'font-normal'
                    : 'truncate text-sm text-soft'
              }
            >
              {line.said || (line.isNext ? '' : line.ask)}
            </span>
            {line.answered ? (
              <button
                type="button"
                tabIndex={-1}
                data-correct
                className="button button-quiet !min-h-8 text-sm"
                onMouseDown={(e) => e.preventDefault()}
                onClick={() => onCorrect(line.answered!)}
                aria-label={`Correct: ${line.title}`}
              >
                Correct
              </button>
            ) : (
              <span />
            )}
            <span className="figure text-right text-sm font-normal text-soft">
              {line.when && line.said ? timeOfDay(line.when) : ''}
            </span>
          </li>
        ))}
      </ol>
    </>
  );
}
