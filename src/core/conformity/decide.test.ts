import { describe, expect, it } from 'vitest';
import { conformitySchema, type DecisionRule } from './conformity-schema';
import { decideConformity, errorOfIndication, probabilityOfConformity, toleranceUsed, worstVerdict } from './decide';

const ask = (indicated: number, rule: DecisionRule, more: Record<string, unknown> = {}) =>
  decideConformity(
    conformitySchema.parse({
      reference: 10,
      indicated,
      expandedUncertainty: 0.004,
      coverageFactor: 2,
      tolerance: { lower: -0.02, upper: 0.02 },
      rule,
      ...more,
    }),
  );
const guard: DecisionRule = { kind: 'guard-band', factor: 1 };

describe('decisions of conformity', () => {
  it('reports error, limits, share and ratio', () => {
    const r = ask(10.012, { kind: 'simple' });
    expect(r).toMatchObject({ error: 0.012, verdict: 'pass', limits: { lower: -0.02, upper: 0.02 }, testUncertaintyRatio: 5 });
    expect(r.toleranceUsed).toBeCloseTo(0.6, 12);
    expect(r.probabilityOfConformity).toBeCloseTo(0.99996833, 7);
  });
  it('a limit met exactly is met, whatever binary subtraction says', () => {
    expect(2.523 - 2.503).not.toBe(0.02);
    expect(errorOfIndication(2.523, 2.503)).toBe(0.02);
    expect(
      decideConformity({
        reference: 2.503,
        indicated: 2.523,
        expandedUncertainty: 0,
        coverageFactor: 2,
        tolerance: { lower: -0.02, upper: 0.02 },
        rule: { kind: 'simple' },
      }).verdict,
    ).toBe('pass');
  });
  it('gives no verdict below the minimum ratio', () => {
    expect(ask(10.001, { kind: 'simple', minimumRatio: 4 }).verdict).toBe('pass');
    expect(ask(10.001, { kind: 'simple', minimumRatio: 6 }).verdict).toBe('not-determined');
  });
  it.each([
    [10.016, 'pass'],
    [10.0161, 'conditional-pass'],
    [10.02, 'conditional-pass'],
    [10.0201, 'conditional-fail'],
    [10.0239, 'conditional-fail'],
    [10.024, 'fail'],
    [9.984, 'pass'],
    [9.98, 'conditional-pass'],
    [9.977, 'conditional-fail'],
    [9.97, 'fail'],
  ])('guard band: %d is %s', (indicated, verdict) => expect(ask(indicated, guard).verdict).toBe(verdict));
  it('a binary guard band knows only pass and fail', () => {
    expect(ask(10.016, { ...guard, binary: true }).verdict).toBe('pass');
    expect(ask(10.018, { ...guard, binary: true })).toMatchObject({
      verdict: 'fail',
      acceptance: { lower: -0.016, upper: 0.016 },
    });
  });
  it('a guard band wider than the tolerance passes nothing', () => {
    expect(ask(10, guard, { expandedUncertainty: 0.03 }).verdict).toBe('conditional-pass');
    expect(ask(10, { ...guard, binary: true }, { expandedUncertainty: 0.03 }).verdict).toBe('fail');
  });
  it('limits the specific risk, and its acceptance limit is where the risk is met', () => {
    const rule: DecisionRule = { kind: 'maximum-false-accept', probability: 0.02 };
    const { acceptance } = ask(10, rule);
    expect(acceptance.upper).toBeCloseTo(0.02 - 2.053749 * 0.002, 8);
    expect(ask(10 + acceptance.upper! - 1e-6, rule).verdict).toBe('pass');
    expect(ask(10 + acceptance.upper! + 1e-6, rule).verdict).toBe('fail');
    expect(ask(10, rule, { expandedUncertainty: 0.1 })).toMatchObject({
      verdict: 'fail',
      acceptance: { lower: null, upper: null },
    });
    expect(ask(10.021, { ...rule, probability: 0.9 }).verdict).toBe('pass');
    const wide = ask(10, rule, { tolerance: { lower: -10, upper: 10 }, expandedUncertainty: 2 });
    expect(wide.acceptance.upper).toBeCloseTo(10 - 2.053749, 6);
  });
  it('judges one-sided limits, without a share where there is no limit', () => {
    const tolerance = { upper: 0.02 };
    expect(ask(9, { kind: 'simple' }, { tolerance })).toMatchObject({
      verdict: 'pass',
      toleranceUsed: null,
      limits: { lower: null, upper: 0.02 },
      testUncertaintyRatio: 5,
    });
    expect(ask(10.03, guard, { tolerance }).verdict).toBe('fail');
    expect(ask(10.01, { kind: 'maximum-false-accept', probability: 0.02 }, { tolerance }).acceptance).toMatchObject({
      lower: null,
    });
  });
  it('reads accuracy statements', () => {
    const terms = [
      { absolute: 0.001 },
      { ofReading: 0.0005 },
      { ofRange: 0.0002, range: 100 },
      { counts: 2, resolution: 0.001 },
      { perLength: 0.000004, length: 300 },
    ];
    expect(ask(-10, { kind: 'simple' }, { tolerance: { terms, combine: 'sum' } }).limits.upper).toBeCloseTo(
      0.001 + 0.005 + 0.02 + 0.002 + 0.0012,
      12,
    );
    expect(ask(10, { kind: 'simple' }, { tolerance: { terms, combine: 'greatest' } }).limits).toEqual({
      lower: -0.02,
      upper: 0.02,
    });
  });
  it('a certain result is inside or not', () => {
    expect(ask(10.02, guard, { expandedUncertainty: 0 })).toMatchObject({
      verdict: 'pass',
      testUncertaintyRatio: null,
      probabilityOfConformity: 1,
    });
    expect(ask(10.03, guard, { expandedUncertainty: 0 })).toMatchObject({ verdict: 'fail', probabilityOfConformity: 0 });
  });
  it.each([
    [{ tolerance: {} }, 'tolerance'],
    [{ tolerance: { lower: 1, upper: -1 } }, 'tolerance'],
    [{ expandedUncertainty: -1 }, 'expandedUncertainty'],
    [{ rule: { kind: 'coin' } }, 'rule'],
    [{ rule: { kind: 'maximum-false-accept', probability: 1 } }, 'rule'],
  ])('refuses %j', (more, at) => {
    const parsed = conformitySchema.safeParse({
      reference: 10,
      indicated: 10,
      expandedUncertainty: 0.1,
      tolerance: { upper: 1 },
      rule: { kind: 'simple' },
      ...more,
    });
    expect(parsed.error?.issues[0]?.path[0]).toBe(at);
  });
  it('the verdict of a set is its worst', () => {
    expect(worstVerdict(['pass', 'conditional-fail', 'conditional-pass'])).toBe('conditional-fail');
    expect(worstVerdict([])).toBeNull();
    // From best to worst: what is not determined is worse than any pass, and better than any fail.
    const order = ['pass', 'conditional-pass', 'not-determined', 'conditional-fail', 'fail'] as const;
    for (const [i, a] of order.entries())
      for (const b of order.slice(i)) expect([worstVerdict([a, b]), worstVerdict([b, a])]).toEqual([b, b]);
  });
});

