import { mayAct, roleWords, type Role } from '../register/roles';
import { refuse, type Refusal } from '../state/refusal';
import { isQuickCheck, type RunState } from '../state/run-state';
import { kindOf, type Act } from './registry';

/**
 * Whether an act may be added to a run as it stands. The log is only ever appended to, so this is the one gate.
 * @param person who acts @param now ISO time at the bench @param roles what that person may do; null where nobody has said
 * @returns null when it may, else what to tell the person
 * @example admit(began, { type: 'note-added', version: 2, text: '' }, 'Ada', '2026-11-24T09:00:00Z') // null
 */
export function admit(
  state: RunState,
  act: Act,
  person: string,
  now: string,
  roles: readonly Role[] | null = null,
): Refusal | null {
  const kind = kindOf(act);
  const needed = kind.roles ?? ['technician'];
  if (!mayAct(roles, needed)) return refuse(`Only ${roleWords(needed)} may do this. Ask somebody who is one.`, 'person');
  if (act.type === 'run-started') return kind.admit(state, act, { person, now });
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
  return kind.admit(state, act, { person, now });
}
