import { describe, expect, it } from 'vitest';
import { ofItem, ofStack, onCurve } from './assigned-value';
import type { StandardDocument, StandardItem } from './standard-schema';

const item = (more: Partial<StandardItem>): StandardItem => ({
  id: 'b1',
  nominal: 10,
  certified: 10.0002,
  expandedUncertainty: 0.0006,
  coverageFactor: 2,
  ...more,
});
const standard: StandardDocument = {
  format: 'just-twice/standard',
  version: 1,
  identification: 'QM-1',
  kind: 'gauge-block-set',
  designation: '',
  unit: 'mm',
};
const source = { standard, content: standard, unit: 'mm' } as unknown as Parameters<typeof ofItem>[0];

describe('an item as certified', () => {
  it.each([
    [2, 0.0003],
    [3, 0.0002],
    [1, 0.0006],
  ])('has its expanded uncertainty over its own factor %d', (coverageFactor, expected) =>
    expect(ofItem(source, item({ coverageFactor })).standardUncertainty).toBeCloseTo(expected, 12),
  );
  it('has the degrees of freedom that it states, else infinitely many', () => {
    expect(ofItem(source, item({ dof: 9 })).dof).toBe(9);
    expect(ofItem(source, item({})).dof).toBe(Infinity);
  });
});

describe('items together', () => {
  const stack = (...dofs: (number | undefined)[]) =>
    ofStack(dofs.map((dof, i) => ({ source, item: item({ id: `b${i}`, ...(dof === undefined ? {} : { dof }) }) })));
  it('have the least degrees of freedom, wherever they stand', () => {
    expect(stack(50, 8, 20).dof).toBe(8);
    expect(stack(8, 50).dof).toBe(8);
    expect(stack(undefined, 30).dof).toBe(30);
  });
  it('add their values, their uncertainties linearly, and have one joint fewer than items', () =>
    expect(stack(undefined, undefined, undefined)).toMatchObject({
      value: expect.closeTo(30.0006, 10) as number,
      standardUncertainty: expect.closeTo(0.0009, 12) as number,
      items: 3,
      joints: 2,
    }));
});

describe('between the points of a certificate', () => {
  const corrections = [
    { at: 0, correction: 0.1, expandedUncertainty: 0.02, coverageFactor: 2, dof: 60 },
    { at: 100, correction: 0.3, expandedUncertainty: 0.09, coverageFactor: 3, dof: 7 },
  ];
  it('the correction is linear, with the greater uncertainty and its degrees of freedom', () =>
    expect(onCurve(source, { corrections }, 25, {}, [])).toMatchObject({
      correction: expect.closeTo(0.15, 12) as number,
      standardUncertainty: expect.closeTo(0.03, 12) as number,
      dof: 7,
    }));
});
