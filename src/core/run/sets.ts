import { kindOfSet } from '../evaluate/completeness';
import type { RunState } from '../state/run-state';

/** The next set of a kind: the first has no number. @example after 'as-found' comes 'as-found-2' */
export function nextSet(state: RunState, kind: 'as-found' | 'as-left'): string {
  const count = state.sets.filter((s) => kindOfSet(s.id) === kind).length;
  return count === 0 ? kind : `${kind}-${count + 1}`;
}

/**
 * The series that a set reads: after an adjustment those it affects, with the gates that they stand behind, after a cause was ruled out
 * all; those read nowhere else too.
 * @example affectedBy(run, 'as-found') // ['error']
 */
export function affectedBy(state: RunState, set: string): string[] {
  const { series, adjustments } = state.procedure;
  const all = series.filter((s) => s.sets.includes(kindOfSet(set))).map((s) => s.id);
  if (kindOfSet(set) !== 'as-left') return all;
  const decision = [...state.decisions].reverse().find((d) => d.adjustment !== null);
  const adjustment = adjustments.find((a) => a.id === decision?.adjustment);
  const onlyLeft = series.filter((s) => !s.sets.includes('as-found')).map((s) => s.id);
  if (!decision) return all.filter((id) => onlyLeft.includes(id));
  if (!adjustment?.affects) return all;
  const gates = series.flatMap((s) =>
    adjustment.affects!.includes(s.id) && s.with ? series.filter((g) => g.gate && g.id === s.with) : [],
  );
  const again = [...adjustment.affects, ...onlyLeft, ...gates.map((g) => g.id)];
  return all.filter((id) => again.includes(id));
}
