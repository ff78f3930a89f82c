import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDocument } from '../document/read-document';
import { evaluate } from './evaluate';
import { DocumentError } from '../faults';
import {
  documentOf,
  given,
  observed,
  pointsIn,
  resultOf,
  resultsIn,
  row,
  run,
  standard,
  undeterminedIn,
} from './fixtures/documents';
import { inDocumentUnit, ownForm, ownUnitOf, stepInOwn } from './own-unit';

type Members = Record<string, unknown>;
const psi = { unit: '[psi]', lower: 0, upper: 150, usedLower: 0, usedUpper: 150, resolution: 0.1 };
const pressure = (series: Members, more: Members = {}) =>
  documentOf([{ observe: [observed('R', { unit: 'kPa' })], results: [resultOf('R', { unit: 'kPa' })], ...series }], {
    instrument: { kinds: ['invented'], unit: 'kPa' },
    ...more,
  });
const nominals = (points: Members, instrument: Members = psi): number[] =>
  pointsIn(
    run(pressure({ observe: [], results: [resultOf('1', { unit: 'kPa' })], points: { unit: 'kPa', ...points } }), { instrument }),
  ).map((p) => p.nominal!);

const kPaOfPsi = 6.894757293168361;

describe('an instrument told in another unit', () => {
  it('is seen in the document’s: range and span converted, the resolution as a difference', () => {
    const seen = inDocumentUnit(
      given({ instrument: { ...psi, unit: '[degF]', lower: 32, usedLower: 32, upper: 212 } }).instrument,
      {
        document: 'Cel',
        own: '[degF]',
      },
    );
    expect([seen.lower, seen.upper, seen.resolution]).toEqual([0, 100, expect.closeTo(0.1 / 1.8, 12)]);
  });
  it('readings of the instrument are in its own unit only where their unit is exactly the document’s', () => {
    const read = (unit: string) =>
      resultsIn(
        run(pressure({ observe: [observed('R', { unit })], points: undefined }), {
          instrument: psi,
          observations: [row('s1', [10])],
        }),
      )[0]!.estimate;
    expect(read('kPa')).toBeCloseTo(10 * kPaOfPsi, 9);
    expect(read('mA')).toBe(10);
    expect(read('bar')).toBe(10);
  });
  it('answers alike in whatever unit it is told, and names an instrument of another kind', () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 150, noNaN: true }), (value) => {
        const at = (unit: string, factor: number) =>
          resultsIn(
            run(pressure({}), {
              instrument: { ...psi, unit, upper: 150 * factor, usedUpper: 150 * factor },
              observations: [row('s1', [value * factor])],
            }),
          )[0]!.estimate;
        expect(at('kPa', kPaOfPsi) / at('[psi]', 1)).toBeCloseTo(1, 9);
      }),
    );
    expect(() => ownUnitOf(readDocument(pressure({})), { unit: 'mm' })).toThrow('does not');
    expect(ownUnitOf(readDocument(documentOf([{ observe: [] }])), { unit: 'mm' })).toBeNull();
  });
  it('a temperature is converted with its zero, a difference beside it without, and shown in °F where the instrument is', () => {
    const units = { document: 'Cel', own: '[degF]' };
    expect(ownForm(units, 'Cel')!.toOwn(100)).toBe(212);
    expect(ownForm(units, 'K')!.toOwn(5)).toBe(9);
    expect(ownForm({ document: 'Cel', own: 'K' }, 'Cel')!.toOwn(0)).toBeCloseTo(273.15, 9);
    expect(ownForm({ document: 'Cel', own: 'K' }, 'K')).toBeNull();
    expect(ownForm(units, 'mm')).toBeNull();
    expect(ownForm(units, { of: 'each.unit' })).toBeNull();
  });
});

