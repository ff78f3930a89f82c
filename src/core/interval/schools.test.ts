import { describe, expect, it } from 'vitest';
import { familyOf } from './family';
import { fixedMonths, fixedProposal } from './fixed';
import { plainPolicy, policyFor, policySchema, kinOf, kinAddress, type Policy, type SetPolicy } from './policy';
import { proposeNext, type KnownOfInstrument } from './propose';
import { checkChart } from './quick-checks';
import { reactProposal, staircase } from './react';
import { countOn, hoursBetween, monthlyUse, proposalByUse } from './use';
import { dayAfter, monthsBetween, type Measured, type Pair, type Visit } from './visit';

const policy = (more: Partial<Policy> = {}): Policy => ({ ...plainPolicy, ...more });

export const measured = (value: number, u = 0.05, limit = 1): Measured => ({
  value,
  standardUncertainty: u,
  expandedUncertainty: 2 * u,
  sharedUncertainty: 0,
  lower: -limit,
  upper: limit,
  acceptLower: -limit + 2 * u,
  acceptUpper: limit - 2 * u,
});
const pair = (found: number, left: number | null = null, more: Partial<Pair> = {}): Pair => ({
  key: 'error||1||E',
  what: 'Error',
  point: '1 mm',
  unit: 'mm',
  shownIn: 'um',
  found: measured(found),
  left: left === null ? null : measured(left),
  ...more,
});
const visit = (day: string, found: number, more: Partial<Visit> = {}): Visit => ({
  run: day,
  day,
  isInside: Math.abs(found) <= 1,
  share: Math.abs(found),
  isRenewed: false,
  certificates: ['B 1'],
  pairs: [pair(found)],
  ...more,
});
const years = (...found: number[]): Visit[] => found.map((f, i) => visit(`${2018 + i}-03-01`, f));

const known = (visits: readonly Visit[], more: Partial<KnownOfInstrument> = {}): KnownOfInstrument => ({
  visits,
  ownMonths: null,
  procedure: { months: 12, monthsAfterFail: 6 },
  policy: { policy: plainPolicy, scope: 'none' },
  family: familyOf([{ id: 'a', visits }], 0.95),
  counts: [],
  chart: checkChart([]),
  ...more,
});
const withSchool = (school: Policy['school'], more: Partial<Policy> = {}) => ({
  policy: { policy: policy({ school, ...more }), scope: 'family' as const },
});

describe('months and days', () => {
  it('go there and back', () => {
    expect(monthsBetween('2026-01-01', '2027-01-01')).toBe(12);
    expect(monthsBetween('2026-01-31', '2026-02-28')).toBe(1);
    expect(monthsBetween('2026-04-01', '2026-04-16')).toBeCloseTo(0.5, 12);
    expect(dayAfter('2026-11-30', 3)).toBe('2027-02-28');
    expect(dayAfter('2026-11-30', 12)).toBe('2027-11-30');
    expect(dayAfter('2026-04-01', 1.5)).toBe('2026-05-17');
    expect(dayAfter('2026-03-31', -1)).toBe('2026-02-28');
    expect(dayAfter('2026-01-31', monthsBetween('2026-01-31', '2028-02-29'))).toBe('2028-02-29');
    expect(monthsBetween('2027-01-01', '2026-01-01')).toBeLessThan(0);
  });
  it('refuse a number that is none', () => expect(() => dayAfter('2026-01-01', NaN)).toThrow(RangeError));
});

describe('fixed months', () => {
  it.each([
    [18, null, 18, "this instrument's record"],
    [null, 9, 9, "the laboratory's policy"],
    [null, null, 12, "the procedure's policy"],
  ])('take the record (%s) before the policy (%s) before the procedure', (own, ofPolicy, months, origin) =>
    expect(fixedMonths(own, policy({ months: ofPolicy }), { months: 12 })).toMatchObject({ months, origin }),
  );
  it('fall back on common practice', () => expect(fixedMonths(null, plainPolicy, undefined).months).toBe(12));
  it('go by the calendar, and are shorter after a fail', () => {
    const months = fixedMonths(null, plainPolicy, { months: 12, monthsAfterFail: 6 });
    expect(fixedProposal('2026-01-31', months, true).date).toBe('2027-01-31');
    expect(fixedProposal('2026-08-31', months, false)).toMatchObject({
      date: '2027-02-28',
      reason: expect.stringContaining('6 months in place of 12'),
    });
  });
  it('are never longer after a fail than before', () =>
    expect(fixedMonths(6, policy({ monthsAfterFail: 24 }), undefined).afterFail).toBe(6));
});

