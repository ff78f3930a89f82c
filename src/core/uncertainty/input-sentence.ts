import { printedUnit } from '../quantity/unit';
import type { DistributionForm, QuantityDraft } from './budget-draft';

const readings = (text: string): string[] => text.split(/[\s;]+/).filter(Boolean);

/** What is known of an input, by the way it is stated; a number that is not typed yet is a gap. */
const known: Record<
  DistributionForm,
  (field: (key: string, hasUnit?: boolean) => string, raw: Record<string, string>) => string
> = {
  constant: (f) => `is ${f('value')}, exactly`,
  normal: (f) => `is ${f('mean')}, with a standard uncertainty of ${f('standardUncertainty')}`,
  'normal-expanded': (f) => `is ${f('mean')}, give or take ${f('expandedUncertainty')} (k = ${f('coverageFactor', false)})`,
  readings: (_f, raw) => {
    const n = readings(raw['values'] ?? '').length;
    return n === 0
      ? 'has been read … times'
      : n === 1
        ? `has been read once: ${raw['values']!.trim()}`
        : `has been read ${n} times, and is their mean`;
  },
  rectangular: (f) => `is ${f('mean')}, anywhere within ${f('halfWidth')} of it`,
  'rectangular-limits': (f) => `lies anywhere from ${f('lower')} to ${f('upper')}`,
  triangular: (f) => `is ${f('mean')}, within ${f('halfWidth')} and rather in the middle`,
  trapezoidal: (f) => `is ${f('mean')}, within ${f('halfWidth')} and alike about the middle`,
  'curvilinear-trapezoidal': (f) => `is ${f('mean')}, within ${f('halfWidth')}, itself known to ${f('halfWidthUncertainty')}`,
  arcsine: (f) => `swings by ${f('halfWidth')} about ${f('mean')}`,
  'student-t': (f) => `is ${f('mean')}, scattered by ${f('scale')} (${f('dof', false)} degrees of freedom)`,
  exponential: (f) => `is never below 0, on the average ${f('mean')}`,
  gamma: (f) => `is never below 0, of shape ${f('shape', false)} and scale ${f('scale')}`,
};

/**
 * An input as one sentence: what it is worth, how well that is known, and who says so.
 * @example inputSentence(budgetDraft(budget).quantities[0]) // 'x is 10.002 mm, with a standard uncertainty of 0.0003 mm.'
 */
export function inputSentence(q: QuantityDraft): string {
  const unit = printedUnit(q.unit);
  const field = (key: string, hasUnit = true) => {
    const text = (q.fields[key] ?? '').trim().replace('-', '−') || '…';
    return hasUnit && unit && text !== '…' ? `${text} ${unit}` : text;
  };
  const dof = (q.fields['dof'] ?? '').trim();
  const freedom = dof && q.form !== 'student-t' ? `, with ${dof} degrees of freedom` : '';
  const said = q.source.trim() ? ` — ${q.source.trim()}` : '';
  const name = q.name.trim() || q.symbol.trim() || 'An input';
  // A name such as "Block warmer than the gauge by" has its verb already.
  const is = known[q.form](field, q.fields);
  return `${name} ${/\b(by|of|at|to)$/.test(name) ? is.replace(/^is /, '') : is}${freedom}${said}.`;
}
