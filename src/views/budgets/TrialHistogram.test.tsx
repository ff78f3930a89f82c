import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import type { MontecarloResult } from '../../core/montecarlo/montecarlo';
import type { BudgetResult } from '../../core/uncertainty/propagate';
import { criterionWords, TrialHistogram } from './TrialHistogram';

describe('the trials of Monte Carlo', () => {
  const result = {
    trials: 1000,
    estimate: 10,
    standardUncertainty: 0.5,
    interval: { low: 9, high: 11 },
    histogram: { edges: [-500, 8, 9, 10, 11, 12], counts: [3, 100, 400, 397, 100] },
  } as unknown as MontecarloResult;
  const first = { estimate: 10, expandedUncertainty: 1 } as BudgetResult;
  const html = renderToStaticMarkup(<TrialHistogram result={result} first={first} unit="mm" />);
  it('stand on scales of value and share, in their unit; far tails are told, not drawn', () => {
    expect(html).toContain('Distribution of 1000 trials in 4 classes; Monte Carlo interval 9 to 11 mm');
    expect(html).toContain('3 of 1000 trials lie further out');
    for (const tick of ['>8<', '>10<', '>12<', '>mm<', '>20 %<', '>40 %<']) expect(html).toContain(tick);
    const [, tallest] = [...html.matchAll(/<rect[^>]*height="([\d.]+)"/g)].map((m) => Number(m[1]));
    const heights = [...html.matchAll(/<rect[^>]*height="([\d.]+)"/g)].map((m) => Number(m[1]));
    expect(tallest).toBe(Math.max(...heights));
    expect(heights[0]! / tallest!).toBeCloseTo(0.25, 6);
  });
  it('say by what the first-order interval is called good enough', () =>
    expect(
      criterionWords({ digits: 2, tolerance: 0.005, lowDifference: 0.0012, highDifference: 0.0031, validated: true }, 'mm'),
    ).toBe(
      'The ends of the two intervals lie 0.0012 and 0.0031 mm apart; good enough is at most 0.005 mm, half a step of digit 2 of u (JCGM 101, 8.1).',
    ));
});
