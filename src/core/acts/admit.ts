import { mayWork, type Actor } from './actor';
import { refuse, type Refusal } from '../state/refusal';
import { isQuickCheck, type RunState } from '../state/run-state';
import { kindOf, type Act } from './registry';

/**
 * Whether an act may be added to a run as it stands. The log is only ever appended to, so this is the one gate.
 * @param person who acts @param now ISO time at the bench @param actor what is known of that person; null where nobody has said
 * @returns null when it may, else what to tell the person
 * @example admit(began, { type: 'note-added', version: 2, text: '' }, 'Ada', '2026-11-24T09:00:00Z') // null
 */
export function admit(state: RunState, act: Act, person: string, now: string, actor: Actor | null = null): Refusal | null {
  const kind = kindOf(act);
  const moment = { person, now, isOfOne: actor?.isOfOne ?? false };
  const instrument = act.type === 'run-started' ? act.instrument : state.instrument;
  const mayNot = mayWork(actor, person, kind.roles ?? ['technician'], instrument.kind, now.slice(0, 10));
  if (mayNot) return mayNot;
  if (act.type === 'run-started') return kind.admit(state, act, moment);
  if (state.brokenOff) return refuse('This run was broken off. Start a new one.', 'type');
  if (state.withdrawnIssue) return refuse('The certificate of this run is withdrawn. Calibrate the instrument anew.', 'type');
  if (state.reviewed && !kind.ofSigned)
    return refuse('This run is signed. It cannot be changed; a mistake in it is corrected by another issue.', 'type');
  if (state.completed && isQuickCheck(state)) return refuse('This quick check is finished. Begin another one.', 'type');
  if (state.completed && !state.reviewed && kind.ofSigned && !kind.ofFinished)
    return refuse('Nothing is signed yet. Before that, review sends it back.', 'type');
  if (state.completed && !kind.ofFinished && !kind.ofSigned)
    return refuse('This run is finished. Only its review is open.', 'type');
  if (!state.completed && (kind.ofFinished || kind.ofSigned))
    return refuse('The run is not finished yet: finish it before it is reviewed.', 'type');
  return kind.admit(state, act, moment);
}
