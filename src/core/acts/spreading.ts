import type { Place, PlanItem } from '../plan/plan-schema';
import { placeOf, placesKey } from '../state/place-keys';
import type { RunState } from '../state/run-state';
import { isShared } from '../plan/shared';
import { commonKey, itemNamed, pointKey, takesPart, type Turn } from '../set-up/turn';
import { stepItem } from './common';

/** Where an act was made in a set-up: for which run, whose turn it is, and for whom of them it is done. */
export type Spreading = { states: readonly RunState[]; turn: Turn | null; from: number; chosen: readonly number[] };
/** An act for each run that it concerns. */
export type Spread<A> = (s: Spreading, act: A) => { member: number; act: A }[];

const othersOf = ({ states }: Spreading): number[] => states.flatMap((s, i) => (takesPart(s) ? [i] : []));
const inTurnOf = ({ turn, from, chosen }: Spreading): number[] =>
  turn?.isShared ? turn.members.filter((m) => chosen.includes(m)) : [from];

/** The act for the run that it was made for, and what `make` gives for each of the others. */
export const at = <A>(
  s: Spreading,
  act: A,
  members: readonly number[],
  make: (to: RunState) => A | null,
): { member: number; act: A }[] =>
  members.flatMap((member) => {
    const own = member === s.from ? act : make(s.states[member]!);
    return own ? [{ member, act: own }] : [];
  });

/** The same place in the plan of another run; null where that has no such point. */
function placeIn(to: RunState, from: RunState, place: Place): Place | null {
  if (place.point === undefined) return place;
  const key = pointKey(from, place);
  const points = to.places.get(placesKey(place.set, place.series ?? '', place.each))?.points ?? [];
  const point = points.find((p) => pointKey(to, { ...place, point: p.id }) === key);
  return point ? { ...place, point: point.id } : null;
}

const moved =
  <A extends Place>(s: Spreading, act: A) =>
  (to: RunState): A | null => {
    const own = placeIn(to, s.states[s.from]!, placeOf(act));
    return own ? { ...act, ...own } : null;
  };

/** Only for the run that it was made for. */
export const alone = <A>({ from }: Spreading, act: A): { member: number; act: A }[] => [{ member: from, act }];
/** For each whose turn it is, as it stands. */
export const inTurn = <A>(s: Spreading, act: A) => at(s, act, inTurnOf(s), () => act);
/** For each whose turn it is, at its own place. */
export const inTurnAtItsPlace = <A extends Place>(s: Spreading, act: A) => at(s, act, inTurnOf(s), moved(s, act));
/** For all that take part, at their own place. */
export const forAllAtTheirPlace = <A extends Place>(s: Spreading, act: A) => at(s, act, othersOf(s), moved(s, act));

/** For all that share the item of the plan that it does, at their own place. */
export const byItem =
  <A extends Place>(itemOf: (act: A) => PlanItem): Spread<A> =>
  (s, act) => {
    const state = s.states[s.from]!;
    const item = itemOf(act);
    const key = commonKey(state, item);
    const own = itemNamed(state, key);
    // Conditions may be read again at any time, wherever the plan stands.
    if (item.type !== 'condition' && !(own && isShared(state.procedure, own))) return alone(s, act);
    // What comes next is done for those whose turn it is; an answer that is corrected, for all who have it.
    const members =
      key === s.turn?.key ? inTurnOf(s) : othersOf(s).filter((m) => m === s.from || !own || itemNamed(s.states[m]!, key));
    return at(s, act, members, moved(s, act));
  };

/** For all that share the step that it does. */
export const byStep = <A extends Place & { id: string }>(s: Spreading, act: A) => byItem<A>(stepItem)(s, act);

/** For all that share a reading: what `make` gives of the item of another run. */
export function forSharedReading<A>(
  s: Spreading,
  act: A,
  item: PlanItem,
  make: (to: RunState, same: PlanItem | null | undefined) => A | null,
): { member: number; act: A }[] {
  const state = s.states[s.from]!;
  if (!isShared(state.procedure, item)) return alone(s, act);
  const key = commonKey(state, item);
  return at(s, act, othersOf(s), (to) => make(to, itemNamed(to, key)));
}
