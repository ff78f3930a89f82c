import { expect, it } from 'vitest';
import { planDay } from './day';
import { byRule, drawWeek, faultsOf, valueInTime, type Rule } from './fixtures/draw-week';

const rules: Rule[] = ['first come', 'nearest due', 'least work'];

it('over fifty weeks: 1.8 times what comes of first come, 1.4 times the best of three rules, never less than 1.05 times that', () => {
  let [mine, first, best, least] = [0, 0, 0, Infinity];
  for (let seed = 1; seed <= 50; seed++) {
    const week = drawWeek(seed);
    const answer = planDay(week);
    expect(faultsOf(week, answer)).toEqual([]);
    const byThumb = rules.map((rule) => valueInTime(week, byRule(week, rule)));
    mine += valueInTime(week, answer);
    first += byThumb[0]!;
    best += Math.max(...byThumb);
    least = Math.min(least, valueInTime(week, answer) / Math.max(...byThumb));
  }
  expect(mine / first).toBeGreaterThan(1.8);
  expect(mine / best).toBeGreaterThan(1.4);
  expect(least).toBeGreaterThan(1.05);
}, 300_000);
