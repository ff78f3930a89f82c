import { isSamePerson } from '../register/person-name';
import { refuse, type Refusal } from '../state/refusal';
import { tookPart } from '../run/review-points';
import type { RunState } from '../state/run-state';
import type { Moment } from './act-kind';

/** Whether somebody may review a finished run: a second person, who took no part in it. */
export const admitReview = (state: RunState, _act: unknown, { person, isOfOne }: Moment): Refusal | null =>
  !isOfOne && [...tookPart(state)].some((p) => isSamePerson(p, person))
    ? refuse('Whoever took the readings or finished the run cannot review it. Ask a second person.', 'person')
    : null;
