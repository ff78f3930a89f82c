import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { standardDeclarations } from '../../core/procedure/declarations';
import { readDocument } from '../../core/procedure/read-document';
import type { StandardDocument } from '../../core/standard/standard-schema';
import { standardFormSchema, typedStandard } from './standard-fields';

const shipped = (id: string) => readDocument(JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8')) as unknown);
const declarations = standardDeclarations(['outside-micrometer', 'balance'].map(shipped));

const blocks: StandardDocument = {
  format: 'just-twice/standard',
  version: 1,
  identification: 'GB-1',
  kind: 'gauge-block-set',
  designation: 'Steel',
  certificate: { issuer: 'Institute', number: '7', date: '2026-01-10', due: '2028-01-10' },
  unit: 'mm',
  items: [
    {
      id: 'a',
      marking: '5',
      nominal: 5,
      certified: 5.0001,
      expandedUncertainty: 0.0001,
      coverageFactor: 2,
      properties: { grade: 1 },
    },
    { id: 'b', marking: '10*', nominal: 10, certified: 9.9999, expandedUncertainty: 0.0001, coverageFactor: 2, dof: 12 },
  ],
  properties: { expansionCoefficient: 0.0000115, ofNoProcedure: 3 },
} as unknown as StandardDocument;
const values = { id: 's', place: 'Shelf', document: blocks };
type Typed = ReturnType<typeof typedStandard>;
const parsed = (change: Partial<Typed> | ((typed: Typed) => Partial<Typed>) = {}) => {
  const typed = typedStandard(values, declarations);
  return standardFormSchema(blocks, declarations).safeParse({
    ...typed,
    ...(typeof change === 'function' ? change(typed) : change),
  });
};

describe('the form of a standard', () => {
  it('sends back what it was opened with: items keep what the form does not show', () => {
    const { data } = parsed();
    expect(data).toEqual({ place: 'Shelf', document: blocks });
  });
  it('reads a table as its certificate gives it, with one k for all lines where no column states one', () => {
    const { data } = parsed({ table: 'Serial;Nominal (mm);Deviation (µm);U (µm)\n5;5;0,2;0,08', coverageFactor: '2,1' });
    expect(data!.document.items).toEqual([
      {
        id: 'a',
        marking: '5',
        nominal: 5,
        certified: 5.0002,
        expandedUncertainty: 0.00008,
        coverageFactor: 2.1,
        properties: { grade: 1 },
      },
    ]);
  });
  it('shows k of each line where they differ, and reads it again', () => {
    const own = { ...blocks, items: blocks.items!.map((i, n) => ({ ...i, coverageFactor: 2 + n / 10 })) } as StandardDocument;
    const typed = typedStandard({ ...values, document: own }, declarations);
    expect(typed.table.split('\n')[0]).toBe('marking\tnominal\tcertified\tU\tk');
    expect(standardFormSchema(own, declarations).parse(typed).document.items).toEqual(own.items);
  });
  it.each([
    ['an uncertainty of nothing', { table: '5\t5\t5\t0' }, 'An expanded uncertainty of 0 states no uncertainty'],
    ['a line that cannot be read', { table: '5\t5\tabc\t0.1' }, 'Line 1: "abc" is not a number'],
    ['a document that is none', { content: 'document' as const, source: '{ "format"' }, 'not'],
  ])('tells %s at its place', (_, change, message) => {
    const [issue] = parsed(change).error!.issues;
    expect(issue!.message).toContain(message);
  });
  it('what another kind is asked for does not go with it', () => {
    const { data } = parsed((typed) => ({ document: { ...typed.document, kind: 'weight-set' }, content: 'nothing' }));
    expect(data!.document.properties).toEqual({ ofNoProcedure: 3 });
    expect(data!.document.items).toBeUndefined();
  });
});
