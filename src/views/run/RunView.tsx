import { asAct, type NewAct, type RecordedEvent } from '../../core/acts/registry';
import { doneAt } from '../../core/state/logged';
import { withPlan } from '../../core/acts/plan';
import { admit } from '../../core/acts/admit';
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { nextItem, stageOf, stagesOf } from '../../core/run/next-step';
import type { Refusal } from '../../core/state/refusal';
import { slotKey, slotOf } from '../../core/state/place-keys';
import type { RunState, Slot } from '../../core/state/run-state';
import { shortRange } from '../../core/run/shown-value';
import { LookPanel } from './LookPanel';
import { guardedWhole } from '../../ui/guarded';
import { letPass } from '../../ui/server-clock';
import { usePerson } from '../../ui/person';
import type { StepItem } from '../steps/StepPanel';
import { BenchShell } from './BenchShell';
import { runKeys } from './keymap';
import { mayLookAt } from './may-look-at';
import { NotePrompt } from './NotePrompt';
import { PreparationList } from './PreparationList';
import { PresentPanel } from './PresentPanel';
import { ReasonPrompt } from './ReasonPrompt';
import { refusedBefore } from './refused-before';
import type { OpenResult } from './SeriesSheet';
import { SetSheets } from './SetSheets';
import { StageTrack } from './StageTrack';
import { Standing } from './Standing';
import type { KnownAtBench } from './run-context';
import { doneNow, moveAmongButtons, useBenchClock } from './use-bench';
import { useRunLogs, type BenchLog } from './use-run-log';

/** A reason to break off that takes the instrument out of use by itself. */
const damaged = 'Damaged: repair first';

/** What hands need for an entry, in ms. */
const handsTake = 30_000;

type Props = {
  run: string;
  events: RecordedEvent[];
  person: string;
  startedAt: string;
  known: KnownAtBench;
  /** A bench to practise at, where this is no run of the laboratory. */ practice?: PracticeAt;
};

/** What a practice bench has beside a run: what its instruments show, and what stands in place of the record. */
export type PracticeAt = {
  /** What the owner says of it. */ title: string;
  above: (at: { log: BenchLog; slot: Slot | null; person: string }) => ReactNode;
  /** What is asked when the bench is left; null while there is something to do. */ over: (at: {
    log: BenchLog;
    person: string;
  }) => ReactNode;
};

