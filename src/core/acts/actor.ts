import { refuse, type Refusal } from '../state/refusal';
import { isAble, type AbleTo, type Competence } from '../register/competence';
import { mayAct, roleWords, type Role } from '../register/roles';

/** What is known of whoever acts, beside the name. */
export type Actor = {
  roles: readonly Role[];
  /** Who was found able to do what; null where the laboratory does not ask. */ competence: readonly Competence[] | null;
  /** The laboratory has nobody else who could review. */ isOfOne: boolean;
};

/** What somebody must have been found able to, for what a role is needed. */
const ability = (needed: readonly Role[]): AbleTo =>
  needed.includes('technician') ? 'run' : needed.includes('reviewer') ? 'review' : 'approve';

const words: Readonly<Record<AbleTo, string>> = { run: 'calibrate', review: 'review', approve: 'approve' };

/**
 * Whether somebody may do something with an instrument of a family, by role and by what was noted of him.
 * @param actor null where nobody has said yet who acts, as before there were roles @param day ISO day
 * @example mayWork(null, 'Ada', ['technician'], 'micrometer', '2026-05-01') // null
 */
export function mayWork(actor: Actor | null, person: string, needed: readonly Role[], kind: string, day: string): Refusal | null {
  if (!mayAct(actor?.roles ?? null, needed))
    return refuse(`Only ${roleWords(needed)} may do this. Ask somebody who is one.`, 'person');
  const may = ability(needed);
  return actor?.competence && !isAble(actor.competence, person, kind, may, day)
    ? refuse(
        `It is not noted that ${person} may ${words[may]} this kind of instrument. An administrator notes it on the page People.`,
        'person',
      )
    : null;
}
