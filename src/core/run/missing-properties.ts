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

const withoutLimits = (doc: SeriesDocument): SeriesDocument => ({
  ...doc,
  results: doc.results.map(({ tolerance: _tolerance, tolerances: _tolerances, ...r }) => r),
  aggregates: doc.aggregates.map(({ tolerance: _tolerance, tolerances: _tolerances, ...a }) => a),
});

/** What a procedure asks the register to state of an instrument, and it does not: a run would end without the results that need it. */
export type MissingEntry = { title: string; list: string | null; series: string };

export function missingEntries(procedure: ProcedureDocument, s: Setting): MissingEntry[] {
  const { characteristics = {}, lists = {} } = s.given.instrument;
  return [...s.series.values()].flatMap(({ doc }) => {
    const written = writtenIn(s, doc);
    // A limit that names a column which a row lacks is no limit there.
    const unlimited = writtenIn(s, withoutLimits(doc));
    const names = (name: string, text: string) => new RegExp(`(?<![\\w.])${name.replace('.', '\\.')}(?![\\w.])`).test(text);
    const own = procedure.instrument.characteristics
      .filter((c) => c.default === undefined && characteristics[c.id] === undefined && names(`instrument.${c.id}`, written))
      .map((c): MissingEntry => ({ title: c.title, list: null, series: doc.title }));
    const run = [
      ...(doc.forEach && 'list' in doc.forEach ? [{ list: doc.forEach.list, head: 'each' }] : []),
      ...(typeof doc.points?.list === 'string' ? [{ list: doc.points.list, head: 'point' }] : []),
    ];
    const columns = run.flatMap(({ list, head }) => {
      const declared = procedure.instrument.lists.find((l) => l.id === list);
      return (declared?.columns ?? [])
        .filter(
          (c) => c.type !== 'text' && names(`${head}.${c.id}`, unlimited) && lists[list]?.some((row) => row[c.id] === undefined),
        )
        .map((c): MissingEntry => ({ title: c.title, list: declared!.title, series: doc.title }));
    });
    return [...own, ...columns];
  });
}
