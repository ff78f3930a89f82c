import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { standardDeclarations } from '../../core/document/declarations';
import { readDocument } from '../../core/document/read-document';
import { standardSchema, type StandardDocument } from '../../core/standard/standard-schema';
import { blankPart, standardFormSchema, typedStandard, type PartTyped } from './standard-fields';
import { documentOn, standards } from '../../bench/works/standards';
import { readdirSync } from 'node:fs';

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

/** The one part of the blocks, with another table or content. */
const table = (text: string, content: PartTyped['content'] = 'items') => ({
  parts: [{ ...typedStandard(values, declarations).parts[0]!, table: text, content }],
});

describe('the form of a standard', () => {
  it('sends back what it was opened with: items keep what the form does not show', () => {
    const { data } = parsed();
    expect(data).toEqual({ place: 'Shelf', document: blocks });
  });
  it('reads a table as its certificate gives it, with one k for all lines where no column states one', () => {
    const { data } = parsed({ ...table('Serial;Nominal (mm);Deviation (µm);U (µm)\n5;5;0,2;0,08'), coverageFactor: '2,1' });
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
    expect(typed.parts[0]!.table.split('\n')[0]).toBe('marking\tnominal\tcertified\tU\tk\tgrade\tdof');
    expect(standardFormSchema(own, declarations).parse(typed).document.items).toEqual(own.items);
  });
  it.each([
    ['an uncertainty of nothing', table('5\t5\t5\t0'), 'An expanded uncertainty of 0 states no uncertainty'],
    ['a line that cannot be read', table('5\t5\tabc\t0.1'), 'Line 1: "abc" is not a number'],
    ['a document that is none', { ...table('', 'document'), source: '{ "format"' }, 'not'],
  ])('tells %s at its place', (_, change, message) => {
    const [issue] = parsed(change).error!.issues;
    expect(issue!.message).toContain(message);
  });
  it('what another kind is asked for does not go with it', () => {
    const { data } = parsed((typed) => ({ document: { ...typed.document, kind: 'weight-set' }, ...table('', 'nothing') }));
    expect(data!.document.properties).toEqual({ ofNoProcedure: 3 });
    expect(data!.document.items).toBeUndefined();
  });
});

describe('no kind of standard has to be written as a document', () => {
  const all = standardDeclarations(readdirSync('procedures').map((file) => shipped(file.replace('.json', ''))));
  const today = '2026-11-24';
  it.each(standards.map((s) => [s.id, documentOn(s, today, today)] as const))('%s comes back as it was', (_, document) => {
    const typed = typedStandard({ id: 's', place: 'Shelf', document }, all);
    expect(typed.source).toBe('');
    expect(standardFormSchema(document, all).parse(typed).document).toEqual(standardSchema.parse(document));
  });
  it('a source is typed part by part, its voltages at two frequencies', () => {
    const declared = all.find((d) => d.kind === 'multifunction-source')!;
    expect(declared.parts.map((p) => p.id)).toEqual(['dcv', 'acv', 'dca', 'ohm']);
    const blank: StandardDocument = { format: 'just-twice/standard', version: 1, identification: '', kind: '', designation: '' };
    const typed = typedStandard({ id: null, place: 'Shelf', document: blank }, all);
    const { document } = standardFormSchema(blank, all).parse({
      ...typed,
      coverageFactor: '2',
      parts: [
        { ...blankPart('dcv', 'V'), table: '0 0.00001 0.00002\n10 0.0001 0.0002' },
        { ...blankPart('acv', 'V'), table: 'Shows;Correction (mV);U (mV);Frequency (Hz)\n1;0,1;0,2;50\n1;0,3;0,4;1000' },
      ],
      document: { ...typed.document, kind: 'multifunction-source', identification: 'MS-9' },
    });
    expect(document.parts!.map((p) => [p.id, p.unit])).toEqual([
      ['dcv', 'V'],
      ['acv', 'V'],
    ]);
    expect(document.parts![1]!.corrections).toEqual([
      { at: 1, correction: 0.0001, expandedUncertainty: 0.0002, coverageFactor: 2, frequency: 50 },
      { at: 1, correction: 0.0003, expandedUncertainty: 0.0004, coverageFactor: 2, frequency: 1000 },
    ]);
  });
  it('thermometers are typed line by line, each with corrections of its own', () => {
    const blank: StandardDocument = { format: 'just-twice/standard', version: 1, identification: '', kind: '', designation: '' };
    const typed = typedStandard({ id: null, place: 'Shelf', document: blank }, all);
    const lines = ['A1 100 0 0,02 0,06', 'A1 100 120 0.04 6e-2', 'A2 250 100 -0.1 0.1'];
    const { document } = standardFormSchema(blank, all).parse({
      ...typed,
      parts: [{ ...blankPart('', 'Cel'), content: 'tables', table: lines.join('\n') }],
      document: { ...typed.document, kind: 'certified-thermometer', identification: 'CT-9' },
    });
    expect(document.items!.map((i) => [i.marking, i.nominal, i.corrections!.map((c) => c.correction)])).toEqual([
      ['A1', 100, [0.02, 0.04]],
      ['A2', 250, [-0.1]],
    ]);
    expect(document.items![0]!.corrections![1]!.expandedUncertainty).toBe(0.06);
  });
  it('a resistance thermometer is typed as its function with its parameters', () => {
    const document: StandardDocument = {
      ...blocks,
      kind: 'reference-thermometer',
      unit: 'Cel',
      items: undefined,
      properties: undefined,
      function: {
        name: 'prtTemperature',
        parameters: { R0: 100.012, A: 0.0039083, B: -5.775e-7, C: 0 },
        expandedUncertainty: 0.012,
        coverageFactor: 2,
        from: 0,
        to: 200,
      },
    };
    const typed = typedStandard({ id: 's', place: '', document }, all);
    const parse = (change: Partial<PartTyped['function']>) =>
      standardFormSchema(document, all).safeParse({
        ...typed,
        parts: typed.parts.map((part) => ({ ...part, function: { ...part.function, ...change } })),
      });
    expect(typed.parts[0]!.content).toBe('function');
    expect(parse({}).data!.document).toMatchObject({ function: document.function, unit: 'Cel' });
    expect(parse({ name: '' }).error!.issues[0]!.path).toEqual(['parts', 0, 'function', 'name']);
    expect(parse({ parameters: {} }).error!.issues[0]!.path.slice(0, 4)).toEqual(['parts', 0, 'function', 'parameters']);
    expect(parse({ expandedUncertainty: '' }).error!.issues[0]!.message).toBe('U is missing.');
  });
});
