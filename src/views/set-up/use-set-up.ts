import { useState } from 'react';
import { admit } from '../../core/acts/admit';
import { withPlan } from '../../core/acts/plan';
import { asAct, type NewAct } from '../../core/acts/registry';
import { spreadAct } from '../../core/acts/spread';
import { isShared } from '../../core/plan/shared';
import { nextItem, stepOf } from '../../core/run/next-step';
import { takenReadings } from '../../core/set-up/taken-readings';
import { nextTurn, takesPart } from '../../core/set-up/turn';
import { doneAt } from '../../core/state/logged';
import type { Refusal } from '../../core/state/refusal';
import { placeOf, slotKey, slotOf } from '../../core/state/place-keys';
import { mayLookAt } from '../run/may-look-at';
import { refusedBefore } from '../run/refused-before';
import { doneNow } from '../run/use-bench';
import type { BenchLog } from '../run/use-run-log';
import type { MemberSlot } from './SetUpSheet';

/** Steps that may be answered for some of the instruments only. */
const forSome: ReadonlySet<string> = new Set(['confirm', 'do', 'choose', 'identify']);

const forAll = (count: number): string => (count === 1 ? 'For the one left' : count === 2 ? 'For both' : `For all ${count}`);

/** Whose turn it is in a set-up, what is looked at, for whom an answer is meant, and how an act reaches all that it concerns. */
export function useSetUp(logs: readonly BenchLog[], person: string) {
  const [cursor, setCursor] = useState<MemberSlot | null>(null);
  /** Who is left out of an answer, as long as the same thing is asked. */
  const [without, setWithout] = useState<{ key: string; members: number[] }>({ key: '', members: [] });
  const states = logs.map((l) => l.snapshot.state);
  const stores = logs.map((l) => l.store);
  const turn = nextTurn(states);
  const isChosen = cursor !== null && takesPart(states[cursor.member]!);
  const from = isChosen ? cursor.member : (turn?.members[0] ?? 0);
  const state = states[from]!;
  const item = turn ? nextItem(state) : null;
  const asked = turn ? `${turn.key}|${turn.members.join()}` : '';
  const left = without.key === asked ? without.members : [];
  const chosen = turn?.members.filter((m) => !left.includes(m)) ?? [];
  const present = states.flatMap((s, i) => (takesPart(s) ? [i] : []));
  const slot = isChosen ? cursor.slot : item?.type === 'reading' ? slotOf(item) : null;
  const stepNow = item?.type === 'step' ? stepOf(state, item) : undefined;
  /** Whether what is shown stands for all: what comes next, or a reading that is looked at. */
  const isForAll = slot
    ? isShared(state.procedure, { type: 'reading', ...placeOf(slot), id: slot.observation })
    : turn?.isShared === true;
  const names = (members: readonly number[]) => members.map((m) => states[m]!.instrument.identification).join(', ');

  /** An act made for one of them, in every log that it concerns, or in none. */
  const actFor = (member: number, entry: NewAct, alone = false): Refusal | null => {
    const before = refusedBefore(person, stores);
    if (before) return before;
    const done = doneNow();
    const latest = stores.map((s) => s.getSnapshot().state);
    const whose = alone ? null : nextTurn(latest);
    const meant = whose?.members.filter((m) => !left.includes(m));
    const acts = spreadAct(latest, whose, member, asAct(entry), meant).map((a) => ({
      member: a.member,
      act: withPlan(latest[a.member]!, a.act),
    }));
    for (const { member: to, act } of acts) {
      const refusal = admit(latest[to]!, act, person, doneAt({ at: done.at, done }));
      if (refusal) return to === member ? refusal : { ...refusal, message: `${names([to])}: ${refusal.message}` };
    }
    for (const { member: to, act } of acts) stores[to]!.append(act, person, done);
    return null;
  };

  return {
    states,
    turn,
    /** For whom something is done now. */ from,
    state,
    item,
    slot,
    /** Those that take part still. */ present,
    /** For whom an answer is meant. */ chosen,
    isChosen,
    isForAll,
    /** Names what is asked, so that nothing typed for one thing stays for another. */
    panelKey: item?.type === 'reading' || isChosen ? `${from}` : `${from}|${asked}`,
    forWhom: !isForAll
      ? state.instrument.identification
      : isChosen || chosen.length === present.length
        ? forAll(present.length)
        : names(chosen),
    setCursor,
    actFor,
    // What somebody stepped back to is one instrument's, unless it was read for all.
    act: (entry: NewAct) => actFor(from, entry, isChosen && !isForAll),
    select: ({ member, slot: to }: MemberSlot) => {
      const own = states[member]!;
      if (takesPart(own) && mayLookAt(own, to)) setCursor({ member, slot: to });
    },
    /** One reading back or on, in the order in which they were taken, whichever instrument it was. */
    step: (by: 1 | -1) => {
      if (!item) return;
      const taken = takenReadings(states, item.set);
      const isHere = (t: (typeof taken)[number]) =>
        t.member === cursor?.member && slotKey(t.reading.slot) === slotKey(cursor.slot);
      const here = taken.findIndex(isHere);
      const next = taken[(here < 0 ? taken.length : here) + by];
      if (next) setCursor({ member: next.member, slot: next.reading.slot });
      else if (by === 1) setCursor(null);
    },
    /** Leaves one out of an answer, or takes it in again; null where the answer is everybody's or one's own. */
    choose:
      !isChosen && turn?.isShared === true && stepNow !== undefined && forSome.has(stepNow.kind)
        ? (member: number) =>
            setWithout({ key: asked, members: left.includes(member) ? left.filter((m) => m !== member) : [...left, member] })
        : null,
    chooseAll: () => setWithout({ key: '', members: [] }),
  };
}