describe('decimal numbers at a limit', () => {
  /** Whole thousandths, as a person would reckon them. */
  const thousandths = (n: number) => n / 1000;
  it('are judged as a person reckons them, at every exact limit of a guard band and of the tolerance', () => {
    let asked = 0;
    for (const reference of [0, 2500, 10250, 99999])
      for (let limit = 6; limit <= 40; limit += 3)
        for (const U of [1, 2, 3])
          for (const side of [1, -1])
            for (const off of [-1, 0, 1]) {
              const decide = (error: number) =>
                decideConformity({
                  reference: thousandths(reference),
                  indicated: thousandths(reference + error),
                  expandedUncertainty: thousandths(U),
                  coverageFactor: 2,
                  tolerance: { lower: -thousandths(limit), upper: thousandths(limit) },
                  rule: guard,
                });
              const inner = decide(side * (limit - U + off));
              expect(inner.verdict).toBe(off <= 0 ? 'pass' : 'conditional-pass');
              expect(inner.acceptance).toEqual({ lower: -thousandths(limit - U), upper: thousandths(limit - U) });
              expect(decide(side * (limit + U + off)).verdict).toBe(
                off >= 0 ? 'fail' : U === 1 ? 'conditional-pass' : 'conditional-fail',
              );
              expect(decide(side * limit).verdict).toBe('conditional-pass');
              asked += 3;
            }
    expect(asked).toBeGreaterThan(2500);
  });
  it('a ratio of three is three', () => {
    expect(
      ask(10, { kind: 'simple', minimumRatio: 3 }, { tolerance: { lower: -0.3, upper: 0.3 }, expandedUncertainty: 0.1 }),
    ).toMatchObject({
      verdict: 'pass',
      testUncertaintyRatio: 3,
    });
    for (let n = 1; n < 400; n++)
      expect(
        ask(10, { kind: 'simple' }, { tolerance: { upper: (4 * n) / 1000 }, expandedUncertainty: n / 1000 }).testUncertaintyRatio,
      ).toBe(4);
  });
  it('the sum of an accuracy statement is a decimal number too', () =>
    expect(ask(10, { kind: 'simple' }, { tolerance: { terms: [{ absolute: 0.1 }, { absolute: 0.2 }] } }).limits).toEqual({
      lower: -0.3,
      upper: 0.3,
    }));
  it('every rule can ask for a ratio', () => {
    const tight = { tolerance: { lower: -0.02, upper: 0.02 }, expandedUncertainty: 0.01 };
    for (const rule of [
      { kind: 'guard-band', factor: 1, minimumRatio: 3 },
      { kind: 'maximum-false-accept', probability: 0.02, minimumRatio: 3 },
    ] as const)
      expect(ask(10, rule, tight).verdict).toBe('not-determined');
  });
});

