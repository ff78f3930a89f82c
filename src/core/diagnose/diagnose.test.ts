import { describe, expect, it } from 'vitest';
import { answerVerb } from '../door/verbs';
import { diagnoseErrors } from './diagnose';
import { diagnoseSchema } from './diagnose-schema';
import { drawCase } from './fixtures/draw';
import { overSizes } from './gaussian';
import { laidOut, priorsOf } from './patterns';

const point = (id: string, nominal: number, errors: number[], more: object = {}) => ({
  id,
  nominal,
  reference: nominal,
  limits: { lower: -4, upper: 4 },
  readings: errors.map((error) => ({ error })),
  ...more,
});
const ask = (points: object[], more: object = {}) => diagnoseErrors(diagnoseSchema.parse({ noise: 0.2, points, ...more }));
const named = (d: ReturnType<typeof ask>, cause: string) => d.causes.find((c) => c.cause === cause);

describe('what errors look like', () => {
  it('a sound instrument is sound, and the probabilities add to one', () => {
    const told = ask([point('a', 0, [0.1, -0.1]), point('b', 5, [0.2, 0]), point('c', 10, [-0.2, 0.1])]);
    expect(told.causes[0]).toMatchObject({ cause: 'none', sentence: 'Nothing but its usual scatter.' });
    expect(told.causes.reduce((sum, c) => sum + c.probability, 0)).toBeCloseTo(1, 12);
  });
  it('of one reading only what one can show: a slip rather than nothing', () => {
    const told = ask([point('a', 10, [-7.46], { reference: 8.2 })], { factors: [0.1] });
    expect(new Set(told.causes.map((c) => c.cause))).toEqual(new Set(['factor', 'none', 'nominal-for-certified', 'offset']));
    expect(told.causes[0]).toMatchObject({ cause: 'factor', size: { factor: 0.1 }, standardUncertainty: { factor: 0 } });
    expect(told.unexplained).toBeNull();
  });
  it('one reading in degrees Fahrenheit is told as the factor that it is, in degrees Celsius alone', () => {
    const fahrenheit = point('a', 100, [212 - 100]);
    expect(ask([fahrenheit], { unit: 'Cel' }).causes[0]).toMatchObject({ cause: 'factor', probability: expect.closeTo(1, 3) });
    expect(named(ask([fahrenheit], { unit: 'mm' }), 'factor')).toBeUndefined();
  });
  it('two causes, by hand: an offset against nothing, with one reading', () => {
    // e = 6 with T = 4: background 0.1 T and 0.05 T, noise 0.2; the offset is integrated by a plain sum over a fine grid.
    const variance = 0.4 ** 2 + 0.4 ** 2 + 0.2 ** 2 + 0.2 ** 2;
    const density = (x: number) => Math.exp((-x * x) / 2 / variance);
    let offset = 0;
    const steps = 200_000;
    for (let i = 0; i < steps; i++) offset += density(6 - 1.2 * 10 ** ((i + 0.5) / steps)) / steps / 2;
    const told = ask([point('a', 10, [6])]);
    const odds = named(told, 'offset')!.probability / named(told, 'none')!.probability;
    expect(odds).toBeCloseTo(offset / density(6), -Math.floor(Math.log10(offset / density(6))) + 6);
  });
  it('a coarse display is a twelfth of its step squared in the scatter of a reading', () => {
    const odds = (noise: number, resolution: number) => {
      const told = ask([point('a', 10, [3])], { noise, resolution });
      return named(told, 'offset')!.probability / named(told, 'none')!.probability;
    };
    expect(odds(0.2, 3)).toBeCloseTo(odds(Math.hypot(0.2, 3 / Math.sqrt(12)), 0), 6);
  });
  it('tells offset, span, an odd point and exchanged standards, with where and how much', () => {
    const line = (error: (x: number, i: number) => number, references?: number[]) =>
      ask(
        [2, 4, 6, 8, 10].map((x, i) =>
          point(`p${i + 1}`, x, [error(x, i), error(x, i) + 0.1], references ? { reference: references[i] } : {}),
        ),
      ).causes[0]!;
    expect(line(() => 3.2)).toMatchObject({ cause: 'offset' });
    expect(line(() => 3.2).size!['offset']).toBeCloseTo(3.2, 0);
    expect(line((x) => 0.6 * x)).toMatchObject({ cause: 'span' });
    expect(line((_, i) => (i === 2 ? -3 : 0))).toMatchObject({ cause: 'odd-point', at: ['p3'] });
    expect(line((_, i) => (i === 1 ? 3 : i === 3 ? -3 : 0), [2, 4, 6, 7, 10])).toMatchObject({
      cause: 'exchanged',
      at: ['p2', 'p4'],
    });
  });
  it('tells up from down, drift from hysteresis, and a first reading that lags', () => {
    const swept = (error: (t: number, isDown: boolean, k: number, minute: number) => number) => {
      const points = Array.from({ length: 5 }, (_, i) => ({ ...point(`p${i}`, i * 10, []), readings: [] as object[] }));
      let minute = 0;
      for (const isDown of [false, true])
        for (const i of isDown ? [4, 3, 2, 1, 0] : [0, 1, 2, 3, 4])
          for (let k = 0; k < 2; k++, minute++)
            points[i]!.readings.push({ error: error(i / 4, isDown, k, minute), direction: isDown ? 'down' : 'up', minute });
      return ask(points).causes[0]!;
    };
    expect(swept((t, isDown) => (isDown ? 1 : -1) * 6 * t * (1 - t))).toMatchObject({ cause: 'hysteresis' });
    expect(swept((_t, _d, _k, minute) => 0.2 * minute)).toMatchObject({ cause: 'drift' });
    const lag = swept((t, isDown, k) => (k > 0 || (isDown ? t === 1 : t === 0) ? 0 : isDown ? 2 : -2));
    expect(lag).toMatchObject({ cause: 'not-settled' });
    expect(lag.size!['displacement']).toBeCloseTo(2, 0);
  });
  it('without a noise it averages over what it may be, and leaves scatter out', () => {
    const told = ask([point('a', 0, [0.1, -0.1]), point('b', 10, [0.2, 0])], { noise: null });
    expect(named(told, 'scatter')).toBeUndefined();
    expect(told.noise).toBeGreaterThan(0.02);
    expect(told.noise).toBeLessThan(1);
    const wide = ask([point('a', 0, [3, -3, 2.5]), point('b', 10, [-3, 2.8, 0])]);
    expect(wide.causes[0]).toMatchObject({ cause: 'scatter' });
  });
  it('a size is integrated wherever its likelihood stands, at an end too', () => {
    for (const [linear, quadratic] of [
      [4000, 1000],
      [30, 0.5],
      [-200, 3],
      [1e6, 1e5],
      [0, 0],
    ] as const) {
      let [sum, first] = [0, 0];
      const steps = 400_000;
      const top = Math.max(
        linear * 0.3 - 0.5 * quadratic * 0.09,
        linear * 3 - 0.5 * quadratic * 9,
        quadratic ? Math.min(linear ** 2 / quadratic / 2, 1e9) : 0,
      );
      for (let i = 0; i < steps; i++) {
        const a = 0.3 * 10 ** ((i + 0.5) / steps);
        const p = Math.exp(linear * a - 0.5 * quadratic * a * a - top) / steps;
        sum += p;
        first += p * a;
      }
      const told = overSizes(linear, quadratic, 0.3, 3, 1);
      if (sum > 1e-12) {
        expect(told.log).toBeCloseTo(Math.log(sum) + top, 4);
        expect(told.mean).toBeCloseTo(first / sum, 5);
      }
    }
  });
  it('priors: what is named holds, the rest shares what is left in proportion; too much is refused', () => {
    const shown = ['none', 'offset', 'span'] as const;
    expect([...priorsOf(shown, {}).values()]).toEqual([0.5, 0.25, 0.25]);
    expect([...priorsOf(shown, { offset: 0.7 }).values()].map((p) => Number(p.toFixed(12)))).toEqual([0.2, 0.7, 0.1]);
    expect([...priorsOf(shown, { curvature: 0.9 }).values()]).toEqual([0.5, 0.25, 0.25]);
    expect(() => priorsOf(shown, { none: 0.8, span: 0.3 })).toThrow('more than 1');
    // Where all is named they are held to their sum; where nothing is left for any of them it is said.
    expect([...priorsOf(shown, { none: 0.2, offset: 0.1, span: 0.1 }).values()]).toEqual([0.5, 0.25, 0.25]);
    expect(() => priorsOf(shown, { none: 0, offset: 0, span: 0 })).toThrow('leave nothing');
    expect([...priorsOf(['none'], {}).values()]).toEqual([1]);
    // A share that adds to 1 but for rounding is no more than 1.
    expect([...priorsOf(shown, { none: 0.1 + 0.2, offset: 0.7 }).values()][2]).toBeCloseTo(0, 12);
  });
  it('points are told along the range from its least to its greatest, and from their zero as a share of the farthest', () => {
    const laid = laidOut(
      diagnoseSchema.parse({ zero: -10, points: [point('a', -10, [0]), point('b', 0, [0]), point('c', 30, [0])] }),
    );
    expect(laid.t).toEqual([0, 0.25, 1]);
    expect(laid.z).toEqual([0, 0.25, 1]);
    expect(laidOut(diagnoseSchema.parse({ zero: 10, points: [point('a', -10, [0]), point('c', 30, [0])] })).z).toEqual([-1, 1]);
    // One nominal alone has neither.
    const alone = laidOut(diagnoseSchema.parse({ zero: 5, points: [point('a', 5, [0, 0])] }));
    expect([alone.t, alone.z]).toEqual([[0], [0]]);
  });
  it('says what is missing: a limit, a reading; at the door too', async () => {
    expect(() => ask([point('a', 1, [1], { limits: { lower: 0 } })])).toThrow('No point has a limit');
    expect(() => ask([point('a', 1, [])])).toThrow('No point has a reading');
    const refused = await answerVerb('diagnose', JSON.stringify({ points: [point('a', 1, [])] }));
    expect(refused).toMatchObject({ ok: false, refusal: { error: { path: ['points'] } } });
    expect(await answerVerb('diagnose', JSON.stringify({ noise: 0.2, points: [point('a', 1, [0.1])] }))).toMatchObject({
      document: { causes: expect.arrayContaining([expect.objectContaining({ cause: 'none' })]) as unknown[] },
    });
  });
  it('is right as often as it says, and seldom accuses a sound one', { timeout: 120_000 }, () => {
    const bins = Array.from({ length: 5 }, () => ({ said: 0, right: 0, count: 0 }));
    let [accused, sound] = [0, 0];
    for (let seed = 1; seed <= 500; seed++) {
      const { question, truth } = drawCase(seed, true);
      const { causes } = diagnoseErrors(question);
      for (const c of causes) {
        const bin = bins[Math.min(4, Math.floor(5 * c.probability))]!;
        bin.count++;
        bin.said += c.probability;
        if (c.cause === truth) bin.right++;
      }
      if (truth === 'none') {
        sound++;
        if (causes[0]!.cause !== 'none') accused++;
      }
    }
    for (const { said, right, count } of bins) {
      // Within 3.5 standard deviations of a binomial with what was said.
      const mean = said / count;
      expect(Math.abs(right / count - mean)).toBeLessThan(3.5 * Math.sqrt((mean * (1 - mean)) / count) + 1e-3);
    }
    expect(accused / sound).toBeLessThan(0.03 + 3.5 * Math.sqrt((0.03 * 0.97) / sound));
  });
});
