import type { DueStanding } from '../../core/traceability/standing';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { DueTrack, DueWords } from '../../ui/DueTrack';

export type ListedStandard = {
  id: string;
  identification: string;
  designation: string;
  place: string;
  certificate: { number: string; issuer: string; date: string } | null;
  values: number;
  due: DueStanding;
};

const columns: DataColumn<ListedStandard>[] = [
  {
    id: 'identification',
    title: 'Standard',
    sortBy: (s) => s.identification,
    cell: (s) => (
      <>
        <a href={`/standards/${s.id}`} className="ident font-bold">
          {s.identification}
        </a>
        <span className="block text-sm text-soft">{s.designation}</span>
      </>
    ),
  },
  {
    id: 'certificate',
    title: 'Certificate',
    sortBy: (s) => s.certificate?.date ?? null,
    cell: ({ certificate }) =>
      certificate ? (
        <>
          <span className="ident">{certificate.number}</span>
          <span className="block text-sm text-soft">
            {certificate.issuer}, {certificate.date}
          </span>
        </>
      ) : (
        <span className="text-soft">none needed</span>
      ),
  },
  { id: 'place', title: 'Place', isWideOnly: true, sortBy: (s) => s.place || null, cell: (s) => s.place },
  { id: 'values', title: 'Values', align: 'right', className: 'figure', cell: (s) => s.values || '–' },
  {
    id: 'track',
    title: (
      <span className="flex w-[200px] justify-between">
        <span>expired</span>
        <span className="pr-5">today</span>
        <span>90 days</span>
      </span>
    ),
    isWideOnly: true,
    cell: ({ due }) => due.days !== null && <DueTrack days={due.days} />,
  },
  {
    id: 'due',
    title: 'Due',
    sortBy: (s) => s.due.days,
    cell: ({ due }) => due.days !== null && <DueWords standing={due} />,
  },
];

/** Reference standards, those that run out first at the top. */
export const StandardTable = ({ standards }: { standards: ListedStandard[] }) => (
  <DataTable label="Reference standards" columns={columns} rows={standards} idOf={(s) => s.id} />
);
