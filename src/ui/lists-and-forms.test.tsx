import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import { DataTable, type DataColumn } from './DataTable';
import { faultIn, faultsIn } from './form/FormFields';
import { typedNumber } from './form/typed';
import { ShareBar } from './ShareBar';

type Bell = { name: string; mass: number | null };
const columns: DataColumn<Bell>[] = [
  { id: 'name', title: 'Bell', sortBy: (b) => b.name, isServerSorted: true, cell: (b) => b.name },
  { id: 'mass', title: 'Mass', align: 'right', cell: (b) => b.mass ?? '–' },
];
const bells = (count: number): Bell[] => Array.from({ length: count }, (_, i) => ({ name: `Bell ${i + 1}`, mass: i ? i : null }));
const rowsOf = (html: string): number => [...html.matchAll(/<tr class="border-b/g)].length;

describe('a list', () => {
  it('shows every row in the order given; headings that sort are buttons, others are not', () => {
    const html = renderToStaticMarkup(<DataTable label="Bells" columns={columns} rows={bells(3)} idOf={(b) => b.name} />);
    expect(html).toContain('aria-label="Bells"');
    expect([...html.matchAll(/Bell \d/g)].map((m) => m[0])).toEqual(['Bell 1', 'Bell 2', 'Bell 3']);
    expect(html).toMatch(/<button[^>]*>Bell/);
    expect(html).not.toMatch(/<button[^>]*>Mass/);
  });
  it('of ten thousand draws those in sight, and keeps the room of the others', () => {
    const html = renderToStaticMarkup(<DataTable label="Bells" columns={columns} rows={bells(10_000)} idOf={(b) => b.name} />);
    expect(rowsOf(html)).toBeGreaterThan(20);
    expect(rowsOf(html)).toBeLessThan(100);
    const kept = [...html.matchAll(/style="height:(\d+)px"/g)].reduce((sum, m) => sum + Number(m[1]), 0);
    expect(kept + rowsOf(html) * 56).toBe(10_000 * 56);
  });
  it('that the server sorts leads there, the other way round where it is sorted already', () => {
    const html = renderToStaticMarkup(
      <DataTable
        label="Bells"
        columns={columns}
        rows={bells(2)}
        idOf={(b) => b.name}
        order={{ by: 'name', isDescending: false, address: (by, down) => `/bells?by=${by}&down=${down}` }}
      />,
    );
    expect(html).toContain('aria-sort="ascending"');
    expect(html).toContain('href="/bells?by=name&amp;down=true"');
    expect(html).not.toContain('<button');
  });
});

describe('a share of the variance', () => {
  const widths = (share: number) =>
    [...renderToStaticMarkup(<ShareBar share={share} />).matchAll(/<rect[^>]*width="([\d.]+)"[^>]*height="12"/g)].map((m) =>
      Number(m[1]),
    );
  it.each([
    [1, 100, '100 %'],
    [0.25, 25, '25 %'],
    [0.004, 0.4, '0.4 %'],
    [0, 0, '0 %'],
    [-0.18, 18, '−18 %'],
  ])('of %d is a bar as long as its number says', (share, width, words) => {
    expect(widths(share)[0]).toBeCloseTo(width, 6);
    expect(renderToStaticMarkup(<ShareBar share={share} />).replace(/\.0 %/, ' %')).toContain(words);
  });
});

describe('what is typed into a form', () => {
  it.each([
    ['0,25', 0.25],
    [' 12.5 ', 12.5],
    ['', null],
    ['-3', -3],
  ])('%j is a number with comma or point, or none', (text, value) => expect(typedNumber.parse(text)).toBe(value));
  it.each([
    ['fine', 'That is not a number'],
    ['1,234', 'Is that 1.234 or 1234?'],
  ])('%j is told in words', (text, words) => expect(typedNumber.safeParse(text).error?.issues[0]?.message).toContain(words));
  it('faults are found at their place and below it', () => {
    const errors = { document: { items: [undefined, { certified: { message: 'Far off.', type: 'custom' } }] } } as never;
    expect(faultIn(errors, 'document')).toBe('Far off.');
    expect(faultIn(errors, 'document.items')).toBe('Far off.');
    expect(faultIn(errors, 'document.unit')).toBeUndefined();
    expect(faultsIn(errors)).toEqual(['Far off.']);
  });
});
