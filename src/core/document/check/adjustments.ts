import { isPointName } from '../../evaluate/names/at';
import type { View } from '../../evaluate/names/head';
import type { ProcedureDocument } from '../../procedure/document-schema';

import type { DocumentCheck, Path } from './document-check';
import { checkSteps } from './steps';

export function checkAdjustment(check: DocumentCheck, doc: ProcedureDocument['adjustments'][number], path: Path): void {
  const series = doc.of.map((id, i) => check.seriesNamed(id, [...path, 'of', i]));
  doc.affects?.forEach((id, i) => check.seriesNamed(id, [...path, 'affects', i]));
  const first = series[0]!;
  if (
    doc.result !== undefined &&
    !series.some((s) => s.results.some((r) => r.symbol === doc.result) || s.aggregates.some((a) => a.id === doc.result))
  )
    check.fault(`"${doc.result}" is neither a result nor an aggregate of ${doc.of.join(', ')}.`, [...path, 'result']);
  const view: View = { series: first, readings: true };
  for (const [member, names] of [
    [['takes'], doc.takes],
    [['rounds', 'points'], doc.rounds?.points],
  ] as const)
    names?.forEach((name, i) => {
      if (!isPointName(first, name)) check.fault(`"${name}" is not a point of ${first.id}.`, [...path, ...member, i]);
    });
  if (doc.rounds) check.nums({ within: doc.rounds.within }, view, [...path, 'rounds']);
  doc.stored.forEach((s, i) =>
    check.nums({ proposed: s.proposed, step: s.step, lower: s.lower, upper: s.upper }, view, [...path, 'stored', i]),
  );
  check.nums({ about: doc.about }, view, path);
  if (doc.policy?.kind === 'beyond') check.text(doc.policy.is, view, [...path, 'policy', 'is']);
  checkSteps(check, doc.steps ?? [], { series: null }, [...path, 'steps']);
  checkSteps(check, doc.afterSteps ?? [], { series: null }, [...path, 'afterSteps']);
  check.when(doc.when, { series: null }, [...path, 'when']);
}