/** The run at the bench: where it stands, the sheet, and what to do now. */
export const RunView = guardedWhole(function RunView({ run, events, person: initialPerson, startedAt, known, practice }: Props) {
  const [log] = useRunLogs([{ run, events, of: practice && 'practice' }]) as [BenchLog];
  const { store } = log;
  const { state, pending } = log.snapshot;
  const { now, isOff } = useBenchClock(startedAt);
  const person = usePerson(initialPerson);
  const [cursor, setCursor] = useState<Slot | null>(null);
  const [opened, setOpened] = useState<OpenResult | null>(null);
  const [asking, setAsking] = useState<'leave' | 'note' | null>(null);
  /** A step whose answer is being corrected, and whether the preparation is looked at again. */
  const [correcting, setCorrecting] = useState<StepItem | null>(null);
  const [lookingBack, setLookingBack] = useState(false);
  const [leavingFor, leaveFor] = useState<string | null>(null);

  const item = nextItem(state);
  const stage = stageOf(state, item);
  const isPreparing = stage === 'prepare';
  /** Where the person has stepped to, as long as it is in the set that is being read. */
  const chosen = cursor && item && cursor.set === item.set ? cursor : null;
  const isLookedAt = chosen !== null && state.live.has(slotKey(chosen));
  const slot: Slot | null = item?.type === 'reading' ? (chosen ?? slotOf(item)) : isLookedAt ? chosen : null;

  const act = useCallback(
    (entry: NewAct): Refusal | null => {
      const before = store.getSnapshot().state;
      const done = doneNow();
      const whole = withPlan(before, asAct(entry));
      const refusal = refusedBefore(person, [store]) ?? admit(before, whole, person, doneAt({ at: done.at, done }));
      if (!refusal) store.append(whole, person, done);
      // At a practice bench hands take the time that they would take.
      if (!refusal && practice) letPass(handsTake);
      return refusal;
    },
    [store, person, practice],
  );

  const together = useMemo(() => [state], [state]);
  const region = useRef<HTMLElement>(null);
  const toButtons = (wanted: string) => () => region.current?.querySelector<HTMLElement>(wanted)?.focus();
  /** From a judgement, a gate or what follows: the reading that was taken last, to be looked at or struck out. */
  const stepBack = () => {
    const last = [...state.live.values()].filter((r) => r.slot.set === item?.set).at(-1);
    if (last) setCursor(last.slot);
  };
  const isBetween = slot === null && asking === null && !correcting && item !== null;

  const isEnded = (state.completed !== null || state.brokenOff !== null) && pending.length === 0;
  useEffect(() => {
    if (!isEnded || practice) return;
    if (leavingFor) window.location.assign(leavingFor);
    else window.location.reload();
  }, [isEnded, leavingFor, practice]);

  const over = practice?.over({ log, person });
  return (
    <BenchShell
      context={{ run, state, together, now, act, known, leaveFor }}
      logs={[log]}
      isOff={isOff}
      person={person}
      isUnderWay
      head={
        <RunHead state={state} practice={practice?.title}>
          <StageTrack
            stages={stagesOf(state)}
            present={stage}
            onPrepare={isPreparing ? null : () => setLookingBack(!lookingBack)}
          />
        </RunHead>
      }
      readingsRef={region}
      onReadingsKey={(e) => {
        if (region.current && moveAmongButtons(region.current, e.key)) e.preventDefault();
      }}
      readings={
        isPreparing || lookingBack ? (
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
            {item?.type === 'judge' && <LookPanel set={item.set} />}
            <SetSheets state={state} cursor={slot} onSelect={(to) => mayLookAt(state, to) && setCursor(to)} onOpen={setOpened} />
            {item?.type !== 'judge' && <Standing state={state} set={item?.set ?? state.sets.at(-1)!.id} />}
          </>
        )
      }
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
      opened={opened && { log, result: opened }}
      onClose={() => setOpened(null)}
      keys={{
        [runKeys.note.keys]: () => setAsking('note'),
        [runKeys.leave.keys]: () => setAsking('leave'),
        [runKeys.sheet.keys]: toButtons('tbody button'),
        [runKeys.correct.keys]: () => {
          if (isPreparing) return toButtons('[data-correct]')();
          setLookingBack(true);
          requestAnimationFrame(toButtons('[data-correct]'));
        },
        ...(isBetween ? { ArrowUp: stepBack, Backspace: stepBack, x: stepBack } : {}),
      }}
    >
      {practice?.above({ log, slot, person })}
      {over ? (
        over
      ) : asking === 'leave' ? (
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
      ) : asking === 'note' ? (
        <NotePrompt act={act} onDone={() => setAsking(null)} />
      ) : (
        <PresentPanel
          item={item}
          slot={slot}
          correcting={correcting}
          onCorrected={() => setCorrecting(null)}
          onCursor={setCursor}
          onOpen={setOpened}
        />
      )}
    </BenchShell>
  );
});

/** Whose run it is, and how far it has come. */
function RunHead({ state, practice, children }: { state: RunState; practice: string | undefined; children: ReactNode }) {
  const { instrument, procedure } = state;
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2 border-b border-rule px-4 py-2 sm:flex-nowrap lg:px-6">
      <div className="mr-auto min-w-0 sm:flex-1">
        <h1 className={practice ? '!text-2xl' : 'ident !text-2xl'}>{practice ?? instrument.identification}</h1>
        {practice && (
          <p className="text-sm">
            <strong>Practice.</strong> All of this is made up, and nothing of it enters the records.
          </p>
        )}
        <p className="text-sm text-soft sm:max-lg:truncate">
          {instrument.designation} · {shortRange(instrument.usedLower, instrument.usedUpper, instrument.unit)} ·{' '}
          {instrument.owner} · {procedure.title}, revision {procedure.revision}
        </p>
      </div>
      {children}
    </div>
  );
}
