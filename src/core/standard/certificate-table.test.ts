import { describe, expect, it } from 'vitest';
import { parseCertificateTable, type TableColumn } from './certificate-table';

const columns: TableColumn[] = [
  { id: 'marking', title: 'marking', type: 'text' },
  { id: 'nominal', title: 'nominal' },
  { id: 'U', title: 'U' },
];

describe('the table of a certificate', () => {
  it('reads tabs, semicolons and spaces, commas and points, and passes over headings', () => {
    const { rows, faults } = parseCertificateTable(
      'Marking\tNominal\tU\n1.005\t1.00503\t0.06\n\n2,5*; 2,50004; 0,05\r\n  25   25.00011   0.09\nlong block; 30; 0.1',
      columns,
    );
    expect(faults).toEqual([]);
    expect(rows).toEqual([
      { marking: '1.005', nominal: 1.00503, U: 0.06 },
      { marking: '2,5*', nominal: 2.50004, U: 0.05 },
      { marking: '25', nominal: 25.00011, U: 0.09 },
      { marking: 'long block', nominal: 30, U: 0.1 },
    ]);
  });
  it.each([
    ['a 5', '3 are wanted: marking, nominal, U'],
    ['a 5 0.05\nb', 'has 1 entry'],
    ['a 5 0.05 7', '3 are wanted'],
    ['a 5 0.05\nb five 0.05', '"five" is not a number (nominal)'],
    ['a 5 0.05\na 6 0.05', 'stands twice'],
  ])('faults %j by line', (text, message) =>
    expect(parseCertificateTable(text, columns).faults.at(-1)?.message).toContain(message),
  );
  it('nothing gives nothing, and what is endless is bounded', () => {
    expect(parseCertificateTable('', columns)).toEqual({ rows: [], faults: [] });
    const endless = Array.from({ length: 3000 }, (_, i) => `m${i} ${i} 1`).join('\n');
    const { rows, faults } = parseCertificateTable(endless, columns);
    expect(rows).toHaveLength(2000);
    expect(faults).toEqual([{ line: 2001, message: 'a table has at most 2000 rows.' }]);
  });
});
