import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitSchema } from './fit-schema';
import { lineWithBothUncertainties } from './line-both-axes';
import { enoughDegree, FitError, fitCurve, fitResult, inversePrediction } from './polynomial-fit';

const fit = (q: Record<string, unknown>) => fitResult(fitSchema.parse(q));

describe('polynomial fits', () => {
  it('recovers a polynomial, far from the origin and in any unit', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: 2, maxLength: 5 }),
        fc.constantFrom(1e-6, 1, 1e4),
        (c, unit) => {
          const x = Array.from({ length: 12 }, (_, i) => (100 + i) * unit);
          const y = x.map((v) => c.reduce((s, k, p) => s + k * (v / unit - 105) ** p, 0));
          const r = fit({ x, y, degree: c.length - 1, origin: 105 * unit, predict: [107.5 * unit] });
          expect(r.predictions[0]!.y).toBeCloseTo(
            c.reduce((s, k, p) => s + k * 2.5 ** p, 0),
            6,
          );
          c.forEach((k, p) => expect(r.coefficients[p]! * unit ** p).toBeCloseTo(k, 6));
        },
      ),
    ));
  it('knows the uncertainty of a fitted value far from zero: 10⁶ + 10 i at degree 2', () => {
    const y = [0.01, -0.008, 0.004, 0.006, -0.012, 0.003];
    const far = fitCurve(fitSchema.parse({ x: y.map((_, i) => 1e6 + 10 * i), y, degree: 2 }));
    const near = fitCurve(fitSchema.parse({ x: y.map((_, i) => i - 2.5), y, degree: 2 }));
    for (const t of [-2.5, -1, 0, 0.7, 2.5, 4])
      expect(far.predict(1e6 + 25 + 10 * t).standardUncertainty / near.predict(t).standardUncertainty).toBeCloseTo(1, 9);
    // (XᵀX)⁻¹ of six even points at their middle: 88.375/224 of the variance, worked by hand.
    expect(far.predict(1e6 + 25).standardUncertainty / far.residualStandardDeviation!).toBeCloseTo(Math.sqrt(88.375 / 224), 9);
    expect(far.standardUncertainties.every((u) => Number.isFinite(u) && u > 0)).toBe(true);
  });
  it('fits a cubic to 10⁶ … 10⁶ + 5', () => {
    const x = [0, 1, 2, 3, 4, 5].map((i) => 1e6 + i);
    const y = [0, 1, 8, 27, 64, 125];
    const r = fitCurve(fitSchema.parse({ x, y, degree: 3, origin: 1e6 }));
    expect(r.predict(1e6 + 2.5).y).toBeCloseTo(15.625, 9);
    expect(r.coefficients[3]).toBeCloseTo(1, 9);
    expect(r.slope(1e6 + 2)).toBeCloseTo(12, 8);
  });
  it('weights by 1/u² and then takes its uncertainty from u', () => {
    const r = fit({ x: [0, 0, 0], y: [1, 2, 6], u: [1, 1, 2], degree: 0 });
    expect(r.coefficients[0]).toBeCloseTo((1 + 2 + 6 / 4) / 2.25, 12);
    expect(r.standardUncertainties[0]).toBeCloseTo(1 / Math.sqrt(2.25), 12);
  });
  it('passes through zero when told to', () => {
    const r = fit({ x: [1, 2, 3], y: [2.1, 3.9, 6], degree: 1, throughZero: true });
    expect(r.coefficients).toHaveLength(1);
    expect(r.coefficients[0]).toBeCloseTo((2.1 + 7.8 + 18) / 14, 12);
    expect(r.dof).toBe(2);
  });
  it('a perfect fit keeps the correlation of its geometry', () => {
    const r = fit({ x: [0, 1, 2], y: [1, 3, 5] });
    expect(r.residualStandardDeviation).toBeCloseTo(0, 12);
    expect(r.correlation[0]![1]).toBeCloseTo(-3 / Math.sqrt(15), 10);
  });
  it('covers the true line about as often as it claims', () => {
    let inside = 0;
    for (let run = 0; run < 400; run++) {
      const noise = (i: number) => Math.sin(run * 12.9898 + i * 78.233) * 43758.5453;
      const y = Array.from({ length: 30 }, (_, i) => 2 + 0.5 * i + (noise(i) - Math.floor(noise(i)) - 0.5));
      const { slope } = { slope: fit({ x: y.map((_, i) => i), y }) };
      if (Math.abs(slope.coefficients[1]! - 0.5) < 2 * slope.standardUncertainties[1]!) inside++;
    }
    expect(inside / 400).toBeGreaterThan(0.91);
    expect(inside / 400).toBeLessThan(0.99);
  });
  it('says when the x do not fix the curve', () =>
    expect(() => fit({ x: [1, 1, 1, 2], y: [1, 2, 3, 4], degree: 2 })).toThrow(FitError));
  it.each([
    [{ x: [1, 2], y: [1] }, 'y'],
    [{ x: [1, 2], y: [1, 2] }, 'x'],
    [{ x: [1, 2, 3], y: [1, 2, 3], u: [1, 1] }, 'u'],
    [{ x: [1, 2, 3], y: [1, 2, 3], u: [1, 0, 1] }, 'u'],
    [{ x: [], y: [] }, 'x'],
    [{ x: [1, 2, 3], y: [1, 2, 3], degree: 1.5 }, 'degree'],
  ])('refuses %j at %s', (q, at) => expect(fitSchema.safeParse(q).error?.issues.map((i) => i.path[0])).toContain(at));
});

