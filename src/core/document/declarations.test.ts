import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { instrumentDeclarations, standardDeclarations } from './declarations';
import { readDocument } from './read-document';

const shipped = (id: string) => JSON.parse(readFileSync(`procedures/${id}.json`, 'utf8')) as Record<string, unknown>;
const ids = (list: readonly { id: string }[]) => list.map((x) => x.id);

describe('what a register is asked for', () => {
  const documents = ['thermometer-in-bath', 'pressure-transmitter', 'outside-micrometer', 'balance'].map((id) =>
    readDocument(shipped(id)),
  );
  const of = (kind: string) => instrumentDeclarations(documents).find((d) => d.kind === kind)!;

  it('is what the procedures of the kind declare, kinds in order', () => {
    expect(instrumentDeclarations(documents).map((d) => d.kind)).toEqual([
      'balance',
      'outside-micrometer',
      'pressure-transmitter',
      'thermometer',
    ]);
    expect(ids(of('thermometer').characteristics)).toEqual(['limit', 'immersion']);
    expect(ids(of('thermometer').parts)).toEqual(['probe']);
    expect(of('balance').parts).toEqual([]);
  });

  it('asks for a stored value only where a formula starts from it', () => {
    expect(ids(of('thermometer').stored)).toEqual(['offset']);
    expect(ids(of('pressure-transmitter').stored)).toEqual(['lowTrim', 'highTrim']);
    // The shift of a zero is told, not stored: nothing is worked out from the former one.
    expect(ids(of('outside-micrometer').stored)).toEqual([]);
  });

  it('asks once for what two procedures of a kind share', () => {
    const raw = shipped('thermometer-in-bath');
    const second = readDocument({ ...raw, id: 'thermometer-again' });
    const both = instrumentDeclarations([documents[0]!, second]).find((d) => d.kind === 'thermometer')!;
    expect(ids(both.characteristics)).toEqual(['limit', 'immersion']);
    expect(ids(both.stored)).toEqual(['offset']);
  });

  it('is asked of standards by the kinds that fill a role', () => {
    const standards = standardDeclarations(documents);
    expect(standards.map((s) => s.kind)).toEqual([
      'bath',
      'gauge-block-set',
      'multimeter',
      'pressure-standard',
      'reference-thermometer',
      'weight-set',
    ]);
    expect(ids(standards.find((s) => s.kind === 'weight-set')!.properties)).toEqual(['driftShare']);
    expect(standards.find((s) => s.kind === 'multimeter')!.properties).toEqual([]);
  });
});
