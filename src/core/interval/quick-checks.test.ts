import { describe, expect, it } from 'vitest';
import { plainPolicy } from './policy';
import type { Proposal } from './proposal';
import { checkChart, checkStanding, leastForLimits, quickProposal, type QuickCheck } from './quick-checks';
import { codeIn } from '../register/label-code';

const day = (i: number) => new Date(Date.UTC(2026, 0, 1 + i, 8)).toISOString();
const check = (value: number, i: number): QuickCheck => ({
  run: `q${i}`,
  at: day(i),
  day: day(i).slice(0, 10),
  value,
  lower: -1,
  upper: 1,
});
const wobble = [0.1, -0.1, 0.05, -0.08, 0.12, -0.03, 0.02, -0.06, 0.09, -0.11, 0.04, -0.02];
const quiet = (n: number) => Array.from({ length: n }, (_, i) => check(wobble[i % wobble.length]!, i));
const base: Proposal = { school: 'fixed', date: '2027-01-01', months: 12, reason: 'a year', assumes: '', sure: '' };

describe('the chart of quick checks', () => {
  it('learns its limits from its first checks, and holds later ones against them', () => {
    const chart = checkChart([...quiet(20), check(0.9, 20)]);
    expect(chart.origin).toBe('history');
    expect(chart.limits).toEqual(checkChart(quiet(20)).limits);
    expect(chart.alarms).toEqual([{ index: 20, rules: ['beyond-3-sigma'] }]);
  });
  it('has none before there are enough, but the tolerance from the first', () => {
    expect(checkChart(quiet(leastForLimits - 1)).limits).toBeNull();
    expect(checkStanding(checkChart([check(1.2, 0)]))).toMatchObject({
      state: 'alarm',
      words: 'outside its tolerance',
      lastGood: null,
    });
    expect(checkStanding(checkChart(quiet(3))).state).toBe('learning');
  });
  it('takes stated limits before its own, and none of checks that never move', () => {
    expect(checkChart(quiet(20), { centre: 0, sigma: 1 }).origin).toBe('stated');
    expect(checkChart(Array.from({ length: 12 }, (_, i) => check(0.2, i))).limits).toBeNull();
  });
  it('says how it stands: nothing, quiet, or since when all is in doubt', () => {
    expect(checkStanding(checkChart([]))).toEqual({ state: 'none' });
    expect(checkStanding(checkChart(quiet(12)))).toEqual({ state: 'quiet' });
    const alarm = checkStanding(checkChart([...quiet(12), check(0.9, 12), check(0.95, 13)]));
    expect(alarm).toMatchObject({ state: 'alarm', lastGood: { at: day(11), day: '2026-01-12' } });
    // A good one afterwards is quiet again.
    expect(checkStanding(checkChart([...quiet(12), check(0.9, 12), check(0, 13)])).state).toBe('quiet');
  });
});

describe('what quick checks make of a date', () => {
  const propose = (checks: QuickCheck[], today = '2026-02-10') =>
    quickProposal(checkChart(checks), base, plainPolicy, '2026-01-01', today);
  it('is now where one gives an alarm', () =>
    expect(propose([...quiet(20), check(0.9, 20)])).toMatchObject({
      date: '2026-02-10',
      reason: expect.stringContaining('in doubt'),
    }));
  it('is later by half where many are quiet', () => {
    // Two a week over two months tell more than as many in one.
    const p = propose(
      quiet(30).map((c, i) => ({ ...c, at: day(2 * i), day: day(2 * i).slice(0, 10) })),
      '2026-03-05',
    );
    expect(p.months).toBe(18);
    expect(p.reason).toContain('30 quick checks are quiet');
    expect(propose(quiet(30)).months!).toBeLessThan(18);
  });
  it('is no later than the policy allows, nor than what so short a time can tell', () => {
    const still = checkChart(quiet(30).map((c) => ({ ...c, value: c.value / 20 })));
    expect(quickProposal(still, { ...base, months: 30 }, plainPolicy, '2026-01-01', '2026-02-10').months).toBe(36);
    // A month of checks foretells two years, not three.
    expect(quickProposal(checkChart(quiet(30)), { ...base, months: 30 }, plainPolicy, '2026-01-01', '2026-02-10').months).toBe(
      30,
    );
  });
  it('stays where there are few, or the last was long ago', () => {
    expect(propose(quiet(5)).months).toBe(12);
    expect(propose(quiet(30), '2026-06-01').months).toBe(12);
  });
  it('is earlier where they move towards a limit', () => {
    const moving = Array.from({ length: 30 }, (_, i) => check(0.3 + 0.006 * i + 0.4 * wobble[i % 12]!, 3 * i));
    const chart = checkChart(moving, { centre: 0.4, sigma: 0.05 });
    const p = quickProposal(chart, base, plainPolicy, '2026-01-01', '2026-04-01');
    expect(p.months!).toBeLessThan(12);
    expect(p.months!).toBeGreaterThanOrEqual(plainPolicy.floor);
  });
  it('is silent without any since the calibration', () => {
    expect(propose([]).date).toBeNull();
    expect(quickProposal(checkChart(quiet(20)), base, plainPolicy, '2026-03-01', '2026-03-01').date).toBeNull();
  });
});

describe('what stands on a label', () => {
  it.each([
    ['QM-0118', 'QM-0118'],
    ['  QM-0118 ', 'QM-0118'],
    ['http://127.0.0.1:4321/quick?code=QM-0118', 'QM-0118'],
    ['https://lab.example/quick?a=1&code=A%2FB%201#x', 'A/B 1'],
    ['https://lab.example/quick?code=%E0%A4%A', 'https://lab.example/quick?code=%E0%A4%A'],
    ['javascript:alert(1)?code=x', 'javascript:alert(1)?code=x'],
  ])('%s is %s', (text, code) => expect(codeIn(text)).toBe(code));
});
