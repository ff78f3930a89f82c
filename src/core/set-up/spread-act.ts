import type { Act, Place, PlanItem } from '../log/event-schema';
import { placeOf, placesKey, slotKey, slotOf, type RunState } from '../run/run-state';
import { isShared } from './shared';
import { commonKey, itemNamed, pointKey, takesPart, type Turn } from './turn';

export type SpreadAct = { member: number; act: Act };

/** The same place in the plan of another run; null where that has no such point. */
function placeIn(to: RunState, from: RunState, place: Place): Place | null {
  if (place.point === undefined) return place;
  const key = pointKey(from, place);
  const points = to.places.get(placesKey(place.set, place.series ?? '', place.each))?.points ?? [];
  const point = points.find((p) => pointKey(to, { ...place, point: p.id }) === key);
  return point ? { ...place, point: point.id } : null;
}

/** The item of the plan that an act does; null where it does none, or several. */
function itemOf(act: Act): PlanItem | null {
  switch (act.type) {
    case 'step-done':
    case 'wait-begun':
    case 'watched':
    case 'wait-ended':
      return { type: 'step', ...placeOf(act), id: act.id };
    case 'observed':
      return { type: 'reading', ...placeOf(act), id: act.observation };
    case 'conditions-recorded':
      return { type: 'condition', ...placeOf(act), id: Object.keys(act.values)[0] ?? '' };
    case 'plan-resolved':
      return { type: 'open', ...placeOf(act), id: act.series };
    case 'set-begun':
      return { type: 'begin', set: act.set };
    default:
      return null;
  }
}

/**
 * What an act at the bench means for each run of a set-up. It was made for one of them; what is shared goes into every log that it
 * concerns, at that log's own place.
 * @param from the run for which it was made @param chosen those of the turn for whom it is done, where not for all
 * @example a bath temperature read for three thermometers gives three acts, one a log
 */
export function spreadAct(
  states: readonly RunState[],
  turn: Turn | null,
  from: number,
  act: Act,
  chosen: readonly number[] = turn?.members ?? [],
): SpreadAct[] {
  const alone = [{ member: from, act }];
  const state = states[from]!;
  const others = states.flatMap((s, i) => (takesPart(s) ? [i] : []));
  const inTurn = turn?.isShared ? turn.members.filter((m) => chosen.includes(m)) : [from];
  const at = (members: readonly number[], make: (to: RunState) => Act | null): SpreadAct[] =>
    members.flatMap((member) => {
      const own = member === from ? act : make(states[member]!);
      return own ? [{ member, act: own }] : [];
    });
  const moved = (place: Place) => (to: RunState) => {
    const own = placeIn(to, state, place);
    return own ? ({ ...act, ...own } as Act) : null;
  };

  const item = itemOf(act);
  if (item) {
    const key = commonKey(state, item);
    const own = itemNamed(state, key);
    // Conditions may be read again at any time, wherever the plan stands.
    if (item.type !== 'condition' && !(own && isShared(state.procedure, own))) return alone;
    // What comes next is done for those whose turn it is; an answer that is corrected, for all who have it.
    const members = key === turn?.key ? inTurn : others.filter((m) => m === from || !own || itemNamed(states[m]!, key));
    return at(members, moved(placeOf(act as Act & Place)));
  }
  switch (act.type) {
    case 'struck': {
      const reading = state.readings.find((r) => r.sequence === act.sequence);
      if (!reading) return alone;
      const item: PlanItem = { type: 'reading', ...placeOf(reading.slot), id: reading.slot.observation };
      if (!isShared(state.procedure, item)) return alone;
      const key = commonKey(state, item);
      return at(others, (to) => {
        const same = itemNamed(to, key);
        const live = same?.type === 'reading' ? to.live.get(slotKey(slotOf(same))) : undefined;
        return live ? { ...act, sequence: live.sequence } : null;
      });
    }
    case 'items-chosen':
      return at(others, moved(placeOf(act)));
    case 'skipped':
    case 'resumed':
      return at(inTurn, moved(placeOf(act)));
    case 'set-ended':
    case 'run-broken-off':
    case 'note-added':
      return at(inTurn, () => act);
    default:
      return alone;
  }
}
