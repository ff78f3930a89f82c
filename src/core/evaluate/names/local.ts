import { AnalysisError } from '../../disciplines/discipline-analysis';
import { disciplineAnalyses } from '../../disciplines/registry';
import type { ProcedureDocument, SeriesDocument } from '../../procedure/document-schema';
import { mean, standardDeviation } from '../../statistics/moments';
import { Absent, DocumentError, LeftOut } from '../../faults';
import { once } from '../once';
import { cellsIn } from '../observed';
import { ofReading, valuesOf } from '../readings';
import { resultAt } from '../results';
import { isIn, isObserved, numberOf, pointsOf, type Scope, type Series, type Setting } from '../setting';
import { assignedOf } from '../uses';
import { meanAggregate } from './aggregate';
import { nobody, type View } from './head';

/** Names without a head of their own: a use, an observation, a computed value, a number of an analysis, a result, an aggregate. */

const useMembers = ['value', 'nominal', 'correction', 'standardUncertainty', 'ageYears', 'items', 'joints', 'resolution', 'dof'];
const overRepeats = ['least', 'greatest', 'range', 'standardDeviation', 'count'];
const uncertainties = ['standardUncertainty', 'expandedUncertainty'];
type Member = 'standardUncertainty' | 'expandedUncertainty' | undefined;

const isRole = (doc: ProcedureDocument, name: string): boolean => doc.standards.some((r) => r.role === name);

/**
 * Whether a series has an observation, computed value, number of an analysis, result or aggregate of a name.
 * @example offersReading(series, ['R']) // true
 */
export function offersReading(series: SeriesDocument, [head, member, ...more]: string[]): boolean {
  if (head === undefined || more.length) return false;
  if (series.observe.some((o) => o.id === head) || series.computed.some((c) => c.id === head))
    return member === undefined || overRepeats.includes(member);
  const analysis = series.analyses.find((a) => a.as === head);
  if (analysis) return disciplineAnalyses.get(analysis.use)?.gives.some((g) => g.id === member) ?? false;
  if (series.results.some((r) => r.symbol === head)) return member === undefined || uncertainties.includes(member);
  return series.aggregates.some((a) => a.id === head) && member === undefined;
}

/** What is wrong with a name that begins with no head; null where something offers it. */
export function problemWithLocal(doc: ProcedureDocument, rest: string[], view: View, name: string, head: string): string | null {
  const use = view.series?.uses[head];
  const role = doc.standards.find((r) => r.role === (use?.role ?? head));
  if (rest.length === 1 && role && (use || isRole(doc, head))) {
    if (useMembers.includes(rest[0]!) || role.properties.some((p) => p.id === rest[0])) return null;
    if (!view.series?.observe.some((o) => o.id === head))
      return `"${rest[0]}" is not a declared property of the role ${role.role}.`;
  }
  if (!view.series || !view.readings) return nobody(name);
  const computed = view.series.computed.findIndex((c) => c.id === head);
  if (view.computedBefore !== undefined && rest.length === 0 && computed >= view.computedBefore)
    return `"${head}" is computed later, or is this value itself: computed values may use earlier ones.`;
  return offersReading(view.series, [head, ...rest]) ? null : nobody(name);
}

/** A name of the scope's own series: a use, an observation, a computed value, a number of an analysis, a result, an aggregate. */
export function localValue(s: Setting, name: string, head: string, rest: string[], scope: Scope): number {
  const series = scope.series;
  const member = rest[0];
  if (member !== undefined && (Object.hasOwn(series?.doc.uses ?? {}, head) || isRole(s.doc, head))) {
    const properties = s.doc.standards.find((r) => r.role === (series?.doc.uses[head]?.role ?? head))?.properties ?? [];
    if (useMembers.includes(member) || properties.some((p) => p.id === member)) return assignedOf(s, head, member, scope);
  }
  if (!series) throw new DocumentError(`"${name}" is not a name that can stand here.`, scope.path);
  const observation = series.doc.observe.find((o) => o.id === head);
  const computed = series.doc.computed.find((c) => c.id === head);
  if (observation || computed) {
    if (observation ? !isObserved(s, observation, scope) : !isIn(s, computed!.when, scope)) throw new LeftOut(head);
    if (scope.reading && member === undefined) return ofReading(s, series, scope.reading, head, scope);
    return overReadings(valuesOf(s, series, head, scope), member, name, scope);
  }
  const analysis = series.doc.analyses.find((a) => a.as === head);
  if (analysis && member !== undefined) return analysed(s, series, analysis, member, scope);
  const result = series.doc.results.find((r) => r.symbol === head);
  if (result) return meanResult(s, series, head, member as Member, scope);
  if (series.doc.aggregates.some((a) => a.id === head) && member === undefined) return meanAggregate(s, series, head, scope);
  throw new DocumentError(
    `"${name}" is not offered here: no use, observation, computed value, result or aggregate of ${series.doc.id} has this name.`,
    scope.path,
  );
}

