import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readDocument } from './read-document';
import {
  changedWords,
  distributionWords,
  formulaWords,
  hoursWords,
  pathWords,
  pointsWords,
  policyWords,
  toleranceWords,
} from './plan-words';

const shipped = (id: string) => readDocument(JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8')));

describe('a procedure in words', () => {
  it('says where and how often a series is read', () => {
    expect(pointsWords(shipped('outside-micrometer').series[0]!)).toBe(
      '10 % · 20.4 % · 30.8 % · 41.2 % · 51.6 % · 60 % · 70.4 % · 80.8 % · 91.2 % · 100 % of the range; 3 times each',
    );
    expect(pointsWords(shipped('pressure-transmitter').series[0]!)).toBe(
      '0 % · 25 % · 50 % · 75 % · 100 % of the range; up, down',
    );
    expect(pointsWords(shipped('thermometer-in-bath').series[0]!)).toMatch(/^\d+ % · \d+ % · \d+ % of the range; 5 times each$/);
    expect(pointsWords(shipped('balance').series[1]!)).toContain('front left');
    expect(pointsWords(shipped('balance').series[0]!)).toContain('6 + more as chosen times each');
    expect(formulaWords('0.1 * each.upper - instrument.resolution')).toBe('0.1 × its own upper − step of the display');
    expect(pointsWords(shipped('balance').series[1]!)).toContain('centre');
  });
  it('says how a quantity is known and what limits a result', () => {
    const result = shipped('outside-micrometer').series[0]!.results[0]!;
    expect(distributionWords(result.quantities[0]!.distribution)).toBe(
      'readings of R, scatter pooled over the set, u at least step of the display / sqrt(12)',
    );
    expect(distributionWords(result.quantities[8]!.distribution)).toBe(
      'rectangular: about 0, ± 0.00015 × (flatness + parallelism)',
    );
    expect(toleranceWords(result.tolerance!, 'mm')).toBe('± its limit mm');
    expect(toleranceWords({ upper: 5 }, '%')).toBe('at most 5 %');
    expect(toleranceWords({ lower: -1, upper: 1 }, 'K')).toBe('−1 to 1 K');
  });
  it('says by which policy', () => {
    expect(policyWords({ kind: 'beyond-share', share: 0.7 })).toBe('beyond 70 % of the tolerance');
    expect(policyWords()).toBe('never while inside its limits');
  });
  it.each([
    ['series.1.points.2.results.E.estimate', 'E of entry 3, estimate'],
    ['series.0.aggregates.0.value', 'Statistic 1 of series 1, value'],
    ['series.0.fits.line.coefficients.1', 'Fit line, coefficient 1'],
    ['adjustments.0.proposed.zero', 'Proposed zero'],
    ['adjustments.0.wanted', 'Adjustment 1 wanted'],
    ['verdict', 'verdict'],
  ])('%s is %s', (path, words) => expect(pathWords(path)).toBe(words));
  it('says times as people do', () =>
    expect([14.4, 89, 90, 135].map(hoursWords)).toEqual(['14 min', '89 min', '1 h 30 min', '2 h 15 min']));
});

describe('a change in words', () => {
  it.each([
    [{ before: 6, after: 10 }, '6 → 10'],
    [{ before: undefined, after: { title: 'Extra' } }, 'new: Extra'],
    [{ before: [1, 2], after: undefined }, 'left out: [1,2]'],
    [{ before: 'x'.repeat(300), after: '' }, `${'x'.repeat(160)}… → `],
  ])('%j', (change, words) => expect(changedWords(change)).toBe(words));
});