describe('the staircase', () => {
  const steps = (...found: number[]) => staircase(years(...found), 12, policy({ ceiling: 24, floor: 3 })).map((s) => s.what);
  it('climbs where it is inside, goes down where it is outside, holds near the limit', () =>
    expect(steps(0.1, 0.2, 0.9, 1.3, 0.1)).toEqual(['held-unknown', 'longer', 'held-near', 'shorter', 'longer']));
  it('holds at a visit that nobody could judge', () => {
    const visits = years(0.1, 0.2, 0.2, 0.2).map((v, i) => (i === 2 ? { ...v, isInside: null, share: null } : v));
    const taken = staircase(visits, 12, policy({ ceiling: 48, floor: 3 }));
    expect(taken.map((s) => s.what)).toEqual(['held-unknown', 'longer', 'held-unknown', 'longer']);
    expect(taken[2]!.months).toBe(taken[1]!.months);
  });
  it('stays within floor and ceiling', () => {
    const low = staircase(years(...Array.from({ length: 9 }, () => 2)), 12, policy({ floor: 3 }));
    expect(low.at(-1)!.months).toBe(3);
    const apart = Array.from({ length: 9 }, (_, i) => visit(`${2000 + 3 * i}-03-01`, 0.1));
    expect(staircase(apart, 12, policy({ ceiling: 24 })).at(-1)!.months).toBe(24);
  });
  it('learns nothing from an interval that was cut short', () => {
    const early = [visit('2026-01-01', 0.1), visit('2026-03-01', 0.1)];
    expect(staircase(early, 12, plainPolicy).at(-1)).toMatchObject({ what: 'held-early', months: 12 });
  });
  it('puts visits in order of their days first', () => {
    const [a, b, c] = years(0.1, 0.2, 1.4) as [Visit, Visit, Visit];
    expect(staircase([c, a, b], 12, plainPolicy)).toEqual(staircase([a, b, c], 12, plainPolicy));
  });
  it('says what it did', () => {
    expect(reactProposal(years(0.1, 1.4), 12, plainPolicy, '2026-01-01').reason).toBe(
      'Outside as found, so 12 months × 0.6 becomes 7.2 months.',
    );
    expect(reactProposal([], 12, plainPolicy, '2026-01-01').date).toBeNull();
  });
});

