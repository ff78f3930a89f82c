import { describe, expect, it } from 'vitest';
import { documentOf, resultOf, run, row, resultsIn } from '../evaluate/fixtures/documents';
import { disciplineAnalyses, disciplineFunctions } from './registry';
import published from './published-values.json';

const value = (name: string, ...args: number[]) => disciplineFunctions.get(name)!.evaluate(args).value;

describe('functions against published values', () => {
  it.each(published.lines.map((l) => [l.function, l] as const))('%s', (_, { function: name, args, value: stated, within }) =>
    expect(Math.abs(value(name, ...args) - stated)).toBeLessThanOrEqual(within),
  );
  it('every function has its line', () =>
    expect([...disciplineFunctions.keys()].filter((name) => !published.lines.some((l) => l.function === name))).toEqual([]));
});

describe('exact derivatives', () => {
  const places: Record<string, number[][]> = {
    airDensity: [[20, 1013, 50]],
    waterDensity: [[12.5]],
    prtResistance: [
      [50, 100, 3.9083e-3, -5.775e-7, -4.183e-12],
      [-50, 100, 3.9083e-3, -5.775e-7, -4.183e-12],
    ],
    prtTemperature: [
      [120, 100, 3.9083e-3, -5.775e-7, -4.183e-12],
      [70, 100, 3.9083e-3, -5.775e-7, -4.183e-12],
    ],
    its90Temperature: [[40, 25, -1e-4, 2e-5]],
    dewPoint: [[20, 50]],
    lengthAt: [[100, 1.15e-5, 21]],
    levelSum: [[80, 75]],
    levelDifference: [[80, 75]],
    weightingA: [[500]],
    weightingC: [[63]],
    saturationPressure: [[30]],
  };
  const more = [...disciplineFunctions.values()]
    .filter((f) => !places[f.name])
    .map(
      (f) =>
        [
          f.name,
          [
            f.name.startsWith('temperature')
              ? value(f.name.replace('temperature', 'emf'), 350)
              : f.name.startsWith('emf')
                ? 350
                : 22,
          ],
        ] as const,
    );
  it.each([...Object.entries(places).flatMap(([name, list]) => list.map((args) => [name, args] as const)), ...more])(
    '%s at %j',
    (name, args) => {
      const { partials } = disciplineFunctions.get(name)!.evaluate(args);
      args.forEach((x, i) => {
        const h = 1e-5 * Math.abs(x);
        const at = (v: number) => value(name, ...args.map((a, k) => (k === i ? v : a)));
        const slope = (at(x + h) - at(x - h)) / (2 * h);
        expect(Math.abs(partials[i]! - slope)).toBeLessThanOrEqual(
          1e-5 * Math.max(1e-3, Math.abs(slope), Math.abs(partials[i]!)) + 1e-9,
        );
      });
    },
  );
});

describe('limits of validity', () => {
  it.each([
    ['airDensity', [50, 1013, 50]],
    ['waterDensity', [45]],
    ['prtResistance', [900, 100, 3.9e-3, 0, 0]],
    ['humidityK2CO3', [35]],
    ['emfK', [1400]],
    ['temperatureT', [30]],
    ['levelDifference', [70, 80]],
    ['dewPoint', [20, 120]],
    ['weightingA', [5]],
  ] as const)('%s%j is refused in words', (name, args) => expect(() => value(name, ...args)).toThrow(/holds for|has no value/));
  it('an inverse comes back', () => {
    for (const letter of 'BEJKNRST')
      for (const t of [300, 390]) expect(value(`temperature${letter}`, value(`emf${letter}`, t))).toBeCloseTo(t, 9);
  });
  it('pieces of a thermocouple meet where they join', () => {
    for (const [letter, at] of [
      ['B', 630.615],
      ['J', 760],
      ['K', 0],
      ['N', 0],
      ['R', 1064.18],
      ['R', 1664.5],
      ['S', 1064.18],
      ['S', 1664.5],
      ['T', 0],
      ['E', 0],
    ] as const)
      expect(Math.abs(value(`emf${letter}`, at - 1e-9) - value(`emf${letter}`, at + 1e-9))).toBeLessThan(1e-6);
  });
});

