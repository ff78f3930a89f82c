import { expect, it } from 'vitest';
import { coversRange } from './covers-range';
import { statesProperties } from './states-properties';

const probe = (from: number, to: number, unit = 'Cel') => ({
  unit,
  corrections: [from, to].map((at) => ({ at, correction: 0, expandedUncertainty: 0.02, coverageFactor: 2 })),
});
const block = { unit: 'Cel', usedLower: 50, usedUpper: 300 };

it('tells a standard whose corrections end inside the range from one that spans it', () => {
  expect(coversRange(probe(0, 350), block)).toBe(true);
  expect(coversRange(probe(50, 300), block)).toBe(true);
  expect(coversRange(probe(0, 200), block)).toBe(false);
  expect(coversRange(probe(100, 350), block)).toBe(false);
});
it('says nothing against what cannot be compared', () => {
  expect(coversRange(probe(0, 10, 'mA'), block)).toBe(true);
  expect(coversRange({ unit: 'Cel' }, block)).toBe(true);
});

it('finds a property with the standard, a part or an item, and misses what nobody states', () => {
  const ring = {
    format: 'just-twice/standard' as const,
    version: 1 as const,
    identification: 'R',
    kind: 'setting-ring',
    designation: 'Ring',
    unit: 'mm',
    properties: { expansionCoefficient: 1.15e-5 },
    items: [
      {
        id: 'a',
        marking: 'A',
        nominal: 25,
        certified: 25,
        expandedUncertainty: 0.001,
        coverageFactor: 2,
        properties: { roundness: 0.0005 },
      },
    ],
    parts: [{ id: 'foot', unit: 'mm', properties: { flatness: 0.001 } }],
  };
  expect(statesProperties(ring, [])).toBe(true);
  expect(statesProperties(ring, ['expansionCoefficient', 'roundness', 'flatness'])).toBe(true);
  expect(statesProperties(ring, ['roundness', 'density'])).toBe(false);
});
