import { isIn, noScope, type Setting } from '../evaluate/setting';
import type { ProcedureDocument, SeriesDocument } from '../procedure/document-schema';
import { statesProperties } from '../standard/states-properties';
import type { StandardDocument } from '../standard/standard-schema';

export type MissingProperty = { role: string; property: string; series: string };

/** All that is written in a series, but for what its conditions leave out. */
function writtenIn(s: Setting, doc: SeriesDocument): string {
  const here = noScope('as-found', ['procedure', 'series']);
  const kept = <T extends { when?: Parameters<typeof isIn>[1] }>(list: readonly T[]): T[] =>
    list.filter((x) => x.when === undefined || isIn(s, x.when, here));
  const results = kept(doc.results).map((r) => ({ ...r, quantities: kept(r.quantities) }));
  return JSON.stringify([results, kept(doc.computed), kept(doc.aggregates), doc.fits, doc.points, doc.observe]);
}

/**
 * Properties that formulas of a procedure name and that none of the standards chosen for their role states: a run with them would end
 * without results.
 * @example a bath procedure names `A.driftPerYear`; a probe whose certificate entry has no drift gives { role: 'reference', property: 'driftPerYear', … }
 */
export function missingProperties(
  procedure: ProcedureDocument,
  s: Setting,
  standards: Readonly<Record<string, readonly { document: StandardDocument }[]>>,
): MissingProperty[] {
  return [...s.series.values()].flatMap(({ doc }) => {
    const written = writtenIn(s, doc);
    return Object.entries(doc.uses).flatMap(([use, { role = use }]) => {
      const fills = standards[role] ?? [];
      const declared = procedure.standards.find((r) => r.role === role)?.properties ?? [];
      if (fills.length === 0) return [];
      return declared
        .filter((p) => new RegExp(`(?<![\\w.])${use}\\.${p.id}(?![\\w.])`).test(written))
        .filter((p) => !fills.some(({ document }) => statesProperties(document, [p.id])))
        .map((p) => ({ role, property: p.id, series: doc.id }));
    });
  });
}
