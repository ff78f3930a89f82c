import { describe, expect, it } from 'vitest';
import { answerVerb } from '../door/verbs';
import { judged } from './fixtures/judged';
import { settle } from './settle';
import { settleSchema } from './settle-schema';

const ask = (samples: [number, number][], more: object = {}) =>
  settle(settleSchema.parse({ unit: 'Cel', samples, tolerance: 0.02, ...more }));

/** A lag towards an end, read to 0.001, one sample every five seconds. */
const lag = (from: number, end: number, tau: number, count: number): [number, number][] =>
  Array.from({ length: count }, (_, i) => [5 * i, Math.round(1000 * (end + (from - end) * Math.exp((-5 * i) / tau))) / 1000]);

describe('settling', () => {
  it('tells where a lag goes before it is there, and is settled when the rest is smaller than the tolerance', () => {
    const samples = lag(21.3, 50, 60, 120);
    const answer = ask(samples);
    // 28.7 e^(−t/60) is 0.02 at 436 s.
    expect(answer.settledAt).toBeGreaterThanOrEqual(436);
    expect(answer.settledAt).toBeLessThan(520);
    expect(answer.value).toBeCloseTo(50, 2);
    expect(answer.sentence).toContain('Settled: it goes to 50.0');
    const early = ask(samples.slice(0, 30));
    expect(early.settledAt).toBeNull();
    expect(early.now.toGo).toBeCloseTo(28.7 * Math.exp(-145 / 60), 1);
    expect(early.now.timeConstant).toBeCloseTo(60, -0.5);
    expect(early.now.secondsLeft).toBeCloseTo(436 - 145, -1.5);
    expect(early.sentence).toMatch(/^Still moving: about 5 minutes, with 2\.5\d+ °C to go\.$/);
  });
  it('does not take back what it said, and says the same where the samples end there', () => {
    const samples = lag(0, 1, 25, 100);
    const whole = ask(samples);
    const cut = ask(samples.filter(([t]) => t <= whole.settledAt!));
    expect([cut.settledAt, cut.value]).toEqual([whole.settledAt, whole.value]);
    expect(ask([...samples, [1000, 5]]).settledAt).toBe(whole.settledAt);
  });
  it('calls a ramp what it is, however level its mean looks', () => {
    const ramp = Array.from({ length: 120 }, (_, i): [number, number] => [i, 0.001 * i]);
    const answer = ask(ramp);
    expect(answer).toMatchObject({ settledAt: null, now: { timeConstant: null, secondsLeft: null } });
    expect(answer.sentence).toContain('does not settle');
  });
  it('what stands from the first sample on is settled soon', () => {
    const still = Array.from({ length: 100 }, (_, i): [number, number] => [i, 20 + (i % 3) * 0.001]);
    expect(ask(still).settledAt).toBeLessThanOrEqual(70);
  });
  it('three samples say nothing, and say so', () => {
    expect(ask(lag(0, 1, 25, 3)).sentence).toContain('Too few');
  });
  it('follows samples that are not evenly spaced', () => {
    const uneven = lag(10, 20, 40, 120).filter((_, i) => i % 3 !== 1);
    const answer = ask(uneven);
    expect(answer.value).toBeCloseTo(20, 2);
    expect(answer.settledAt).toBeGreaterThanOrEqual(40 * Math.log(10 / 0.02));
  });
  it('at the door, with its defaults; a sample out of order is named', async () => {
    const answer = await answerVerb('settle', JSON.stringify({ samples: lag(0, 1, 25, 80), tolerance: 0.02 }));
    expect(answer).toMatchObject({ ok: true, document: { settledAt: expect.any(Number) as number } });
    const refused = await answerVerb(
      'settle',
      JSON.stringify({
        samples: [
          [0, 1],
          [0, 2],
        ],
        tolerance: 0.02,
      }),
    );
    expect(refused).toMatchObject({ ok: false, refusal: { error: { path: ['samples', 1, 0] } } });
  });
});

describe('over signals whose end is known', () => {
  const kinds = ['lag', 'two-lags', 'swing', 'stiction'] as const;
  // Of each kind a few; the long tests ask about 64, and about hundreds.
  it('is seldom wrong, seldom late, and seldom fooled by a drift', () => {
    let [wrong, all] = [0, 0];
    const late: number[] = [];
    for (const kind of kinds)
      for (let seed = 1001; seed <= 1004; seed++) {
        const { end, ideal, settledAt, value } = judged(kind, seed, false);
        all++;
        late.push(settledAt === null ? 9 : settledAt / Math.max(ideal!, 20));
        if (settledAt !== null && (settledAt < ideal! || Math.abs(value - end!) > 1)) wrong++;
      }
    // Five in a hundred are allowed; of 16 with that rate more than two come about once in twenty.
    expect(all).toBe(16);
    expect(wrong).toBeLessThanOrEqual(2);
    expect(late.sort((a, b) => a - b)[late.length >> 1]).toBeLessThan(1.5);
    const fooled = (['drift', 'ramp'] as const).map(
      (kind) => Array.from({ length: 6 }, (_, i) => judged(kind, 1001 + i, true).settledAt !== null).filter(Boolean).length,
    );
    expect(Math.max(...fooled)).toBeLessThanOrEqual(1);
  });
});