describe('use', () => {
  const counts = [
    { day: '2026-01-01', count: 1000 },
    { day: '2026-07-01', count: 7000 },
  ];
  const byUse = policy({ use: { unit: 'cycles', most: 9000 } });
  it('is told from what counters showed', () => {
    expect(monthlyUse(counts)).toBeCloseTo(6000 / monthsBetween('2026-01-01', '2026-07-01'), 9);
    // Set back, it counts from there.
    const setBack = [...counts, { day: '2026-08-01', count: 0 }, { day: '2026-10-01', count: 1500 }];
    expect(monthlyUse(setBack)).toBeCloseTo(750, 9);
    expect(countOn(setBack, '2026-09-01')).toBeGreaterThan(700);
    expect(countOn(counts, '2026-04-01')).toBeCloseTo(4000, -2);
    expect(monthlyUse(counts.slice(1))).toBeNull();
  });
  it.each([
    ['2026-05-04T08:00:00Z', '2026-05-04T14:10:00Z', 6.2],
    ['2026-05-04T23:30:00Z', '2026-05-05T00:30:00Z', 1],
    ['2026-05-04T08:00:00Z', '2026-05-04T07:00:00Z', 0],
  ])('offers the hours from %s to %s', (from, to, hours) => expect(hoursBetween(from, to)).toBe(hours));
  it('proposes when as much has been used as is allowed', () => {
    const p = proposalByUse(counts, byUse, '2026-01-01', '2026-01-01', '2026-07-01');
    expect(monthsBetween('2026-07-01', p.date!)).toBeCloseTo(3000 / monthlyUse(counts)!, 1);
  });
  it('says that it is due where more has been used', () =>
    expect(
      proposalByUse(counts, policy({ use: { unit: 'h', most: 500 } }), '2026-01-01', '2026-01-01', '2026-07-01'),
    ).toMatchObject({
      date: '2026-07-01',
      reason: expect.stringContaining('it is due now'),
    }));
  it('holds an instrument that lies idle to the longest interval', () => {
    const idle = counts.map((c) => ({ ...c, count: 5 }));
    expect(proposalByUse(idle, byUse, '2026-01-01', '2026-01-01', '2026-07-01').months).toBe(36);
  });
  it('says where a counter went backwards, and stays silent without two counts or an amount', () => {
    const back = [...counts, { day: '2026-06-01', count: 9000 }];
    expect(proposalByUse(back, byUse, '2026-01-01', '2026-01-01', '2026-07-01').reason).toContain('look at the counter');
    expect(proposalByUse([], byUse, '2026-01-01', '2026-01-01', '2026-07-01').date).toBeNull();
    expect(proposalByUse(counts, plainPolicy, '2026-01-01', '2026-01-01', '2026-07-01').date).toBeNull();
  });
});

describe('policies', () => {
  const set = (scope: SetPolicy['scope'], subject: string, school: Policy['school']): SetPolicy => ({
    scope,
    subject,
    policy: policy({ school }),
  });
  const all = [
    set('laboratory', '', 'fixed'),
    set('family', 'balance', 'react'),
    set('owner', 'Fenwater', 'drift'),
    set('instrument', 'b1', 'use'),
  ];
  it.each([
    ['b1', 'Fenwater', 'balance', 'use', 'instrument'],
    ['b2', 'Fenwater', 'balance', 'drift', 'owner'],
    ['b2', 'Tarn', 'balance', 'react', 'family'],
    ['b2', 'Tarn', 'clamp', 'fixed', 'laboratory'],
  ])('of %s of %s, a %s, say %s', (id, owner, kind, school, scope) =>
    expect(policyFor({ id, owner, kind, intervalMonths: null }, all)).toMatchObject({ scope, policy: { school } }),
  );
  it('where nothing is set the procedure rules', () =>
    expect(policyFor({ id: 'x', owner: 'y', kind: 'z', intervalMonths: null }, [])).toEqual({
      policy: plainPolicy,
      scope: 'none',
    }));
  it('leave the months of a record fixed, but for a policy of the instrument itself', () => {
    const own = { id: 'b2', owner: 'Tarn', kind: 'balance', intervalMonths: 6 };
    expect(policyFor(own, all)).toMatchObject({ scope: 'instrument', policy: { school: 'fixed' } });
    expect(policyFor({ ...own, id: 'b1' }, all)).toMatchObject({ scope: 'instrument', policy: { school: 'use' } });
  });
  it('refuse bounds that are crossed, and targets that are none', () => {
    expect(policySchema.safeParse({ school: 'fixed', floor: 12, ceiling: 6 }).error?.issues[0]?.path).toEqual(['floor']);
    expect(policySchema.safeParse({ school: 'fixed', target: 1 }).success).toBe(false);
    expect(policySchema.safeParse({ school: 'horoscope' }).success).toBe(false);
  });
  it('tell kin apart by what they name', () => {
    const i = { kind: 'balance', designation: 'Beam 200', owner: 'A/B & C', use: '' };
    expect(kinOf(i, [])).toBe(kinOf({ ...i, designation: 'other' }, []));
    expect(kinOf(i, ['designation'])).not.toBe(kinOf({ ...i, designation: 'other' }, ['designation']));
    expect(kinOf(i, ['owner', 'designation'])).toBe(kinOf(i, ['designation', 'owner']));
    expect(kinAddress(kinOf(i, ['owner']))).toBe('/families/balance?with=A%2FB%20%26%20C');
  });
});

