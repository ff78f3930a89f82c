import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { instrumentDeclarations } from '../../core/document/declarations';
import { readDocument } from '../../core/document/read-document';
import { declaredFields, instrumentFormSchema, typedInstrument, type InstrumentValues } from './instrument-fields';

const shipped = (id: string) => readDocument(JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8')) as unknown);
const declarations = instrumentDeclarations(['thermometer-in-bath', 'multimeter', 'outside-micrometer'].map(shipped));
const of = (kind: string) => declarations.find((d) => d.kind === kind)!;

const thermometer: InstrumentValues = {
  id: 't-1',
  identification: 'QT-1',
  serialNumber: '',
  kind: 'thermometer',
  designation: '',
  owner: 'Works',
  ownerAddress: '',
  nextDateWanted: true,
  place: '',
  use: '',
  unit: 'Cel',
  lower: -30,
  upper: 150,
  usedLower: 10,
  usedUpper: 90,
  resolution: 0.01,
  characteristics: { limit: 0.2, ofAnotherProcedure: 7 },
  lists: {},
  parts: { probe: 'P-9' },
  stored: { offset: 0.1 },
  decisionRule: null,
  adjustmentAllowed: true,
  intervalMonths: 12,
  state: 'in-use',
  nextDue: '2027-01-05',
};
const parsed = (change: object, values = thermometer) =>
  instrumentFormSchema(values, of(values.kind)).safeParse({ ...typedInstrument(values, declarations), ...change });
const faultsOf = (change: object) => parsed(change).error?.issues.map((i) => [i.path.join('.'), i.message]) ?? [];

describe('the form of an instrument', () => {
  it('asks what the procedures of its kind declare, in their units', () => {
    const fields = declaredFields(of('thermometer'), 'Cel');
    expect(fields.single.map((f) => f.name)).toEqual([
      'characteristics.limit',
      'characteristics.immersion',
      'parts.probe',
      'stored.offset',
    ]);
    expect(fields.single[0]).toMatchObject({ type: 'number', unit: 'K' });
    expect(declaredFields(of('multimeter'), 'V').lists.length).toBeGreaterThan(0);
  });
  it('asks what procedures count in their unit in that of the instrument, and keeps it in theirs', () => {
    const inch: InstrumentValues = {
      ...thermometer,
      kind: 'outside-micrometer',
      unit: '[in_i]',
      lower: 0,
      upper: 1,
      usedLower: 0,
      usedUpper: 1,
      resolution: 0.0001,
      characteristics: { limit: 0.00381 },
      parts: {},
      stored: {},
    };
    expect(declaredFields(of('outside-micrometer'), '[in_i]').single[0]).toMatchObject({ unit: '[in_i]' });
    expect(typedInstrument(inch, declarations).characteristics['limit']).toBe('0.00015');
    expect(parsed({}, inch).data?.characteristics).toEqual({ limit: 0.00381 });
    expect(parsed({ characteristics: { limit: '0.0002' } }, inch).data?.characteristics).toEqual({ limit: 0.00508 });
    // A difference of temperatures, beside one in °F.
    const hot = { ...thermometer, unit: '[degF]', characteristics: { limit: 0.2 } };
    expect(declaredFields(of('thermometer'), '[degF]').single[0]).toMatchObject({ unit: '[degF]' });
    expect(typedInstrument(hot, declarations).characteristics['limit']).toBe('0.36');
    expect(parsed({ characteristics: { limit: '0.9', immersion: '' }, stored: { offset: '1.8' } }, hot).data).toMatchObject({
      characteristics: { limit: 0.5 },
      stored: { offset: 1 },
    });
  });
  it('sends back what it was opened with, nothing stored anew, and what it does not show', () => {
    const { data } = parsed({});
    expect(data).toMatchObject({
      identification: 'QT-1',
      lower: -30,
      usedUpper: 90,
      nextDue: '2027-01-05',
      intervalMonths: 12,
      characteristics: { limit: 0.2, ofAnotherProcedure: 7 },
      parts: { probe: 'P-9' },
      stored: {},
    });
  });
  it('reads decimal commas, takes the whole range where no other is said, and sends a stored value only when it was typed', () => {
    const { data } = parsed({ resolution: '0,05', usedLower: '', usedUpper: ' ', stored: { offset: '0,25' } });
    expect(data).toMatchObject({ resolution: 0.05, usedLower: -30, usedUpper: 150, stored: { offset: 0.25 } });
    expect(parsed({ stored: { offset: '' } }).data).toMatchObject({ stored: { offset: null } });
  });
  it('says at its field what is wrong', () => {
    expect(faultsOf({ identification: ' ' })).toEqual([['identification', 'The identification is missing.']]);
    expect(faultsOf({ resolution: 'fine' })[0]).toEqual(['resolution', expect.stringContaining('That is not a number')]);
    expect(faultsOf({ characteristics: { limit: 'x', immersion: '' } })[0]![0]).toBe('characteristics.limit');
    expect(faultsOf({ upper: '-40' })[0]![0]).toBe('upper');
    expect(faultsOf({ nextDue: '5.1.2027' })[0]![0]).toBe('nextDue');
  });
  it('of a multimeter keeps its lists, a line a row, and tells the line that cannot be read', () => {
    const list = of('multimeter').lists[0]!;
    const row = Object.fromEntries(list.columns.map((c, i) => [c.id, c.type === 'text' ? 'a' : i + 1]));
    const values = {
      ...thermometer,
      kind: 'multimeter',
      unit: 'V',
      characteristics: {},
      parts: {},
      stored: {},
      lists: { [list.id]: [{ id: 'r1', title: '6 V', ...row }] },
    } as unknown as InstrumentValues;
    const text = typedInstrument(values, declarations).lists[list.id]!;
    expect(text.split('; ').slice(0, 2)).toEqual(['r1', '6 V']);
    expect(parsed({}, values).data?.lists[list.id]).toEqual([{ id: 'r1', title: '6 V', ...row }]);
    const broken = instrumentFormSchema(values, of('multimeter')).safeParse({
      ...typedInstrument(values, declarations),
      lists: { [list.id]: `${text}\nr2; 60 V` },
    });
    expect(broken.error?.issues[0]?.message).toMatch(/^Line 2: has 2 entries/);
  });
});
