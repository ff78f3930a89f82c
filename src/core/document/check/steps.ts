import { eachColumns } from '../../evaluate/names/each';
import type { View } from '../../evaluate/names/head';
import { stepNamed } from '../../evaluate/names/step';
import type { ProcedureDocument } from '../../procedure/document-schema';

import type { DocumentCheck, Path } from './document-check';
import { checkWatched } from './series';

/** What changes the instrument stands before no reading as found, unless its owner does it before every use. */
export function checkUntouched(check: DocumentCheck, steps: ProcedureDocument['steps'], path: Path): void {
  steps.forEach((step, i) => {
    const isBefore = step.after === undefined && (step.sets ?? ['as-found']).includes('as-found');
    if (step.touches && isBefore && !step.asInUse)
      check.fault(
        `“${step.title}” touches the instrument before it is read as found. Put it into an adjustment or another set, or say with "asInUse" that its owner does it before every use.`,
        [...path, i, 'touches'],
      );
  });
}

export function checkSteps(check: DocumentCheck, steps: ProcedureDocument['steps'], view: View, path: Path): void {
  steps.forEach((step, i) => {
    const at = [...path, i];
    check.when(step.when, view, [...at, 'when']);
    for (const id of step.sweeps ?? [])
      if (!view.series?.sweeps?.some((w) => w.id === id))
        check.fault(`"${id}" is not a sweep of this series.`, [...at, 'sweeps']);
    const seeing = { ...view, readings: view.series !== null };
    switch (step.kind) {
      case 'measure':
        check.nums({ lower: step.lower, upper: step.upper }, seeing, at);
        if (step.near) check.text(step.near.is, seeing, [...at, 'near', 'is']);
        break;
      case 'check':
        check.text(step.is, seeing, [...at, 'is']);
        check.nums({ lower: step.lower, upper: step.upper }, seeing, at);
        break;
      case 'do':
        step.show?.forEach((s, k) => check.text(s.is, seeing, [...at, 'show', k, 'is']));
        break;
      case 'settings':
        check.unique(
          step.settings.map((s) => s.id),
          'setting',
          [...at, 'settings'],
          'id',
        );
        step.settings.forEach((s, k) => {
          const here = [...at, 'settings', k];
          check.when(s.when, view, [...here, 'when']);
          if (typeof s.want === 'object') check.text(s.want.is, seeing, [...here, 'want', 'is']);
          check.nums({ step: s.step }, seeing, here);
          if (typeof s.want === 'string' && s.options && !s.options.includes(s.want))
            check.fault(`"${s.want}" is not one of the options.`, [...here, 'want']);
        });
        if (step.restores !== undefined && stepNamed(check.doc, step.restores)?.kind !== 'settings')
          check.fault(`"${step.restores}" is not a step that looks at settings.`, [...at, 'restores']);
        break;
      case 'wait':
        if (step.since !== undefined && !stepNamed(check.doc, step.since))
          check.fault(`"${step.since}" is not a step.`, [...at, 'since']);
        check.nums({ minutes: step.minutes }, seeing, at);
        if (step.until && 'near' in step.until) {
          check.text(step.until.near, seeing, [...at, 'until', 'near']);
          if (step.until.of === undefined) checkWatched(check, view, [...at, 'until']);
        }
        break;
      case 'connect':
        check.role(step.from, [...at, 'from']);
        break;
      case 'choose':
        if (step.want !== undefined && !step.options.some((o) => o.id === step.want))
          check.fault(`"${step.want}" is not one of the options.`, [...at, 'want']);
        break;
      case 'identify': {
        const what = step.what;
        const known =
          what === 'instrument' ||
          check.doc.standards.some((r) => r.role === what) ||
          check.doc.instrument.parts.some((p) => p.id === what) ||
          (view.series !== null && what.startsWith('each.') && eachColumns(check.doc, view.series).has(what.slice(5))) ||
          (view.series !== null && Object.hasOwn(view.series.uses, what));
        if (!known)
          check.fault(`"${what}" is neither the instrument, a role, a part nor a column of what the series runs through.`, [
            ...at,
            'what',
          ]);
      }
    }
  });
}
