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
    expect(() => lineWithBothUncertainties([1, 2].map((v) => ({ x: v, y: v, ux: 0, uy: 1 })))).toThrow(RangeError);
  });
});