/** A number of an analysis: it sees all repeats at the point; the mean over what the scope does not fix. */
function analysed(s: Setting, series: Series, doc: SeriesDocument['analyses'][number], member: string, scope: Scope): number {
  if (!isIn(s, doc.when, scope)) throw new LeftOut(`analysis ${doc.as}`);
  const known = disciplineAnalyses.get(doc.use)!;
  const path = [...series.path, 'analyses', series.doc.analyses.indexOf(doc)];
  const cells = cellsIn(s, { ...scope, reading: null }, (x, i) => pointsOf(s, x, i)).filter((c) => c.readings.length > 0);
  const found = cells.flatMap(({ instance, point, sweep, readings }) => {
    const key = `analysis|${scope.set}|${series.doc.id}|${doc.as}|${instance.id ?? ''}|${point.id}|${sweep ?? ''}`;
    const files = readings.flatMap((r) => (r.values[doc.of] === undefined ? [] : [String(r.values[doc.of])]));
    if (files.length === 0) return [];
    const numbers = once(s.memo, key, () => {
      const at: Scope = { ...scope, instance, point, sweep, reading: null, path };
      const needs = Object.fromEntries(
        known.needs.map(({ id }) => {
          const given = doc.with?.[id];
          if (given === undefined) throw new DocumentError(`The analysis ${doc.use} needs ${id}.`, [...path, 'with']);
          return [id, numberOf(s, given, { ...at, path: [...path, 'with', id] })];
        }),
      );
      try {
        return known.analyse(files, needs);
      } catch (error) {
        if (error instanceof AnalysisError) throw new DocumentError(`${doc.of}: ${error.message}`, ['observations']);
        throw error;
      }
    });
    return [numbers[member]!];
  });
  if (found.length === 0) throw new Absent(`${doc.as}.${member}`);
  return mean(found);
}

function overReadings(values: number[], member: string | undefined, name: string, scope: Scope): number {
  switch (member) {
    case undefined:
      return mean(values);
    case 'least':
      return Math.min(...values);
    case 'greatest':
      return Math.max(...values);
    case 'range':
      return Math.max(...values) - Math.min(...values);
    case 'count':
      return values.length;
    case 'standardDeviation':
      if (values.length < 2) throw new Absent(`${name}: one reading has no standard deviation`);
      return standardDeviation(values);
  }
  throw new DocumentError(
    `"${name}" is not offered: readings have least, greatest, range, standardDeviation and count.`,
    scope.path,
  );
}

/** A result where this scope stands: the mean over what the scope does not fix. */
function meanResult(s: Setting, series: Series, symbol: string, member: Member, scope: Scope): number {
  const doc = series.doc.results.find((r) => r.symbol === symbol)!;
  const overSweeps = doc.over?.includes('sweeps') || series.sweeps === null;
  const sweeps = overSweeps ? [null] : scope.sweep !== null ? [scope.sweep] : series.sweeps!.map((w) => w.id);
  const found: number[] = [];
  let why: Absent | null = null;
  for (const instance of scope.instance ? [scope.instance] : series.instances)
    for (const point of scope.point ? [scope.point] : pointsOf(s, series, instance))
      for (const sweep of sweeps)
        try {
          const { budget } = resultAt(s, series, doc, { ...scope, instance, point, sweep, reading: null, own: {} });
          found.push(member === undefined ? budget.estimate : budget[member]);
        } catch (error) {
          if (!(error instanceof Absent)) throw error;
          if (!why || error instanceof LeftOut) why = error;
        }
  if (found.length === 0) throw why ?? new Absent(`result ${symbol}`);
  return mean(found);
}
