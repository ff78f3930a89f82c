import { describe, expect, it } from 'vitest';
import { answerVerb } from '../door/verbs';
import { answerInterval } from './answer-interval';
import { intervalSchema } from './interval-schema';
import { schools } from './proposal';

const found = (value: number, more: object = {}) => ({
  value,
  standardUncertainty: 0.0003,
  expandedUncertainty: 0.0006,
  sharedUncertainty: 0.0001,
  lower: -0.004,
  upper: 0.004,
  acceptLower: -0.0034,
  acceptUpper: 0.0034,
  ...more,
});
const visit = (day: string, value: number, more: object = {}) => ({
  day,
  isInside: Math.abs(value) <= 0.004,
  isRenewed: false,
  pairs: [{ key: 'E@10', unit: 'mm', found: found(value), left: null }],
  certificates: ['C 1'],
  ...more,
});
const question = (more: object = {}) =>
  intervalSchema.parse({
    today: '2026-05-04',
    from: '2026-05-04',
    instrument: { months: null },
    procedure: { months: 12, monthsAfterFail: 6 },
    policy: { school: 'fixed' },
    ...more,
  });
const by = (answer: ReturnType<typeof answerInterval>, school: string) => answer.all.find((p) => p.school === school)!;

describe('when to come back, asked from outside', () => {
  it('of a new instrument only the months of its procedure say something; every method answers', () => {
    const answer = answerInterval(question());
    expect(answer.all.map((p) => p.school).sort()).toEqual([...schools].sort());
    expect(answer.chosen).toMatchObject({ school: 'fixed', date: '2027-05-04', months: 12 });
    expect(answer.all.filter((p) => p.date !== null).map((p) => p.school)).toEqual(['fixed']);
  });
  it('a visit is told by the pair that used most of its tolerance', () => {
    const pairs = [0.0002, 0.0038].map((value, i) => ({ key: `E@${i}`, unit: 'mm', found: found(value), left: null }));
    const three = (more: object) => ['2024-05-02', '2025-05-02', '2026-05-04'].map((day) => visit(day, 0, more));
    const react = (more: object) =>
      by(answerInterval(question({ policy: { school: 'react' }, visits: three(more) })), 'react').date;
    expect(react({ pairs })).toBe(react({ pairs, share: 0.95 }));
    expect(react({ pairs })).not.toBe(react({ pairs, share: 0.05 }));
  });
  it('after a fail the shorter months hold; months of its own record go before the procedure', () => {
    expect(by(answerInterval(question({ visits: [visit('2026-05-04', 0.005)] })), 'fixed').date).toBe('2026-11-04');
    expect(by(answerInterval(question({ instrument: { months: 24 } })), 'fixed').date).toBe('2028-05-04');
  });
  it('steps take the share of the tolerance from the pairs where it is not told', () => {
    const visits = [visit('2025-05-04', 0.0001), visit('2026-05-04', 0.0002)];
    const policy = { school: 'react', longer: 1.5, holdAbove: 0.8 };
    expect(by(answerInterval(question({ visits, policy })), 'react').months).toBeCloseTo(18, 0);
    const used = [visit('2025-05-04', 0.0001), visit('2026-05-04', 0.0036)];
    expect(by(answerInterval(question({ visits: used, policy })), 'react').months).toBeCloseTo(12, 0);
  });
  it('a steady drift towards a limit is told, whatever order the visits are given in', () => {
    const years = [2020, 2021, 2022, 2023, 2024, 2025, 2026];
    const visits = years.map((y, i) => visit(`${y}-05-04`, -0.003 + 0.0009 * i));
    const straight = answerInterval(question({ visits, policy: { school: 'drift' } }));
    const mixed = answerInterval(question({ visits: [...visits].reverse(), policy: { school: 'drift' } }));
    expect(straight.chosen.school).toBe('drift');
    expect(straight.chosen.date! < '2028-05-04').toBe(true);
    expect(mixed.chosen).toEqual(straight.chosen);
  });
  it('kin tell the reliability: those that fail early bring it nearer', () => {
    const kin = (outside: number) =>
      Array.from({ length: 40 }, (_, i) => [visit('2024-05-04', 0.001), visit('2025-05-04', i < outside ? 0.006 : 0.001)]);
    const months = (outside: number) =>
      by(answerInterval(question({ kin: kin(outside), policy: { school: 'reliability' } })), 'reliability').months!;
    expect(months(10)).toBeLessThan(months(2));
  });
  it('a quick check outside goes before the policy', () => {
    const checks = Array.from({ length: 12 }, (_, i) => ({
      day: `2026-04-${String(i + 1).padStart(2, '0')}`,
      value: i === 11 ? 0.9 : 0.01 * (i % 3),
      lower: -0.5,
      upper: 0.5,
    }));
    const answer = answerInterval(question({ checks, from: '2026-03-01' }));
    expect(answer).toMatchObject({ isAlarm: true, chosen: { school: 'quick', date: '2026-05-04' } });
  });
  it('at the door; a day that is none and a share above one of a target are refused', async () => {
    const ask = (more: object) =>
      answerVerb(
        'interval',
        JSON.stringify({ today: '2026-05-04', from: '2026-05-04', policy: { school: 'fixed', months: 6 }, ...more }),
      );
    expect(await ask({})).toMatchObject({ document: { chosen: { date: '2026-11-04' } } });
    expect(await ask({ from: '2026-02-30' })).toMatchObject({ refusal: { error: { path: ['from'] } } });
    expect(await ask({ policy: { school: 'fixed', target: 2 } })).toMatchObject({
      refusal: { error: { path: ['policy', 'target'] } },
    });
  });
});
