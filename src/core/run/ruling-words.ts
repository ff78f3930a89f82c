import { failureSentence, failuresIn } from './failures';
import { setTitle } from './place-words';
import { outcomeOf } from './rungs';
import { setAsFound } from './run-results';
import type { RunState } from '../state/run-state';

const whoseWords = {
  instrument: "the instrument's",
  standard: "the standard's",
  setting: "a setting's",
  operator: 'of the measurement',
} as const;

/**
 * Each cause that was ruled out, whose it would have been, and what was read before and after; sets that do not stand are said to.
 * @example rulingWords(run) // []
 */
export function rulingWords(state: RunState): string[] {
  const { rulings, sets, procedure } = state;
  const found = setAsFound(state);
  const at = (set: string) => sets.findIndex((s) => s.id === set);
  const looked = state.rungs.flatMap((rung) => {
    const outcome = outcomeOf(state, rung);
    return outcome ? [`Looked for (${rung.note}), one point read again: ${outcome.words}.`] : [];
  });
  const ruled = rulings.map((ruling) => {
    const cause = procedure.ruleOut.find((r) => r.id === ruling.id);
    const whose = cause?.whose ? `, ${whoseWords[cause.whose]}` : '';
    const next = sets[at(ruling.set) + 1]?.id;
    const before = failureSentence(failuresIn(state, ruling.set)) || 'Nothing was outside.';
    const after =
      next === undefined
        ? 'not read again'
        : `read again as ${setTitle(next).toLowerCase()}: ${failureSentence(failuresIn(state, next)) || 'nothing is outside.'}`;
    const isWithdrawn = at(ruling.set) < at(found);
    return `Ruled out (${cause?.title ?? ruling.note}${whose}): ${setTitle(ruling.set).toLowerCase()} gave: ${before} Then ${after}${isWithdrawn ? ` The readings before are withdrawn and kept in the record; ${setTitle(found).toLowerCase()} stands.` : ''}`;
  });
  return [...looked, ...ruled];
}