describe('from reading to value', () => {
  const curve = fitCurve(fitSchema.parse({ x: [0, 10, 20, 30], y: [0.1, 10.3, 20.2, 30.4] }));
  it('goes back along the curve', () => {
    const y = curve.predict(17).y;
    const back = inversePrediction(curve, y, 0.05, { from: 0, to: 30 });
    expect(back.x).toBeCloseTo(17, 10);
    expect(back.standardUncertainty).toBeCloseTo(Math.hypot(curve.predict(17).standardUncertainty, 0.05) / curve.slope(17), 10);
  });
  it('says when the curve does not get there', () =>
    expect(() => inversePrediction(curve, 500, 0, { from: 0, to: 30 })).toThrow(FitError));
  it('says where a parabola reaches the reading twice, and takes the one inside the range where there is one', () => {
    const x = [-2, -1, 0, 1, 2];
    const parabola = fitCurve(fitSchema.parse({ x, y: x.map((v) => v * v), degree: 2 }));
    expect(() => inversePrediction(parabola, 1.5, 0.1, { from: -2, to: 2 })).toThrow(/2 places \(-1\.22474, 1\.22474\)/);
    expect(inversePrediction(parabola, 1.5, 0.1, { from: 0, to: 2 }).x).toBeCloseTo(Math.sqrt(1.5), 10);
    expect(() => inversePrediction(parabola, -1, 0.1, { from: -2, to: 2 })).toThrow('does not reach');
    expect(() => inversePrediction(parabola, 0, 0.1, { from: -2, to: 2 })).toThrow('flat where');
  });
  it('has nothing to say from a flat curve', () => {
    const flat = fitCurve(fitSchema.parse({ x: [0, 1, 2, 3], y: [5, 5, 5, 5], degree: 1 }));
    expect(() => inversePrediction(flat, 5, 0.1, { from: 0, to: 3 })).toThrow('flat');
  });
  it('finds the least degree that is good enough at an independent point', () => {
    const x = [0, 1, 2, 3, 4, 5, 6];
    const { tried, enough } = enoughDegree(
      { x, y: x.map((v) => 1 + v + 0.2 * v * v) },
      { x: 3.5, y: 1 + 3.5 + 0.2 * 12.25 },
      0.01,
    );
    expect(enough).toBe(2);
    expect(Math.abs(tried[1]!.checkError)).toBeGreaterThan(0.1);
  });
});

describe('a line with uncertainty in both axes', () => {
  it('agrees with the published line through the data of Pearson with the weights of York', () => {
    const x = [0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4];
    const y = [5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5];
    const wx = [1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1];
    const wy = [1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500];
    const line = lineWithBothUncertainties(
      x.map((v, i) => ({ x: v, y: y[i]!, ux: 1 / Math.sqrt(wx[i]!), uy: 1 / Math.sqrt(wy[i]!) })),
    );
    expect(line.slope).toBeCloseTo(-0.480533, 6);
    expect(line.intercept).toBeCloseTo(5.47991, 5);
    expect(line.slopeUncertainty).toBeCloseTo(0.057985, 5);
    expect(line.interceptUncertainty).toBeCloseTo(0.294971, 4);
  });
  it('refuses what fixes no line', () => {
    expect(() => lineWithBothUncertainties([{ x: 1, y: 1, ux: 1, uy: 1 }])).toThrow(RangeError);
    expect(() => lineWithBothUncertainties([1, 2].map((v) => ({ x: v, y: v, ux: 0, uy: 0 })))).toThrow(RangeError);
    expect(() => lineWithBothUncertainties([1, 2, 3].map((v) => ({ x: v, y: 7, ux: 1, uy: 0 })))).toThrow('equal and exact');
    const upright = [
      [-0.1, 0],
      [0.1, 0],
      [0, 5],
      [0, -5],
    ].map(([x, y]) => ({ x: x!, y: y!, ux: 1, uy: 1 }));
    expect(() => lineWithBothUncertainties(upright)).toThrow('exchange the axes');
  });
  it('with exact x it is weighted least squares, with exact y the regression of x on y', () => {
    const data = [
      [0, 1.1, 0.1],
      [1, 2.9, 0.2],
      [2, 5.2, 0.1],
      [3, 6.9, 0.3],
    ] as const;
    const exactX = lineWithBothUncertainties(data.map(([x, y, u]) => ({ x, y, ux: 0, uy: u })));
    const least = fit({ x: data.map((d) => d[0]), y: data.map((d) => d[1]), u: data.map((d) => d[2]) });
    expect(exactX.slope).toBeCloseTo(least.coefficients[1]!, 12);
    expect(exactX.intercept).toBeCloseTo(least.coefficients[0]!, 12);
    expect(exactX.slopeUncertainty).toBeCloseTo(least.standardUncertainties[1]!, 12);
    expect(exactX.interceptUncertainty).toBeCloseTo(least.standardUncertainties[0]!, 12);
    const exactY = lineWithBothUncertainties(data.map(([x, y, u]) => ({ x: y, y: x, ux: u, uy: 0 })));
    expect(1 / exactY.slope).toBeCloseTo(least.coefficients[1]!, 10);
  });
  it('a level line stays level, two points give the line through them', () => {
    expect(lineWithBothUncertainties([1, 2, 3].map((x) => ({ x, y: 4, ux: 0.1, uy: 0.1 }))).slope).toBe(0);
    const two = lineWithBothUncertainties([1, 3].map((x) => ({ x, y: 10 * x, ux: 0.1, uy: 0.5 })));
    expect(two.slope).toBeCloseTo(10, 12);
    expect(two.chiSquared).toBeCloseTo(0, 12);
  });
});
