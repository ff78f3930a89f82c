import { isPointName } from '../../evaluate/names/at';
import type { View } from '../../evaluate/names/head';
import { offersReading } from '../../evaluate/names/local';
import { ModelSyntaxError, modelWith, type Formula } from '../../formula/formula';
import { modelFunctions } from '../../uncertainty/model-syntax';
import type { AggregateDocument, ResultDocument, SeriesDocument, ToleranceTemplate } from '../../procedure/document-schema';

import type { DocumentCheck, Path } from './document-check';

export function checkBudget(
  check: DocumentCheck,
  series: SeriesDocument,
  doc: Pick<ResultDocument, 'model' | 'where' | 'quantities' | 'correlations'>,
  view: View,
  path: Path,
  more: readonly string[] = [],
): void {
  const symbols = [...doc.quantities.map((q) => q.symbol), ...more];
  check.unique(
    doc.quantities.map((q) => q.symbol),
    'symbol',
    [...path, 'quantities'],
    'symbol',
  );
  doc.quantities.forEach((q, i) => {
    const at = [...path, 'quantities', i];
    if (q.symbol === 'pi' || Object.hasOwn(modelFunctions, q.symbol))
      check.fault(`"${q.symbol}" is a word of the model language: choose another symbol.`, [...at, 'symbol']);
    check.when(q.when, { series }, [...at, 'when']);
    const d = q.distribution;
    if (d.type === 'readings') checkReadings(check, series, d, [...at, 'distribution']);
    check.nums(d, view, [...at, 'distribution']);
  });
  const known = [...symbols];
  doc.where?.forEach((w, i) => {
    const at = [...path, 'where', i, 'is'];
    const read = check.read(w.is, at);
    for (const name of read.symbols)
      if (!known.includes(name)) check.fault(`"${name}" is neither a quantity nor an earlier abbreviation.`, at);
    check.functions(read, view, at);
    known.push(w.symbol);
  });
  const at = [...path, 'model'];
  let model: Formula;
  try {
    model = modelWith(doc.model, doc.where ?? []);
  } catch (error) {
    if (error instanceof ModelSyntaxError) return check.fault(`${error.message} (character ${error.start + 1})`, at);
    throw error;
  }
  for (const name of model.symbols)
    if (!symbols.includes(name)) check.fault(`The model uses "${name}", which is neither a quantity nor an abbreviation.`, at);
  check.functions(model, view, at);
  doc.correlations?.forEach((c, i) => {
    c.between.forEach((name, side) => {
      if (!symbols.includes(name)) check.fault(`"${name}" is not a quantity.`, [...path, 'correlations', i, 'between', side]);
    });
    check.nums({ coefficient: c.coefficient }, view, [...path, 'correlations', i]);
  });
}

export function checkReadings(
  check: DocumentCheck,
  series: SeriesDocument,
  d: Extract<ResultDocument['quantities'][number]['distribution'], { type: 'readings' }>,
  path: Path,
): void {
  const isRead = (of: SeriesDocument, name: string) =>
    of.observe.some((o) => o.id === name) ||
    of.computed.some((c) => c.id === name) ||
    of.analyses.some((a) => name.startsWith(`${a.as}.`));
  if (!isRead(series, d.of))
    check.fault(`"${d.of}" is neither an observation nor a computed value of ${series.id}.`, [...path, 'of']);
  if (typeof d.pool === 'object' && 'series' in d.pool) {
    const other = check.seriesNamed(d.pool.series, [...path, 'pool', 'series']);
    if (!isRead(other, d.pool.of))
      check.fault(`"${d.pool.of}" is neither an observation nor a computed value of ${other.id}.`, [...path, 'pool', 'of']);
  }
}

export function checkTolerance(check: DocumentCheck, tolerance: ToleranceTemplate | undefined, view: View, path: Path): void {
  if (tolerance) check.nums(tolerance, view, path);
}

export function checkJudged(check: DocumentCheck, doc: ResultDocument | AggregateDocument, view: View, path: Path): void {
  checkTolerance(check, doc.tolerance, view, [...path, 'tolerance']);
  doc.tolerances?.forEach((t, i) => checkTolerance(check, t.tolerance, view, [...path, 'tolerances', i, 'tolerance']));
  check.when(doc.when, { series: view.series }, [...path, 'when']);
}

export function checkResult(check: DocumentCheck, series: SeriesDocument, doc: ResultDocument, path: Path): void {
  const view: View = { series, readings: true };
  check.nums({ reference: doc.reference, indication: doc.indication }, view, path);
  checkBudget(check, series, doc, view, path);
  checkJudged(check, doc, { ...view, own: [doc.symbol] }, path);
  const single = series.repeats === 1 && !(doc.over?.length && (series.sweeps?.length ?? 0) > 1);
  doc.quantities.forEach((q, i) => {
    const d = q.distribution;
    if (single && d.type === 'readings' && (d.pool ?? 'none') === 'none')
      check.fault(
        'One reading alone has no scatter: ask for repeats, or pool with other readings or with earlier work ("pool").',
        [...path, 'quantities', i, 'distribution'],
      );
  });
}

export function checkAmong(check: DocumentCheck, series: SeriesDocument, among: readonly string[] | undefined, path: Path): void {
  for (const [i, name] of (among ?? []).entries()) {
    const each = series.forEach;
    const isInstance = each !== undefined && (!('of' in each) || each.of.some((row) => row.id === name));
    if (!isPointName(series, name) && !series.sweeps?.some((w) => w.id === name) && !isInstance)
      check.fault(`"${name}" is neither a point nor a sweep nor an instance of ${series.id}.`, [...path, 'among', i]);
  }
}

export function checkAggregate(check: DocumentCheck, series: SeriesDocument, doc: AggregateDocument, path: Path): void {
  const view: View = { series, readings: true };
  if (doc.of !== undefined && !offersReading(series, doc.of.split('.')))
    check.fault(`"${doc.of}" is neither an observation, a computed value, a result nor another aggregate of ${series.id}.`, [
      ...path,
      'of',
    ]);
  if (doc.is !== undefined) check.text(doc.is, view, [...path, 'is']);
  if (doc.x !== undefined) check.text(doc.x, view, [...path, 'x']);
  if (doc.fit !== undefined && !series.fits.some((f) => f.id === doc.fit))
    check.fault(`"${doc.fit}" is not a fit of ${series.id}.`, [...path, 'fit']);
  if (doc.from !== undefined && !isPointName(series, doc.from))
    check.fault(`"${doc.from}" is not a point of ${series.id}.`, [...path, 'from']);
  check.nums({ within: doc.within }, view, path);
  checkAmong(check, series, doc.among, path);
  const own = { ...view, own: [doc.id] };
  if (doc.result) {
    checkBudget(check, series, doc.result, own, [...path, 'result'], [doc.id]);
    check.nums({ reference: doc.result.reference, indication: doc.result.indication }, own, [...path, 'result']);
  }
  checkJudged(check, doc, own, path);
}
