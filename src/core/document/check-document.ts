import type { ProcedureDocument } from '../procedure/document-schema';

import { DocumentCheck } from './check/document-check';
import { checkUntouched, checkSteps } from './check/steps';
import { checkSeries } from './check/series';
import { checkAdjustment } from './check/adjustments';

/** @throws DocumentError with path and place of the first fault */
export function checkDocument(doc: ProcedureDocument): void {
  const check = new DocumentCheck(doc);
  check.unique(
    doc.series.map((s) => s.id),
    'series',
    ['series'],
    'id',
  );
  check.unique(
    doc.standards.map((r) => r.role),
    'role',
    ['standards'],
    'role',
  );
  check.unique(
    doc.choices.map((c) => c.id),
    'choice',
    ['choices'],
    'id',
  );
  check.unique(
    doc.tables.map((t) => t.id),
    'table',
    ['tables'],
    'id',
  );
  doc.choices.forEach((c, i) => {
    if (c.default !== undefined && !c.options.some((o) => o.id === c.default))
      check.fault(`"${c.default}" is not one of the options.`, ['choices', i, 'default']);
    check.when(c.when, { series: null }, ['choices', i, 'when']);
    c.options.forEach((o, k) => check.nums(o, { series: null }, ['choices', i, 'options', k]));
  });
  doc.tables.forEach((t, i) => {
    const width = (t.columns?.length ?? 1) + 1;
    t.rows.forEach((row, r) => {
      if (row.length !== width)
        check.fault(`This row has ${row.length} numbers; the table has ${width}.`, ['tables', i, 'rows', r]);
    });
    const named = t.column;
    if (typeof named === 'object' && !doc.choices.some((c) => c.id === named.choice))
      check.fault(`"${named.choice}" is not a choice.`, ['tables', i, 'column', 'choice']);
  });
  doc.standards.forEach((r, i) => check.when(r.when, { series: null }, ['standards', i, 'when']));
  checkSteps(check, doc.steps, { series: null }, ['steps']);
  checkUntouched(check, doc.steps, ['steps']);
  doc.conditions.forEach((c, i) => {
    const path = ['conditions', i];
    check.when(c.when, { series: null }, [...path, 'when']);
    check.nums({ lower: c.lower, upper: c.upper }, { series: null }, path);
    if (c.near) check.text(c.near.is, { series: null }, [...path, 'near', 'is']);
  });
  doc.series.forEach((s, i) => checkSeries(check, s, ['series', i]));
  doc.adjustments.forEach((a, i) => checkAdjustment(check, a, ['adjustments', i]));
  doc.ruleOut.forEach((r, i) => {
    check.when(r.when, { series: null }, ['ruleOut', i, 'when']);
    checkSteps(check, r.steps ?? [], { series: null }, ['ruleOut', i, 'steps']);
  });
}
