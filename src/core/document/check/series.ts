import type { View } from '../../evaluate/names/head';
import { disciplineAnalyses } from '../../disciplines/registry';
import type { SeriesDocument } from '../../procedure/document-schema';

import type { DocumentCheck, Path } from './document-check';
import { checkUntouched, checkSteps } from './steps';
import { checkPoints } from './points';
import { checkResult, checkAmong, checkAggregate } from './results';

export function checkSeries(check: DocumentCheck, series: SeriesDocument, path: Path): void {
  const view: View = { series };
  const reading: View = { series, readings: true };
  check.unique(
    [
      ...series.observe.map((o) => o.id),
      ...series.computed.map((c) => c.id),
      ...series.results.map((r) => r.symbol),
      ...series.aggregates.map((a) => a.id),
    ],
    'id',
    path,
    'id',
  );
  check.when(series.when, { series: null }, [...path, 'when']);
  for (const [name, use] of Object.entries(series.uses)) {
    const at = [...path, 'uses', name];
    check.role(use.role ?? name, use.role === undefined ? at : [...at, 'role']);
    for (const member of ['item', 'stack', 'at'] as const)
      if (use[member] !== undefined) check.text(use[member], reading, [...at, member]);
    for (const [column, text] of Object.entries(use.where ?? {})) check.text(text, reading, [...at, 'where', column]);
  }
  const each = series.forEach;
  if (each && 'list' in each && !check.doc.instrument.lists.some((l) => l.id === each.list))
    check.fault(`"${each.list}" is not a list of the instrument.`, [...path, 'forEach', 'list']);
  if (each && 'items' in each) check.role(series.uses[each.items]?.role ?? each.items, [...path, 'forEach', 'items']);
  if (each && 'of' in each)
    each.of.forEach((row, i) => {
      const { when, ...columns } = row;
      check.when(when, { series: null }, [...path, 'forEach', 'of', i, 'when']);
      check.nums(columns, view, [...path, 'forEach', 'of', i]);
    });
  if (series.with !== undefined) check.seriesNamed(series.with, [...path, 'with']);
  for (const [i, id] of (series.conditions ?? []).entries())
    if (!check.doc.conditions.some((c) => c.id === id))
      check.fault(`"${id}" is not a condition of this procedure.`, [...path, 'conditions', i]);
  checkSteps(check, series.steps, view, [...path, 'steps']);
  if (series.sets.includes('as-found')) checkUntouched(check, series.steps, [...path, 'steps']);
  checkPoints(check, series, view, [...path, 'points']);
  series.sweeps?.forEach((w, i) => check.when(w.when, view, [...path, 'sweeps', i, 'when']));
  check.nums({ repeats: series.repeats }, view, path);
  series.observe.forEach((o, i) => checkObservation(check, series, o, [...path, 'observe', i]));
  series.analyses.forEach((a, i) => {
    const at = [...path, 'analyses', i];
    const known =
      disciplineAnalyses.get(a.use) ??
      check.fault(`"${a.use}" is not an analysis: there are ${[...disciplineAnalyses.keys()].join(', ')}.`, [...at, 'use']);
    const file = series.observe.find((o) => o.id === a.of);
    if (file?.type !== 'file') check.fault(`"${a.of}" is not an observation of the type file.`, [...at, 'of']);
    for (const { id } of known.needs)
      if (a.with?.[id] === undefined) check.fault(`The analysis ${a.use} needs ${id}.`, [...at, 'with']);
    for (const id of Object.keys(a.with ?? {}))
      if (!known.needs.some((n) => n.id === id)) check.fault(`The analysis ${a.use} takes no ${id}.`, [...at, 'with', id]);
    check.nums(a.with ?? {}, view, [...at, 'with']);
    check.when(a.when, view, [...at, 'when']);
  });
  series.computed.forEach((c, i) => {
    const at = [...path, 'computed', i];
    check.when(c.when, view, [...at, 'when']);
    check.text(c.is, { ...reading, computedBefore: i }, [...at, 'is']);
  });
  series.results.forEach((r, i) => checkResult(check, series, r, [...path, 'results', i]));
  series.aggregates.forEach((a, i) => checkAggregate(check, series, a, [...path, 'aggregates', i]));
  series.fits.forEach((f, i) => {
    const at = [...path, 'fits', i];
    check.text(f.x, reading, [...at, 'x']);
    check.text(f.y, reading, [...at, 'y']);
    f.basis.forEach((b, k) => {
      const strange = check.read(b, [...at, 'basis', k]).symbols.find((s) => s !== 'x');
      if (strange !== undefined) check.fault(`A basis is a function of x alone, not of "${strange}".`, [...at, 'basis', k]);
    });
    checkAmong(check, series, f.among, at);
  });
}

/** What a wait watches where it does not say: the one observation of its series. */
export function checkWatched(check: DocumentCheck, { series }: View, path: Path): void {
  const numbers = series?.observe.filter((o) => o.type === 'number') ?? [];
  if (numbers.length !== 1)
    check.fault(
      series
        ? `Say in "of" what is watched: ${numbers.map((o) => o.id).join(', ') || 'nothing is observed here'}.`
        : 'Say in "of" what is watched: a step outside a series observes nothing.',
      path,
    );
}

export function checkObservation(
  check: DocumentCheck,
  series: SeriesDocument,
  o: SeriesDocument['observe'][number],
  path: Path,
): void {
  const known =
    o.of === 'instrument' ||
    Object.hasOwn(series.uses, o.of) ||
    check.doc.standards.some((r) => r.role === o.of) ||
    check.doc.instrument.parts.some((p) => p.id === o.of);
  if (!known) check.fault(`"${o.of}" is neither the instrument, a role, a use nor a part.`, [...path, 'of']);
  if (o.type === 'choice' && !o.options?.length) check.fault('A choice needs its options.', [...path, 'options']);
  check.when(o.when, { series }, [...path, 'when']);
  check.nums(
    { resolution: o.resolution, lower: o.lower, upper: o.upper, saturates: o.saturates },
    { series, readings: true },
    path,
  );
}
