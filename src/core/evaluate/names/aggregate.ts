import { mean } from '../../statistics/moments';
import { aggregateEntries } from '../aggregates';
import { Absent, DocumentError } from '../../faults';
import type { Scope, Series, Setting } from '../setting';
import { lastWord, nobody, type Head } from './head';
import { inThisSetOrLatest, seriesNamed } from './other-series';

/** An aggregate where this scope stands: the mean over what the scope does not fix. */
export function meanAggregate(s: Setting, series: Series, id: string, scope: Scope): number {
  const entries = aggregateEntries(s, series, id, scope.set).filter(
    (e) =>
      (e.instance === null || scope.instance === null || e.instance === scope.instance) &&
      (e.point === null || scope.point === null || e.point.id === scope.point.id) &&
      (e.sweep === null || scope.sweep === null || e.sweep === scope.sweep),
  );
  if (entries.length === 0) throw new Absent(`aggregate ${id}`);
  return mean(
    entries.map((e) => {
      if (e.unknown) throw e.unknown;
      return e.value!;
    }),
  );
}

/** An aggregate of a series. */
export const aggregate: Head = {
  problem: (doc, rest, _view, name) => {
    const other = doc.series.find((s) => s.id === rest[0]);
    return other?.aggregates.some((a) => a.id === rest[1]) && rest.length === 2 ? null : nobody(name);
  },
  value: (s, [id, wanted], scope) => {
    const series = seriesNamed(s, id!, scope);
    if (!series.doc.aggregates.some((a) => a.id === wanted))
      throw new DocumentError(`"${wanted}" is not an aggregate of ${id}.`, scope.path);
    return inThisSetOrLatest(s, series, scope, (at) => meanAggregate(s, series, wanted!, at));
  },
  words: lastWord,
  isGrowing: true,
};