describe('what is proposed', () => {
  const today = '2026-03-01';
  it('is the school of the policy where that says something', () =>
    expect(proposeNext(known(years(0.1, 0.12, 0.14, 0.16), withSchool('drift')), '2021-03-01', '2021-03-01').chosen.school).toBe(
      'drift',
    ));
  it('falls back with a word where it does not', () => {
    const { chosen } = proposeNext(known(years(0.1), withSchool('drift')), today, today);
    expect(chosen.school).toBe('react');
    expect(chosen.reason).toContain('Drift of this instrument, which the policy names, says nothing yet');
  });
  it('gives every school once, each with its assumption', () => {
    const { all } = proposeNext(known(years(0.1, 0.2, 0.3)), '2020-03-01', '2020-03-01');
    expect(all.map((p) => p.school).sort()).toEqual(['drift', 'fixed', 'quick', 'react', 'reliability', 'use']);
    for (const p of all) expect(p.assumes.length, p.school).toBeGreaterThan(20);
  });
  const odd: [string, Visit[]][] = [
    ['never calibrated', []],
    ['calibrated once', years(0.2)],
    ['always inside', years(0.1, 0.1, 0.1, 0.1, 0.1)],
    ['always outside', years(1.5, 1.6, 1.7, 1.8)],
    ['adjusted at every visit', years(0.6, 0.7, 0.65).map((v) => ({ ...v, isRenewed: true, pairs: [pair(v.share!, 0.01)] }))],
    ['visits on one day', [visit('2026-01-01', 0.1), visit('2026-01-01', 0.2), visit('2026-01-01', 0.3)]],
    ['entered out of order', years(0.1, 0.2, 0.3).reverse()],
    ['nothing judged', years(0.1, 0.2).map((v) => ({ ...v, isInside: null, share: null, pairs: [] }))],
    ['no uncertainty', years(0.1, 0.2, 0.3).map((v) => ({ ...v, pairs: [pair(0, null, { found: measured(v.share!, 0) })] }))],
    [
      'no limits',
      years(0.1, 0.2, 0.3).map((v) => ({
        ...v,
        pairs: [pair(0, null, { found: { ...measured(0.1), lower: null, upper: null, acceptLower: null, acceptUpper: null } })],
      })),
    ],
    [
      'a limit of one side',
      years(0.1, 0.2, 0.3).map((v) => ({
        ...v,
        pairs: [pair(0, null, { found: { ...measured(v.share!), lower: null, acceptLower: null } })],
      })),
    ],
    ['another unit', years(0.1, 0.2, 0.3).map((v, i) => ({ ...v, pairs: [pair(v.share!, null, { unit: i ? 'mm' : 'in' })] }))],
    [
      'limits that were changed',
      years(0.1, 0.2, 0.3, 0.35).map((v, i) => ({
        ...v,
        pairs: [pair(0, null, { found: measured(v.share!, 0.05, i < 2 ? 1 : 2) })],
      })),
    ],
  ];
  for (const school of ['fixed', 'react', 'drift', 'reliability', 'use', 'quick'] as const)
    it.each(odd)(`by ${school} is sensible for an instrument %s`, (_name, visits) => {
      const from = visits.length
        ? [...visits]
            .map((v) => v.day)
            .sort()
            .at(-1)!
        : today;
      for (const day of [from, '2027-06-01']) {
        const { all, chosen } = proposeNext(known(visits, withSchool(school)), from, day);
        expect(chosen.date).toMatch(/^\d{4}-\d\d-\d\d$/);
        for (const p of all) {
          expect(`${p.reason} ${p.sure} ${String(p.months)}`).not.toMatch(/NaN|Infinity|undefined/);
          // A day that is past is said to be.
          if (p.date !== null && p.date < day) expect(p.reason).toContain('That day is past');
          if (p.months !== null) expect(p.months).toBeGreaterThanOrEqual(0);
        }
      }
    });
  it('says when limits have changed, or another unit was read', () => {
    const changed = odd.at(-1)![1];
    expect(proposeNext(known(changed, withSchool('drift')), '2021-03-01', '2021-03-01').chosen.reason).toContain(
      'Its limits have changed',
    );
  });
});
