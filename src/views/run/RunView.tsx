import { asAct, type NewAct, type RecordedEvent } from '../../core/acts/registry';
import { doneAt } from '../../core/state/logged';
import { withPlan } from '../../core/acts/plan';
import { admit } from '../../core/acts/admit';
import { isOpenReading } from '../../core/run/open-readings';
import { useCallback, useEffect, useRef, useState } from 'react';
import { cautionsNow } from '../../core/run/cautions';
import { diagnose } from '../../core/run/diagnosis';
import { nextItem, stageOf, stagesOf } from '../../core/run/next-step';
import { setTitle } from '../../core/run/place-words';
import type { Refusal } from '../../core/state/refusal';
import { evaluationIfAny, faultIn, isSettled } from '../../core/run/run-results';
import { slotKey, slotOf, type RunState, type Slot } from '../../core/state/run-state';
import { shortRange } from '../../core/run/shown-value';
import { unitIn, withUnit } from '../../core/steps/step-context';
import { guarded } from '../../ui/guarded';
import { later } from '../../ui/later';
import { usePerson } from '../../ui/person';
import { VerdictWord } from '../../ui/VerdictWord';
import type { StepItem } from '../steps/StepPanel';
import { PreparationList } from './PreparationList';
import { ReasonPrompt } from './ReasonPrompt';
import { RunContextProvider } from './run-context';
import { runKeys } from './keymap';
import { doneNow, moveAmongButtons, useBenchClock, useBenchKeys } from './use-bench';
import { useRunLogs } from './use-run-log';
import { NowSection } from './NowSection';
import { PresentPanel } from './PresentPanel';
import type { OpenResult } from './SeriesSheet';
import { SetSheets } from './SetSheets';
import { StageTrack } from './StageTrack';

const KeysDialog = later(async () => (await import('./KeysDialog')).KeysDialog);
const PendingBar = later(async () => (await import('./PendingBar')).PendingBar);
const ResultDialog = later(async () => (await import('./ResultDialog')).ResultDialog);

/** A reason to break off that takes the instrument out of use by itself. */
const damaged = 'Damaged: repair first';

type Props = { run: string; events: RecordedEvent[]; person: string; startedAt: string };

/** A run with more readings than this says what its errors look like only when its readings are complete. */
const manyReadings = 200;

/** Under the sheet: what the set gave, or how it stands. */
function Standing({ state, set }: { state: RunState; set: string }) {
  const isComplete = isSettled(state, set);
  const isSmall = state.readings.length <= manyReadings;
  if (!isComplete && !isSmall) return null;
  const fault = faultIn(state, set);
  if (fault) return <p className="fault mt-2">As a whole these readings cannot be worked out: {fault}</p>;
  const { sentence, kind } = diagnose(state, set);
  const inForce = state.procedure.conditions.flatMap((c) => {
    const last = [...state.conditions].reverse().find((r) => r.id === c.id && r.set === set);
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
          {kind !== 'too-few' && `So far: ${sentence}`}
        </span>
      )}
    </p>
  );
}

