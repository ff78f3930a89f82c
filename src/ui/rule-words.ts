import type { DecisionRule } from '../core/conformity/conformity-schema';
import { plainDecimal } from '../core/quantity/rounding';

/** The rule of decision in words. */
export function ruleWords(rule: DecisionRule | undefined): string {
  if (!rule || rule.kind === 'simple')
    return `Simple acceptance${rule?.minimumRatio ? `, ratio at least ${rule.minimumRatio}` : ''}.`;
  const ratio = rule.minimumRatio ? ` No verdict below a ratio of ${rule.minimumRatio}.` : '';
  if (rule.kind === 'guard-band')
    return `Limits drawn in by ${rule.factor === 1 ? 'U' : `${rule.factor} U`}${rule.binary ? '; pass or fail' : '; conditional between'}.${ratio}`;
  return `Accepted while the risk of this result is at most ${plainDecimal(rule.probability * 100)} %.${ratio}`;
}
