import { momentIn } from '../../core/quantity/day-in-zone';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { guarded } from '../../ui/guarded';

type Line = { at: string; person: string; what: string; about: string; href: string | null; by: string };

const columns: DataColumn<Line & { id: number; zone: string }>[] = [
  { id: 'when', title: 'When', className: 'figure align-top', cell: (l) => momentIn(l.at, l.zone) },
  { id: 'who', title: 'Who', className: 'align-top whitespace-nowrap', cell: (l) => (l.by ? `${l.person}, ${l.by}` : l.person) },
  { id: 'what', title: 'What', className: 'align-top', cell: (l) => l.what },
  {
    id: 'about',
    title: 'About',
    className: 'align-top',
    cell: (l) => (l.href ? <a href={l.href}>{l.about}</a> : l.about),
  },
];

/** Who did what, the latest first. */
export const DeedsTable = guarded(function DeedsTable({ lines, zone, most }: { lines: Line[]; zone: string; most: number }) {
  return (
    <div className="mt-4">
      {lines.length === 0 ? (
        <p className="text-soft">Nothing of that kind was done.</p>
      ) : (
        <DataTable
          label="Who did what"
          isSmall
          columns={columns}
          rows={lines.map((l, id) => ({ ...l, id, zone }))}
          idOf={(l) => String(l.id)}
        />
      )}
      {lines.length === most && (
        <p className="mt-3 text-soft">These are the latest {most}. Narrow it by name or days to see others, or take the CSV.</p>
      )}
    </div>
  );
});