/** The run at the bench: where it stands, the sheet, and what to do now. */
export const RunView = guarded(function RunView({ run, events, person: initialPerson, startedAt }: Props) {
  const { stores, snapshots } = useRunLogs([{ run, events }]);
  const store = stores[0]!;
  const { state, pending, isUnreachable, trouble, isFull } = snapshots[0]!;
  const { now, isOff } = useBenchClock(startedAt);
  const person = usePerson(initialPerson);
  const [cursor, setCursor] = useState<Slot | null>(null);
  const [opened, setOpened] = useState<OpenResult | null>(null);
  const [keys, setKeys] = useState(false);
  const [asking, setAsking] = useState<'leave' | 'note' | null>(null);
  /** A step whose answer is being corrected, and whether the preparation is looked at again. */
  const [correcting, setCorrecting] = useState<StepItem | null>(null);
  const [lookingBack, setLookingBack] = useState(false);
  const [leavingFor, leaveFor] = useState<string | null>(null);

  const item = nextItem(state);
  const stage = stageOf(state, item);
  const isPreparing = stage === 'prepare';
  const isReading = item?.type === 'reading';
  /** Where the person has stepped to, as long as it is in the set that is being read. */
  const chosen = cursor && item && cursor.set === item.set ? cursor : null;
  const slot: Slot | null = isReading ? (chosen ?? slotOf(item)) : chosen && state.live.has(slotKey(chosen)) ? chosen : null;

  const act = useCallback(
    (entry: NewAct): Refusal | null => {
      if (!person) return { message: 'Say who is at the bench first.', path: ['person'] };
      const done = doneNow();
      if (store.getSnapshot().trouble)
        return { message: 'First decide what becomes of what was not recorded: it is listed at the top.', path: ['pending'] };
      const before = store.getSnapshot().state;
      const whole = withPlan(before, asAct(entry));
      const refusal = admit(before, whole, person, doneAt({ at: done.at, done }));
      if (!refusal) store.append(whole, person, done);
      return refusal;
    },
    [store, person],
  );

  const select = (to: Slot) => {
    const at = state.plan[state.index.get(slotKey(to)) ?? -1];
    if (state.live.has(slotKey(to)) || (at && isOpenReading(state, at))) setCursor(to);
  };

  const region = useRef<HTMLElement>(null);
  const toButtons = (wanted: string) => () => region.current?.querySelector<HTMLElement>(wanted)?.focus();
  /** From a judgement, a gate or what follows: the reading that was taken last, to be looked at or struck out. */
  const stepBack = () => {
    const last = [...state.live.values()].filter((r) => r.slot.set === item?.set).at(-1);
    if (last) setCursor(last.slot);
  };
  const isBetween = slot === null && asking === null && !correcting && item !== null;
  useBenchKeys(() => setKeys(true), {
    [runKeys.note.keys]: () => setAsking('note'),
    [runKeys.leave.keys]: () => setAsking('leave'),
    [runKeys.sheet.keys]: toButtons('tbody button'),
    [runKeys.correct.keys]: () => {
      if (isPreparing) return toButtons('[data-correct]')();
      setLookingBack(true);
      requestAnimationFrame(toButtons('[data-correct]'));
    },
    ...(isBetween ? { ArrowUp: stepBack, Backspace: stepBack, x: stepBack } : {}),
  });

  const isEnded = (state.completed !== null || state.brokenOff !== null) && pending.length === 0;
  useEffect(() => {
    if (!isEnded) return;
    if (leavingFor) window.location.assign(leavingFor);
    else window.location.reload();
  }, [isEnded, leavingFor]);

  const { instrument } = state;
  const panel = () => {
    if (asking === 'leave')
      return (
        <ReasonPrompt
          title="Break this run off: why?"
          ready={['Sent back to the owner', 'Put on the bench by mistake', damaged]}
          confirm="Break it off"
          also={{ title: 'It goes out of use until it is repaired', by: damaged }}
          onCancel={() => setAsking(null)}
          onReason={(reason, outOfUse) =>
            act({ type: 'run-broken-off', reason, ...(outOfUse ? { outOfUse } : {}) })?.message ?? null
          }
        />
      );
    if (asking === 'note')
      return (
        <ReasonPrompt
          title="A note for the record"
          ready={[]}
          confirm="Record it"
          onCancel={() => setAsking(null)}
          onReason={(text) => {
            const refusal = act({ type: 'note-added', text });
            if (!refusal) setAsking(null);
            return refusal?.message ?? null;
          }}
        />
      );
    return (
      <PresentPanel
        item={item}
        slot={slot}
        correcting={correcting}
        onCorrected={() => setCorrecting(null)}
        onCursor={setCursor}
        onOpen={setOpened}
      />
    );
  };

  return (
    <RunContextProvider value={{ run, state, now, act, leaveFor }}>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2 border-b border-rule px-4 py-2 sm:flex-nowrap lg:px-6">
        <div className="mr-auto min-w-0 sm:flex-1">
          <h1 className="ident !text-2xl">{instrument.identification}</h1>
          <p className="text-sm text-soft sm:max-lg:truncate">
            {instrument.designation} · {shortRange(instrument.usedLower, instrument.usedUpper, instrument.unit)} ·{' '}
            {instrument.owner} · {state.procedure.title}, revision {state.procedure.revision}
          </p>
        </div>
        <StageTrack
          stages={stagesOf(state)}
          present={stage}
          onPrepare={isPreparing ? null : () => setLookingBack(!lookingBack)}
        />
      </div>
      {(isUnreachable || isFull || trouble || isOff) && (
        <PendingBar
          state={state}
          pending={pending}
          isUnreachable={isUnreachable}
          trouble={trouble}
          isFull={isFull}
          isClockOff={isOff}
          onSendAgain={store.sendAgain}
          onLeaveOut={store.leaveOut}
        />
      )}
      <div className="grid min-h-0 flex-1 gap-6 px-6 py-3 min-[1100px]:grid-cols-[1fr_25rem]">
        <section
          ref={region}
          tabIndex={0}
          onKeyDown={(e) => {
            if (region.current && moveAmongButtons(region.current, e.key)) e.preventDefault();
          }}
          className="order-2 min-h-0 overflow-auto min-[1100px]:order-1"
          aria-label="Readings"
        >
          {isPreparing || lookingBack ? (
            <>
              <PreparationList onCorrect={setCorrecting} />
              {!isPreparing && (
                <button type="button" className="button mt-3" onClick={() => setLookingBack(false)}>
                  Back to the readings
                </button>
              )}
            </>
          ) : (
            <>
              <SetSheets state={state} cursor={slot} onSelect={select} onOpen={setOpened} />
              {/* The judgement says it large. */}
              {item?.type !== 'judge' && <Standing state={state} set={item?.set ?? state.sets.at(-1)!.id} />}
            </>
          )}
        </section>
        <NowSection
          person={person}
          cautions={cautionsNow(state, now)}
          pending={pending.length}
          isTroubled={trouble !== null}
          onKeys={() => setKeys(true)}
          onNote={() => setAsking('note')}
          leaving={
            <button
              type="button"
              className="button button-quiet !min-h-9 !px-1 whitespace-nowrap"
              tabIndex={-1}
              onClick={() => setAsking('leave')}
            >
              Break off <span className="key">{runKeys.leave.shown}</span>
            </button>
          }
        >
          {panel()}
        </NowSection>
      </div>
      {opened && <ResultDialog state={state} opened={opened} run={run} onClose={() => setOpened(null)} />}
      {keys && <KeysDialog onClose={() => setKeys(false)} />}
    </RunContextProvider>
  );
});