describe('how much of a tolerance is used', () => {
  it.each([
    [6, { lower: 4, upper: 8 }, 0],
    [7, { lower: 4, upper: 8 }, 0.5],
    [-7, { lower: -8, upper: -4 }, 0.5],
    [9, { lower: 4, upper: 8 }, 1.5],
    [2, { lower: 0, upper: 5 }, 0.4],
    [-2, { lower: 0, upper: 5 }, null],
    [2, { lower: -5, upper: null }, null],
    [-2, { lower: -5, upper: null }, 0.4],
    [3, { lower: 5, upper: null }, null],
  ])('%d in %j', (value, limits, used) => expect(toleranceUsed(value, limits)).toBe(used));
  it('reads an accuracy statement of the reference', () =>
    expect(
      decideConformity({
        reference: -200,
        indicated: -198,
        expandedUncertainty: 0.1,
        coverageFactor: 2,
        tolerance: { terms: [{ ofReference: 0.01 }], combine: 'sum' },
        rule: { kind: 'simple' },
      }),
    ).toMatchObject({ limits: { lower: -2, upper: 2 }, verdict: 'pass' }));
});

describe('few degrees of freedom', () => {
  it('make a risk that the normal distribution hides', () => {
    const more = { expandedUncertainty: 0.02, coverageFactor: 2 };
    const normal = ask(10.01, { kind: 'maximum-false-accept', probability: 0.2 }, more);
    const few = ask(10.01, { kind: 'maximum-false-accept', probability: 0.2 }, { ...more, effectiveDof: 2 });
    expect(normal.probabilityOfConformity).toBeCloseTo(0.84, 3);
    // t at 2: P(|t| …) from its closed form ½ + t / (2√(2 + t²)).
    const cdf = (t: number) => 0.5 + t / (2 * Math.sqrt(2 + t * t));
    expect(few.probabilityOfConformity).toBeCloseTo(cdf(1) - cdf(-3), 9);
    expect(normal.verdict).toBe('pass');
    expect(few.verdict).toBe('fail');
    expect(few.acceptance.upper!).toBeLessThan(normal.acceptance.upper!);
  });
  it('beyond a million are as good as infinitely many', () =>
    expect(probabilityOfConformity(0.9, { lower: -1, upper: 1 }, 0.1, 1e9)).toBe(
      probabilityOfConformity(0.9, { lower: -1, upper: 1 }, 0.1),
    ));
});
