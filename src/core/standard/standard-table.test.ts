import { describe, expect, it } from 'vitest';
import { readStandardTable } from './standard-table';

const block = { marking: 'A1', nominal: 5, certified: 5.00012, expandedUncertainty: 0.00005 };

describe('the table of a standard, as it is pasted', () => {
  it.each([
    ['semicolons and decimal commas', 'Serial;Nominal (mm);Deviation (µm);U (µm)\nA1;5;0,12;0,05'],
    ['tabs', 'Serial no.\tNominal [mm]\tDeviation [µm]\tU [µm]\nA1\t5\t0.12\t0.05'],
    ['commas', 'Serial number,Nominal / mm,Deviation / µm,U / µm\nA1,5,0.12,0.05'],
    ['quoted commas', '"Marking","Nominal, mm","Deviation, um","Expanded uncertainty, μm"\n"A1","5","0,12","0,05"'],
    ['another order and a column that means nothing', 'Nominal (mm);Grade;U (µm);Deviation (µm);Serial\n5;K;0,05;0,12;A1'],
    ['the certified value, U in nanometres', 'Marking;Nominal;Certified;U (nm)\nA1;5;5,00012;50'],
    ['a length in micrometres', 'Marking;Nominal (mm);Actual length (µm);U (µm)\nA1;5;5000,12;0,05'],
  ])('reads %s', (_, text) => {
    const { rows, faults } = readStandardTable(text, 'items', 'mm', '');
    expect(faults).toEqual([]);
    expect(rows).toEqual([block]);
  });
  it('says how each column was read', () =>
    expect(
      readStandardTable('Nominal (mm);Grade;U (µm);Deviation (µm);Serial\n5;K;0,05;0,12;A1', 'items', 'mm', '').columns,
    ).toEqual(['nominal in mm', '“Grade” passed over', 'U in µm', 'deviation from nominal in µm', 'marking']));
  it('has plain columns without headings, and takes U in the unit that the form names', () => {
    expect(readStandardTable('A1 5 5,00012 0,05', 'items', 'mm', 'um').rows).toEqual([block]);
    expect(readStandardTable('Block Size Found Plus/minus\nA1 5 5,00012 0,00005', 'items', 'mm', '').rows).toEqual([block]);
  });
  it('takes the nominal size for the marking where there is none, and keeps k of each line', () =>
    expect(readStandardTable('Nominal;Deviation (µm);U (µm);k\n5;0,12;0,05;2,13', 'items', 'mm', '').rows).toEqual([
      { ...block, marking: '5', coverageFactor: 2.13 },
    ]));
  it('an error is the correction with the other sign', () => {
    const of = (heading: string) =>
      readStandardTable(`Reading;${heading};U\n100;0,3;0,1\n0;0;0,1`, 'corrections', 'Cel', '').rows;
    expect(of('Correction')[0]).toEqual({ at: 100, correction: 0.3, expandedUncertainty: 0.1 });
    expect(of('Error').map((r) => r.correction)).toEqual([-0.3, 0]);
  });
  it('the place of a value keeps its own unit', () =>
    expect(readStandardTable('Frequency (Hz);Value (dB);U (dB)\n1000;0,02;0,1', 'values', 'dB', '').rows).toEqual([
      { at: 1000, value: 0.02, expandedUncertainty: 0.1 },
    ]));
  it('turns a temperature with its zero and a difference without', () =>
    expect(readStandardTable('Indicated (°F);Correction (°F);U (°F)\n212;1,8;0,18', 'corrections', 'Cel', '').rows).toEqual([
      { at: 100, correction: 1, expandedUncertainty: 0.1 },
    ]));
  it.each([
    ['Serial;Nominal (mm);U (µm)\nA1;5;0,05', 'no column is certified value or deviation from nominal'],
    ['Serial;Nominal (mm);Deviation (kg);U (µm)\nA1;5;0,12;0,05', 'kg (Deviation) cannot be turned into mm'],
    ['Serial;Nominal;Deviation (µm);U (µm)\nA1;five;0,12;0,05', '"five" is not a number (Nominal)'],
    ['Serial;Nominal;Deviation (µm);U (µm)\nA1;5;0,12', 'has 3 entries; 4 are wanted: Serial, Nominal, Deviation, U'],
    ['A1 5 5 0,1\nA1 6 6 0,1', 'A1 stands twice'],
  ])('faults %j', (text, message) => {
    const { faults } = readStandardTable(text, 'items', 'mm', '');
    expect(faults[0]?.message).toContain(message);
  });
  it('is bounded', () => {
    const endless = Array.from({ length: 3000 }, (_, i) => `m${i} ${i} ${i} 1`).join('\n');
    const { rows, faults } = readStandardTable(endless, 'items', 'mm', '');
    expect(rows).toHaveLength(2000);
    expect(faults).toEqual([{ line: 2001, message: 'a table has at most 2000 rows.' }]);
  });
});
