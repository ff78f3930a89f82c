import { caseSchema, type Case } from './case-schema';
import { isDetermined, type Undetermined } from './undetermined';
import { evaluate, type EvaluatedAggregate, type EvaluatedPoint, type EvaluatedResult, type Evaluation } from './evaluate';
import { readDocument } from '../procedure/read-document';

/** Small documents for tests: one series with the members given, everything else as plain as it can be. */

type Members = Record<string, unknown>;

export const documentOf = (series: Members[], more: Members = {}): Members => ({
  format: 'just-twice/procedure',
  version: 2,
  id: 'probe',
  revision: 1,
  title: 'Probe',
  scope: 'Tests',
  sources: ['Invented'],
  instrument: { kinds: ['invented'] },
  standards: [],
  choices: [],
  series: series.map((s, i) => ({ id: `s${i + 1}`, title: `Series ${i + 1}`, ...s })),
  ...more,
});

export const observed = (id = 'R', more: Members = {}): Members => ({ id, title: id, of: 'instrument', unit: 'mm', ...more });

/** A result that is a formula's value with a standard uncertainty of its own. */
export const resultOf = (is: string, more: Members = {}): Members => ({
  symbol: 'E',
  title: 'E',
  unit: 'mm',
  model: 'x',
  quantities: [{ symbol: 'x', unit: 'mm', distribution: { type: 'normal', mean: { is }, standardUncertainty: 0.1 } }],
  ...more,
});

export const given = (more: Members = {}): Case =>
  caseSchema.parse({ instrument: { unit: 'mm', lower: 0, upper: 100, usedLower: 0, usedUpper: 100, resolution: 0.01 }, ...more });

export const run = (document: Members, more: Members = {}): Evaluation => evaluate(readDocument(document), given(more));

export const pointsIn = (evaluation: Evaluation, series = 's1'): EvaluatedPoint[] =>
  evaluation.series.filter((s) => s.id === series).flatMap((s) => s.points);

export const resultsIn = (evaluation: Evaluation, series = 's1', symbol = 'E'): EvaluatedResult[] =>
  pointsIn(evaluation, series).flatMap((p) => {
    const result = p.results[symbol];
    return result && isDetermined(result) ? [result] : [];
  });

/** What is not determined of a series, in its order. */
export const undeterminedIn = (evaluation: Evaluation, series = 's1', symbol = 'E'): Undetermined[] =>
  pointsIn(evaluation, series).flatMap((p) => {
    const result = p.results[symbol];
    return result && !isDetermined(result) ? [result] : [];
  });

export type KnownAggregate = Exclude<EvaluatedAggregate, Undetermined>;

/** Aggregates of a series that are determined, in its order. */
export const aggregatesIn = (evaluation: Evaluation, series = 's1'): KnownAggregate[] =>
  evaluation.series
    .filter((s) => s.id === series)
    .flatMap((s) => s.aggregates.filter((a): a is KnownAggregate => isDetermined(a)));

/** One row of observations of a point. */
export const row = (series: string, readings: (number | Members)[], more: Members = {}): Members => ({
  series,
  readings: readings.map((r) => (typeof r === 'number' ? { R: r } : r)),
  ...more,
});

export const standard = (more: Members): Members => ({
  format: 'just-twice/standard',
  version: 1,
  identification: 'S-1',
  kind: 'x',
  designation: 'S',
  certificate: { issuer: 'Institute', number: '1', date: '2026-01-01' },
  unit: 'mm',
  ...more,
});

/** The estimate of a result that has to be there. */
export function estimateOf(result: EvaluatedResult | Undetermined | undefined): number {
  if (!result || !isDetermined(result)) throw new Error(`No result: ${result?.why ?? 'nothing was read'}`);
  return result.estimate;
}
