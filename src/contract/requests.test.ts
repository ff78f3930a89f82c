import { describe, expect, it } from 'vitest';
import { appendRequestSchema, linesRequestSchema, moveRequestSchema, retirementSchema, startRequestSchema } from './requests';

const id = '00000000-0000-4000-8000-000000000001';
const act = { type: 'note-added', version: 2, text: 'The lamp was moved' };
const entry = { expectedSequence: 3, idempotencyKey: id, person: 'Al', act };

describe('what is asked at the bench', () => {
  it('is taken from anybody with a name, however short', () => {
    expect(appendRequestSchema.parse(entry)).toMatchObject({ person: 'Al' });
    expect(startRequestSchema.parse({ run: id, instrument: 'qm-1', procedure: 'balance', person: 'Z' }).person).toBe('Z');
    expect(appendRequestSchema.safeParse({ ...entry, person: ' ' }).error!.issues[0]!.message).toContain(
      'Say who is at the bench',
    );
    expect(appendRequestSchema.safeParse({ ...entry, person: 'x'.repeat(121) }).success).toBe(false);
  });
  it('follows an entry that there is', () => {
    for (const expectedSequence of [0, -1, 1.5])
      expect(appendRequestSchema.safeParse({ ...entry, expectedSequence }).success, String(expectedSequence)).toBe(false);
    expect(appendRequestSchema.parse({ ...entry, expectedSequence: 1 }).expectedSequence).toBe(1);
  });
  it('takes a clock that has lost its date, and none that is farther off', () => {
    const done = (ahead: number) => ({ ...entry, done: { at: '1970-01-01T00:00:05.000Z', ahead } });
    expect(appendRequestSchema.safeParse(done(-1_790_000_000)).success).toBe(true);
    expect(appendRequestSchema.safeParse(done(1e12)).success).toBe(false);
  });
  it('is a set-up of two at the least and twenty-four at the most', () => {
    const others = (n: number) => Array.from({ length: n }, (_, i) => ({ run: id, instrument: `qm-${i}` }));
    const start = (n: number) => ({
      run: id,
      instrument: 'qm-1',
      procedure: 'balance',
      person: 'Z',
      setUp: { id, with: others(n) },
    });
    expect([0, 1, 23, 24].map((n) => startRequestSchema.safeParse(start(n)).success)).toEqual([false, true, true, false]);
  });
});

describe('what is asked of the register', () => {
  it('moves no more than two hundred at once, with a reason of some words', () => {
    const move = (n: number, reason = 'With the others') => ({
      instruments: Array.from({ length: n }, (_, i) => `qm-${i}`),
      to: '2027-02-01',
      reason,
      person: 'Al',
    });
    expect([0, 1, 200, 201].map((n) => moveRequestSchema.safeParse(move(n)).success)).toEqual([false, true, true, false]);
    expect(moveRequestSchema.safeParse(move(1, ' a ')).success).toBe(false);
    expect(moveRequestSchema.safeParse({ ...move(1), to: '2027-02-30' }).success).toBe(false);
  });
  it('asks for lines from the first on, where nothing is said', () => {
    expect(linesRequestSchema.parse({})).toEqual({ after: 0 });
    expect(linesRequestSchema.parse({ after: '300', week: '2026-11-30' })).toEqual({ after: 300, week: '2026-11-30' });
    expect(linesRequestSchema.safeParse({ after: '1.5' }).success).toBe(false);
  });
  it('retires nothing without a reason', () => {
    expect(retirementSchema.safeParse({ person: 'Al', reason: 'no' }).success).toBe(false);
    expect(retirementSchema.parse({ person: 'Al', reason: 'old' })).toEqual({ person: 'Al', reason: 'old' });
  });
});
