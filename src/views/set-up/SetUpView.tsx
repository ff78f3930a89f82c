import { asAct, type NewAct, type RecordedEvent } from '../../core/acts/registry';
import { doneAt } from '../../core/state/logged';
import { withPlan } from '../../core/acts/plan';
import { admit } from '../../core/acts/admit';
import { isOpenReading } from '../../core/run/open-readings';
import { spreadAct } from '../../core/acts/spread';
import { useEffect, useState } from 'react';
import { cautionsNow } from '../../core/run/cautions';
import { nextItem, stageOf, stepOf } from '../../core/run/next-step';
import type { Refusal } from '../../core/state/refusal';
import { placeOf, slotKey, slotOf } from '../../core/state/run-state';
import { isShared } from '../../core/plan/shared';
import { takenReadings } from '../../core/set-up/taken-readings';
import { nextTurn, takesPart } from '../../core/set-up/turn';
import { guarded } from '../../ui/guarded';
import { later } from '../../ui/later';
import { usePerson } from '../../ui/person';
import type { StepItem } from '../steps/StepPanel';
import { runKeys, setUpKeys } from '../run/keymap';
import { PreparationList } from '../run/PreparationList';
import { NowSection } from '../run/NowSection';
import { PresentPanel } from '../run/PresentPanel';
import { ReasonPrompt } from '../run/ReasonPrompt';
import { RunContextProvider } from '../run/run-context';
import type { OpenResult } from '../run/SeriesSheet';
import { doneNow, useBenchClock, useBenchKeys } from '../run/use-bench';
import { useRunLogs } from '../run/use-run-log';
import { MemberStrip } from './MemberStrip';
import { SetUpSheet, type MemberSlot } from './SetUpSheet';
import { TakeOutPanel } from './TakeOutPanel';

const KeysDialog = later(async () => (await import('../run/KeysDialog')).KeysDialog);
const PendingBar = later(async () => (await import('../run/PendingBar')).PendingBar);
const ResultDialog = later(async () => (await import('../run/ResultDialog')).ResultDialog);

type Props = { runs: { run: string; events: RecordedEvent[] }[]; person: string; startedAt: string };

/** Steps that may be answered for some of the instruments only. */
const forSome: ReadonlySet<string> = new Set(['confirm', 'do', 'choose', 'identify']);

const forAll = (count: number): string => (count === 1 ? 'For the one left' : count === 2 ? 'For both' : `For all ${count}`);