describe('analyses', () => {
  const analyse = (name: string, files: string[], given: Record<string, number> = {}) =>
    disciplineAnalyses.get(name)!.analyse(files, given);
  it('a circle and a sphere through points off the origin', () => {
    const circle = Array.from({ length: 12 }, (_, i) => `${1000 + 25 * Math.cos(i)} ${-400 + 25 * Math.sin(i)}`).join('\n');
    expect(analyse('dimensional/circle', [circle])).toEqual({
      diameter: expect.closeTo(50, 9),
      form: expect.closeTo(0, 9),
      minimumZone: expect.closeTo(0, 9),
    });
    const sphere = Array.from({ length: 25 }, (_, i) => {
      const r = 12.5 + (i === 7 ? 0.004 : 0);
      return [r * Math.cos(i) * Math.sin(i * 0.7), r * Math.sin(i) * Math.sin(i * 0.7), 300 + r * Math.cos(i * 0.7)].join('\t');
    });
    const found = analyse('dimensional/sphere', [sphere.slice(0, 10).join('\n'), sphere.slice(10).join('\n')]);
    expect(found['diameter']).toBeCloseTo(25, 2);
    expect(found['form']).toBeGreaterThan(0.003);
    expect(found['form']).toBeLessThan(0.0041);
    expect(() => analyse('dimensional/circle', ['1 2\n3 4'])).toThrow('at least 3');
    expect(() => analyse('dimensional/circle', ['1 2\nx y\n3 4'])).toThrow('Line 2');
  });
  it('a sine of 1 µm amplitude far below the cut-off has the parameters worked by hand', () => {
    const spacing = 0.0005;
    const z = Array.from({ length: 11_200 }, (_, i) => (Math.sin((2 * Math.PI * i * spacing) / 0.05) + i * 1e-4).toFixed(6)).join(
      '\n',
    );
    const p = analyse('roughness/parameters', [z], { cutOff: 0.8, spacing });
    expect(p['Ra']).toBeCloseTo(2 / Math.PI, 2);
    expect(p['Rq']).toBeCloseTo(Math.SQRT1_2, 2);
    expect(p['Rz']).toBeCloseTo(2, 2);
    expect(p['Rt']).toBeCloseTo(2, 2);
    expect(p['RSm']).toBeCloseTo(0.05, 4);
    expect(() => analyse('roughness/parameters', ['1\n2\n3'], { cutOff: 0.8, spacing })).toThrow('too short');
  });
  it('half of an amplitude passes at the cut-off', () => {
    const spacing = 0.001;
    const z = Array.from({ length: 9600 }, (_, i) => String(Math.sin((2 * Math.PI * i * spacing) / 0.8))).join('\n');
    expect(analyse('roughness/parameters', [z], { cutOff: 0.8, spacing })['Ra']).toBeCloseTo(1 / Math.PI, 2);
  });
  it('a spiral that turns inward is monotone; one that steps out is not', () => {
    const file = (m: number[]) => ['! open line', '# GHz S MA R 50', ...m.map((v, i) => `${i + 1} ${v} ${-30 * i}`)].join('\n');
    expect(analyse('rf/reflection-locus', [file([0.99, 0.98, 0.96])])).toEqual({ greatestOutwardStep: 0, monotone: 1 });
    expect(analyse('rf/reflection-locus', [file([0.99, 0.95, 0.97])])).toEqual({
      greatestOutwardStep: expect.closeTo(0.02, 12),
      monotone: 0,
    });
  });
  it('give their numbers to formulas of a procedure', () => {
    const doc = documentOf([
      {
        observe: [{ id: 'points', title: 'Points', of: 'instrument', type: 'file' }],
        analyses: [{ use: 'dimensional/circle', of: 'points', as: 'c' }],
        results: [resultOf('c.diameter - 50')],
      },
    ]);
    const text = Array.from({ length: 9 }, (_, i) => `${25.01 * Math.cos(i)} ${25.01 * Math.sin(i)}`).join('\n');
    expect(resultsIn(run(doc, { observations: [row('s1', [{ points: text }])] }))[0]!.estimate).toBeCloseTo(0.02, 9);
  });
});