describe('steps in which points are counted', () => {
  it.each([
    [50, 'kPa', '[psi]', 10],
    [20, 'kPa', '[psi]', 2],
    [5, 'mm', '[in_i]', 0.2],
    [2, 'mm', '[in_i]', 0.1],
    // A power of ten stays one.
    [10, 'kPa', '[psi]', 1],
    [0.001, 'mm', '[in_i]', 0.0001],
    [1, 'Cel', '[degF]', 1],
    // Units a power of ten apart: converted exactly, whatever the step.
    [25, 'kPa', 'MPa', 0.025],
    [0.3, 'bar', 'kPa', 30],
  ])('%d %s is %d', (step, document, own, expected) => expect(stepInOwn(step, { document, own })).toBe(expected));
  it('fractions are rounded in the instrument’s own unit, and never beyond its range', () => {
    expect(nominals({ fractions: [0, 0.5, 1], step: 50 }).map((n) => n / kPaOfPsi)).toEqual(
      [0, 80, 150].map((n) => expect.closeTo(n, 9) as unknown),
    );
    // Grids of °F do not start where those of °C do.
    const oven = { unit: '[degF]', lower: 0, upper: 300, usedLower: 70, usedUpper: 250, resolution: 0.1 };
    const temperatures = run(
      documentOf([{ observe: [], results: [resultOf('1')], points: { fractions: [0.5], step: 5, unit: 'Cel' } }], {
        instrument: { kinds: ['invented'], unit: 'Cel' },
      }),
      { instrument: oven },
    );
    expect(pointsIn(temperatures)[0]!.nominal).toBeCloseTo((160 - 32) / 1.8, 9);
  });
  it('a formula is converted exactly, and nothing is counted otherwise where the points name no unit', () => {
    expect(nominals({ fractions: [0.34], step: { is: '50' } })[0]! / kPaOfPsi).toBeCloseTo((7 * 50) / kPaOfPsi, 9);
    expect(nominals({ unit: undefined, fractions: [0.34], step: 50 })).toEqual([350]);
  });
  it('lists and offsets stay where they are; a range is counted in steps from its start', () => {
    expect(nominals({ list: [5, 10.1] })).toEqual([5, 10.1]);
    expect(nominals({ offsets: [10] })).toEqual([10]);
    expect(nominals({ from: 0, to: { is: 'instrument.usedUpper' }, step: 500 }).map((n) => n / kPaOfPsi)).toEqual(
      [0, 100].map((n) => expect.closeTo(n, 6) as unknown),
    );
  });
  it('points of their own unit are taken whole: literals in it, formulas in the document’s', () => {
    const inUnit = { '[psi]': { list: [15, { is: 'instrument.usedUpper' }] } };
    expect(nominals({ list: [1], inUnit })).toEqual([15 * kPaOfPsi, 150 * kPaOfPsi].map((n) => expect.closeTo(n, 9) as unknown));
    expect(nominals({ list: [1], inUnit }, { ...psi, unit: 'bar' })).toEqual([1]);
  });
  it('what is stored is proposed in steps of the instrument’s own unit', () => {
    const document = readDocument(
      pressure(
        { results: [resultOf('R', { unit: 'kPa', tolerance: { upper: 1 } })] },
        {
          adjustments: [
            {
              id: 'zero',
              kind: 'offset',
              of: ['s1'],
              stored: [{ id: 'offset', unit: 'kPa', proposed: { is: 'R' }, step: 5 }],
            },
          ],
        },
      ),
    );
    const { adjustments } = evaluate(document, given({ instrument: psi, observations: [row('s1', [3.4])] }));
    // 5 kPa is 0.725 psi; 1 is nearer by ratio than 0.5.
    expect(adjustments[0]!.proposed['offset']! / kPaOfPsi).toBeCloseTo(3, 9);
  });
});

describe('standards told in another unit', () => {
  const gauge = (more: Members) => standard({ corrections: [{ at: 0, correction: 1, expandedUncertainty: 0.2 }], ...more });
  const worked = (standards: unknown, use: Members = {}, role: Members = {}) =>
    run(
      documentOf([{ uses: { g: { role: 'gauge', at: '0', ...use } }, observe: [], results: [resultOf('g.correction')] }], {
        standards: [{ role: 'gauge', several: true, ...role }],
      }),
      { standards: { gauge: standards } },
    );
  const estimate = (...args: Parameters<typeof worked>) => resultsIn(worked(...args))[0]!.estimate;
  it('the role’s unit holds where the use names none; the use’s own comes first', () => {
    expect(estimate(gauge({ unit: 'bar' }), {}, { unit: 'kPa' })).toBe(100);
    expect(estimate(gauge({ unit: 'bar' }), { unit: 'MPa' }, { unit: 'kPa' })).toBeCloseTo(0.1, 12);
  });
  it('one of another kind is passed over where another serves, and refused at its role where none does', () => {
    expect(estimate([gauge({ unit: 'J' }), gauge({ unit: 'kN.m', identification: 'S-2' })], {}, { unit: 'N.m' })).toBe(1000);
    const refusal = (() => {
      try {
        worked(gauge({ unit: 'J' }), {}, { unit: 'N.m' });
      } catch (error) {
        return error;
      }
      return null;
    })();
    expect(refusal).toBeInstanceOf(DocumentError);
    expect((refusal as DocumentError).path).toEqual(['standards', 'gauge']);
  });
  it('a stack takes the nearest length that the items add to, of equals the lower', () => {
    const blocks = standard({
      items: [1, 1.5, 4].map((n, i) => ({ id: `b${i}`, nominal: n, certified: n, expandedUncertainty: 0.001 })),
    });
    const near = (wanted: number) =>
      pointsIn(
        run(
          documentOf(
            [
              {
                uses: { b: { role: 'blocks', stack: 'point.nominal' } },
                points: { list: [wanted], nearest: 'b' },
                observe: [],
                results: [resultOf('b.value')],
              },
            ],
            { standards: [{ role: 'blocks' }] },
          ),
          { standards: { blocks } },
        ),
      )[0]!.nominal;
    expect([near(2.4), near(3.25), near(5.2), near(20), near(0)]).toEqual([2.5, 2.5, 5, 6.5, 0]);
  });
});