/** Several instruments in one set-up: what is shared is done once, what is not goes from one to the next and back. */
export const SetUpView = guarded(function SetUpView({ runs, person: initialPerson, startedAt }: Props) {
  const { stores, snapshots } = useRunLogs(runs);
  const states = snapshots.map((s) => s.state);
  const { now, isOff } = useBenchClock(startedAt);
  const person = usePerson(initialPerson);
  const [cursor, setCursor] = useState<MemberSlot | null>(null);
  const [opened, setOpened] = useState<(OpenResult & { member: number }) | null>(null);
  const [keys, setKeys] = useState(false);
  const [asking, setAsking] = useState<'out' | 'note' | null>(null);
  const [correcting, setCorrecting] = useState<StepItem | null>(null);
  const [leavingFor, leaveFor] = useState<string | null>(null);
  /** Who is left out of an answer, as long as the same thing is asked. */
  const [without, setWithout] = useState<{ key: string; members: number[] }>({ key: '', members: [] });
  useBenchKeys(() => setKeys(true), {
    [setUpKeys.out.keys]: () => setAsking('out'),
    [runKeys.note.keys]: () => setAsking('note'),
  });

  const turn = nextTurn(states);
  const isChosen = cursor !== null && takesPart(states[cursor.member]!);
  const from = isChosen ? cursor.member : (turn?.members[0] ?? 0);
  const state = states[from]!;
  const item = turn ? nextItem(state) : null;
  const asked = turn ? `${turn.key}|${turn.members.join()}` : '';
  const left = without.key === asked ? without.members : [];
  const chosen = turn?.members.filter((m) => !left.includes(m)) ?? [];
  const pending = snapshots.reduce((sum, s) => sum + s.pending.length, 0);
  const isTroubled = snapshots.some((s) => s.trouble);

  /** An act made for one of them, in every log that it concerns, or in none. */
  const actFor = (member: number, entry: NewAct, alone = false): Refusal | null => {
    if (!person) return { message: 'Say who is at the bench first.', path: ['person'] };
    if (stores.some((s) => s.getSnapshot().trouble))
      return { message: 'First decide what becomes of what was not recorded: it is listed at the top.', path: ['pending'] };
    const done = doneNow();
    const present = stores.map((s) => s.getSnapshot().state);
    const whose = alone ? null : nextTurn(present);
    const acts = spreadAct(
      present,
      whose,
      member,
      asAct(entry),
      whose?.members.filter((m) => !left.includes(m)),
    );
    const whole = acts.map((a) => ({ member: a.member, act: withPlan(present[a.member]!, a.act) }));
    for (const { member: to, act } of whole) {
      const refusal = admit(present[to]!, act, person, doneAt({ at: done.at, done }));
      if (!refusal) continue;
      return to === member ? refusal : { ...refusal, message: `${present[to]!.instrument.identification}: ${refusal.message}` };
    }
    for (const { member: to, act } of whole) stores[to]!.append(act, person, done);
    return null;
  };

  const select = ({ member, slot }: MemberSlot) => {
    const own = states[member]!;
    const planned = own.plan[own.index.get(slotKey(slot)) ?? -1];
    if (takesPart(own) && (own.live.has(slotKey(slot)) || (planned && isOpenReading(own, planned)))) setCursor({ member, slot });
  };
  /** One reading back or on, in the order in which they were taken, whichever instrument it was. */
  const step = (by: 1 | -1) => {
    if (!item) return;
    const taken = takenReadings(states, item.set);
    const here = cursor
      ? taken.findIndex((t) => t.member === cursor.member && slotKey(t.reading.slot) === slotKey(cursor.slot))
      : -1;
    const next = taken[(here < 0 ? taken.length : here) + by];
    if (next) setCursor({ member: next.member, slot: next.reading.slot });
    else if (by === 1) setCursor(null);
  };

  const slot = isChosen ? cursor.slot : item?.type === 'reading' ? slotOf(item) : null;
  const stepNow = item?.type === 'step' ? stepOf(state, item) : undefined;
  /** Whether what is shown stands for all: what comes next, or a reading that is looked at. */
  const isForAll = slot
    ? isShared(state.procedure, { type: 'reading', ...placeOf(slot), id: slot.observation })
    : turn?.isShared === true;
  const mayChoose = !isChosen && turn?.isShared === true && stepNow !== undefined && forSome.has(stepNow.kind);
  const present = states.flatMap((s, i) => (takesPart(s) ? [i] : []));
  const isPreparing = item !== null && stageOf(state, item) === 'prepare';
  // What somebody stepped back to is one instrument's, unless it was read for all.
  const act = (entry: NewAct) => actFor(from, entry, isChosen && !isForAll);
  useEffect(() => {
    if (leavingFor && pending === 0) window.location.assign(leavingFor);
  }, [leavingFor, pending]);

  const panel = () => {
    if (asking === 'out')
      return (
        <TakeOutPanel
          states={states}
          present={present}
          ready={turn && !turn.isShared ? from : null}
          onCancel={() => setAsking(null)}
          onOut={(member, reason) => {
            const refusal = actFor(member, { type: 'left-set-up', reason }, true);
            if (refusal) return refusal.message;
            setAsking(null);
            setCursor(null);
            return null;
          }}
        />
      );
    if (asking === 'note')
      return (
        <ReasonPrompt
          title={turn?.isShared ? 'A note for the record of each' : `A note for the record of ${state.instrument.identification}`}
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
    if (!turn)
      return (
        <>
          <h2 className="text-xl leading-snug">Nothing is left to do in this set-up.</h2>
          <p className="mt-3">Each instrument above opens its own record.</p>
          <a href="/" className="button button-main mt-4" data-keys>
            To the bench
          </a>
        </>
      );
    if (chosen.length === 0)
      return (
        <>
          <h2 className="text-xl leading-snug">Nobody is chosen. For whom is it done?</h2>
          <button
            type="button"
            data-keys
            className="button button-main mt-4"
            onClick={() => setWithout({ key: '', members: [] })}
          >
            For all
          </button>
        </>
      );
    return (
      // Each has its own panel: what was typed for one is not typed for another.
      <div key={item?.type === 'reading' || isChosen ? `${from}` : `${from}|${asked}`}>
        <PresentPanel
          item={item}
          slot={slot}
          correcting={correcting}
          onCorrected={() => setCorrecting(null)}
          onCursor={(to) => setCursor(to && { member: from, slot: to })}
          onStep={step}
          onOpen={(result) => setOpened({ ...result, member: from })}
        />
      </div>
    );
  };

  return (
    <RunContextProvider value={{ run: runs[from]!.run, state, now, act, leaveFor }}>
      <div className="border-b border-rule px-4 py-2 lg:px-6">
        <h1 className="!text-lg">
          {states.length} in one set-up{' '}
          <span className="font-normal text-soft">
            · {state.procedure.title}, revision {state.procedure.revision}
          </span>
        </h1>
        <MemberStrip
          states={states}
          runs={runs.map((r) => r.run)}
          turn={turn}
          from={from}
          {...(mayChoose
            ? {
                chosen,
                onChoose: (member: number) =>
                  setWithout({
                    key: asked,
                    members: left.includes(member) ? left.filter((m) => m !== member) : [...left, member],
                  }),
              }
            : {})}
        />
      </div>
      {snapshots.map((s, i) =>
        s.isUnreachable || s.isFull || s.trouble || (isOff && i === 0) ? (
          <PendingBar
            key={runs[i]!.run}
            state={s.state}
            pending={s.pending}
            isUnreachable={s.isUnreachable && snapshots.findIndex((x) => x.isUnreachable) === i}
            trouble={s.trouble}
            isFull={s.isFull}
            isClockOff={isOff && i === 0}
            onSendAgain={stores[i]!.sendAgain}
            onLeaveOut={stores[i]!.leaveOut}
          />
        ) : null,
      )}
      <div className="grid min-h-0 flex-1 gap-6 px-6 py-3 min-[1100px]:grid-cols-[1fr_25rem]">
        <section tabIndex={0} className="order-2 min-h-0 overflow-auto min-[1100px]:order-1" aria-label="Readings">
          {isPreparing ? (
            <>
              <p className="mb-1 text-sm text-soft">
                What was said for <span className="ident">{state.instrument.identification}</span>
              </p>
              <PreparationList onCorrect={setCorrecting} />
            </>
          ) : (
            <SetUpSheet
              states={states}
              cursor={slot ? { member: from, slot } : null}
              onSelect={select}
              onOpen={(member, result) => setOpened({ ...result, member })}
            />
          )}
        </section>
        <NowSection
          person={person}
          cautions={turn ? cautionsNow(state, now) : []}
          pending={pending}
          isTroubled={isTroubled}
          onKeys={() => setKeys(true)}
          onNote={() => setAsking('note')}
          leaving={
            present.length > 0 && (
              <button type="button" className="button button-quiet !min-h-9" tabIndex={-1} onClick={() => setAsking('out')}>
                Take one out <span className="key">{setUpKeys.out.shown}</span>
              </button>
            )
          }
        >
          {turn && asking === null && (
            <p className={`mb-2 !text-3xl font-bold ${isForAll ? '' : 'ident'}`} role="status" aria-label="For whom">
              {!isForAll
                ? state.instrument.identification
                : isChosen || chosen.length === present.length
                  ? forAll(present.length)
                  : chosen.map((m) => states[m]!.instrument.identification).join(', ')}
            </p>
          )}
          {panel()}
        </NowSection>
      </div>
      {opened && (
        <ResultDialog
          state={states[opened.member]!}
          opened={opened}
          run={runs[opened.member]!.run}
          onClose={() => setOpened(null)}
        />
      )}
      {keys && (
        <KeysDialog
          more={Object.values(setUpKeys)}
          without={[runKeys.leave, runKeys.sheet, runKeys.correct]}
          onClose={() => setKeys(false)}
        />
      )}
    </RunContextProvider>
  );
});
