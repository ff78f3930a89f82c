import { nextItem, stageNames, stageOf } from '../../core/run/next-step';
import { evaluationIfAny, isSettled, verdictAsLeft } from '../../core/run/run-results';
import type { RunState } from '../../core/state/run-state';
import { takesPart, type Turn } from '../../core/set-up/turn';
import { VerdictWord } from '../../ui/VerdictWord';

type Props = {
  states: readonly RunState[];
  runs: readonly string[];
  turn: Turn | null;
  /** For which of them something is done now. */ from: number;
  /** For whom an answer is meant, where it may be for some only. */
  chosen?: readonly number[];
  onChoose?: (member: number) => void;
};

/** The instruments of the set-up in their row, as they stand on the bench: whose turn it is, how far each has come, who left. */
export function MemberStrip({ states, runs, turn, from, chosen, onChoose }: Props) {
  return (
    <ol className="mt-1 flex flex-wrap items-stretch gap-2" aria-label="Instruments of the set-up">
      {states.map((state, i) => {
        const isIn = takesPart(state);
        const isTurn = isIn && (turn?.isShared ? turn.members.includes(i) : i === from && turn !== null);
        const isLeft = chosen !== undefined && turn?.members.includes(i) && !chosen.includes(i);
        const words = (
          <>
            <span className="ident font-bold">{state.instrument.identification}</span>
            <span className="block text-xs">
              <Standing state={state} />
            </span>
          </>
        );
        const look = `block min-w-28 border-[1.5px] px-3 py-1 text-left ${
          isTurn && !isLeft
            ? 'border-verdigris bg-verdigris-tint'
            : isIn
              ? 'border-rule-strong bg-sheet'
              : 'border-rule text-soft'
        }`;
        return (
          <li key={runs[i]} aria-current={isTurn || undefined} className="flex items-center gap-2">
            {onChoose && isTurn ? (
              <button
                type="button"
                tabIndex={-1}
                aria-pressed={!isLeft}
                className={`${look} cursor-pointer`}
                onClick={() => onChoose(i)}
              >
                <span className="flex items-center gap-2">
                  <span className="figure" aria-hidden>
                    {isLeft ? '☐' : '☑'}
                  </span>
                  <span>{words}</span>
                </span>
              </button>
            ) : isIn ? (
              <span className={look}>{words}</span>
            ) : (
              <a className={look} href={`/runs/${runs[i]}`}>
                {words}
              </a>
            )}
          </li>
        );
      })}
    </ol>
  );
}

/** Where one of them stands, in a word or two. */
function Standing({ state }: { state: RunState }) {
  if (state.completed)
    return (
      <>
        finished · <VerdictWord verdict={verdictAsLeft(state)} short />
      </>
    );
  if (state.brokenOff) return 'broken off';
  if (state.setUp?.left) return 'taken out: goes on alone';
  const item = nextItem(state);
  const set = state.sets.at(-1)!.id;
  const verdict = isSettled(state, set) ? evaluationIfAny(state, set).verdict : null;
  return (
    <>
      {stageNames[stageOf(state, item)]}
      {verdict && (
        <>
          {' · '}
          <VerdictWord verdict={verdict} short />
        </>
      )}
    </>
  );
}