describe('the age of what is used', () => {
  const old = standard({
    identification: 'OLD',
    certificate: { issuer: 'I', number: '1', date: '2023-01-01' },
    items: [{ id: 'a', nominal: 1, certified: 1, expandedUncertainty: 0.1 }],
  });
  const young = standard({
    identification: 'NEW',
    certificate: { issuer: 'I', number: '2', date: '2027-01-01' },
    items: [{ id: 'b', nominal: 2, certified: 2, expandedUncertainty: 0.1, properties: { alpha: 3 } }],
    properties: { alpha: 4 },
  });
  const age = (use: Members, readings: Members = {}, symbol = 'u.ageYears') =>
    resultsIn(
      run(
        documentOf([{ uses: { u: { role: 'w', ...use } }, observe: [observed()], results: [resultOf(symbol)] }], {
          standards: [{ role: 'w', several: true, properties: [{ id: 'alpha' }] }],
        }),
        { date: '2027-01-01', standards: { w: [old, young] }, observations: [row('s1', [1], readings)] },
      ),
    )[0]!.estimate;
  const four = 1461 / 365.25;
  it('is of the one item that is picked, of a stack the greatest, and of none nothing', () => {
    expect(age({ item: '2' })).toBe(0);
    expect(age({ item: '1' })).toBeCloseTo(four, 12);
    expect(age({ stack: '3' })).toBeCloseTo(four, 12);
    expect(age({ stack: '0' })).toBe(0);
  });
  it('follows what was used in place of what was proposed', () =>
    expect(age({ item: '2' }, { items: { u: ['a'] } })).toBeCloseTo(four, 12));
  it('of a curve it is of the standard that served, and so are its properties', () => {
    const curve = (identification: string, date: string, alpha: number, U: number) =>
      standard({
        identification,
        certificate: { issuer: 'I', number: '1', date },
        corrections: [{ at: 0, correction: 0, expandedUncertainty: U }],
        properties: { alpha },
      });
    const of = (symbol: string) =>
      resultsIn(
        run(
          documentOf([{ uses: { u: { role: 'w', at: '0' } }, observe: [], results: [resultOf(symbol)] }], {
            standards: [{ role: 'w', several: true, properties: [{ id: 'alpha' }] }],
          }),
          { date: '2027-01-01', standards: { w: [curve('A', '2023-01-01', 7, 0.2), curve('B', '2027-01-01', 9, 0.1)] } },
        ),
      )[0]!.estimate;
    expect([of('u.ageYears'), of('u.alpha')]).toEqual([0, 9]);
  });
});

describe('shares of what is shown in another unit', () => {
  it('are in the unit of the result', () => {
    const limits = (more: Members) =>
      resultsIn(
        run(
          documentOf([
            {
              observe: [],
              results: [resultOf('1', { unit: 'um', tolerance: { terms: [{ ofReference: 0.001 }] }, ...more })],
            },
          ]),
        ),
      )[0]!.limits!.upper;
    expect(limits({ reference: { is: '25', unit: 'mm' } })).toBeCloseTo(25, 9);
    expect(limits({ reference: { is: '25' } })).toBeCloseTo(0.025, 9);
    // Another kind of quantity is taken as the number that it is, and so is a temperature.
    expect(limits({ reference: { is: '25', unit: 'mA' } })).toBeCloseTo(0.025, 9);
    expect(limits({ unit: 'K', reference: { is: '25', unit: 'Cel' } })).toBeCloseTo(0.025, 9);
  });
});

it('an item whose values stand at an argument needs no certified value', () => {
  const forks = standard({
    items: [{ id: 'f', nominal: 1, values: [{ at: 0, value: 440, expandedUncertainty: 0.1 }] }],
  });
  const of = (use: Members) =>
    run(
      documentOf([{ uses: { u: { role: 'w', item: '1', ...use } }, observe: [], results: [resultOf('u.value')] }], {
        standards: [{ role: 'w' }],
      }),
      {
        standards: { w: forks },
      },
    );
  expect(resultsIn(of({ at: '0' }))[0]!.estimate).toBe(440);
  expect(undeterminedIn(of({}))[0]!.why).toContain('no certified value');
});
