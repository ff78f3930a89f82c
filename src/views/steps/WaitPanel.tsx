import { useState } from 'react';
import { Timer } from 'lucide-react';
import { seriesOf } from '../../core/run/place-words';
import { placeOf } from '../../core/state/place-keys';
import { minutesOf, waiting } from '../../core/steps/wait';
import { hoursWords } from '../../core/document/plan-words';
import { timeLeft, timeOfDay } from '../../ui/clock';
import { ReasonPrompt } from '../run/ReasonPrompt';
import { useRun } from '../run/run-context';
import { ApproachSketch } from './ApproachSketch';
import { MainButton, StepText, type StepPanelProps } from './StepPanel';

const minutesWords = (minutes: number): string =>
  minutes === 1 ? '1 minute' : minutes > 90 ? hoursWords(minutes) : `${minutes} minutes`;

/** A wait: a timer that belongs to the run and goes on with the page closed. */
export function WaitPanel({ context, step, item }: StepPanelProps<'wait'>) {
  const { act, now } = useRun();
  const [early, setEarly] = useState(false);
  const [seen, setSeen] = useState('');
  const [fault, setFault] = useState('');
  const standing = waiting(context);
  const place = placeOf(item);
  if (early && standing.state === 'running')
    return (
      <ReasonPrompt
        title={`${step.title}: why end it early?`}
        ready={['It has stood like this for longer already', 'It is steady']}
        confirm="End it"
        onCancel={() => setEarly(false)}
        onReason={(reason) => act({ type: 'wait-ended', ...place, id: item.id, reason })?.message ?? null}
      />
    );
  if (standing.state === 'not-begun')
    return (
      <>
        <StepText text={step.instruction} item={item} />
        <p>
          {step.until ? `At the longest ${minutesWords(minutesOf(context))}.` : `${minutesWords(minutesOf(context))}.`} The time
          runs on when this page is closed.
        </p>
        <MainButton key="begin" onPress={() => act({ type: 'wait-begun', ...place, id: item.id })}>
          Start the {minutesWords(minutesOf(context))}
        </MainButton>
      </>
    );
  const isOver = standing.state !== 'running';
  const isWarned = standing.warnsAt !== null && now >= standing.warnsAt;
  return (
    <>
      <StepText text={isOver ? `${step.title} is over.` : step.instruction} item={item} />
      {!isOver && (
        <>
          <p
            className={`figure flex items-center gap-4 text-7xl font-bold ${isWarned ? 'text-ochre' : ''}`}
            role="timer"
            aria-label="Time left"
          >
            <Timer size={44} aria-hidden />
            {timeLeft(standing.endsAt!, now)}
          </p>
          <p className="text-lg">
            {isWarned ? 'It is nearly over: ' : 'Come back at '}
            <span className="figure font-bold">{timeOfDay(standing.endsAt!)}</span>. This page may be closed.
          </p>
        </>
      )}
      {step.until && (
        <form
          className="flex items-end gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            const refusal = act({ type: 'watched', ...place, id: item.id, text: seen.trim() || ' ' });
            setFault(refusal?.message ?? '');
            if (!refusal) setSeen('');
          }}
        >
          <label className="flex-1">
            <span className="block text-sm text-soft">{watchedTitle(context)} now</span>
            <input
              value={seen}
              onChange={(e) => setSeen(e.target.value)}
              inputMode="decimal"
              maxLength={20}
              className="figure w-full !text-2xl"
              data-keys={isOver ? undefined : true}
              autoFocus
            />
          </label>
          <button className="button">Record it</button>
        </form>
      )}
      {step.until && <ApproachSketch context={context} />}
      {standing.approach && (
        <p className="text-lg" role="status">
          {standing.approach}
        </p>
      )}
      {standing.seen && <p className={standing.isNear ? 'caution' : 'text-soft'}>{standing.seen}</p>}
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {isOver ? (
        <MainButton key="over" onPress={() => act({ type: 'wait-ended', ...place, id: item.id })}>
          Carry on
        </MainButton>
      ) : (
        <button type="button" className="button" data-keys={step.until ? undefined : true} onClick={() => setEarly(true)}>
          End it early
        </button>
      )}
    </>
  );
}

/** What is watched while waiting, by its name in the document. */
function watchedTitle({ state, step, place }: StepPanelProps<'wait'>['context']): string {
  const id = step.until && ('settled' in step.until ? step.until.settled : step.until.of);
  const observation = seriesOf(state, place.series)?.observe.find((o) => o.id === id);
  return observation?.title ?? 'What it shows';
}
