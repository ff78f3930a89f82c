import { doneAt } from '../state/logged';
import { emptyState, insert, type RunState } from '../state/run-state';
import { isDone } from '../state/progress';
import { kindOf, type RecordedEvent } from './registry';

/** The state of a run, folded from its log. */

function initialState(event: RecordedEvent): RunState {
  const { act } = event;
  if (act.type !== 'run-started') throw new Error('A run begins with its start.');
  const signed = { at: doneAt(event), person: event.person, sequence: event.sequence };
  const state = emptyState(act, signed);
  insert(state, act.plan, state.sets[0]!.id, 0);
  return state;
}

function apply(state: RunState, event: RecordedEvent): void {
  const { act, person, sequence } = event;
  state.sequence = sequence;
  kindOf(act).fold(state, act, { at: doneAt(event), person, sequence });
  advance(state);
}

function advance(state: RunState): void {
  while (state.firstOpen < state.plan.length && isDone(state, state.plan[state.firstOpen]!)) state.firstOpen++;
}

/**
 * A run's state after one more event. What is long is carried over, not copied: the state that was given must not be used again.
 * @example withEvent(emptyState(events[0].act, events[0]), events[1]).sequence // 2
 */
export function withEvent(state: RunState, event: RecordedEvent): RunState {
  const next = { ...state };
  apply(next, event);
  return next;
}

/**
 * The state of a run, computed from its log and nothing else.
 * @param events the whole log in order
 * @throws Error when the log is not one (a broken invariant, not something a person can cause)
 * @example runState(events).instrument.identification // 'M-1'
 */
export function runState(events: readonly RecordedEvent[]): RunState {
  const [first, ...rest] = events;
  if (!first) throw new Error('A run has at least its start.');
  const state = initialState(first);
  advance(state);
  for (const event of rest) apply(state, event);
  return state;
}
