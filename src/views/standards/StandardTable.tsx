import { useState } from 'react';
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

/** What a search looks at. */
const wordsOf = (s: ListedStandard): string =>
  [s.identification, s.designation, s.place, s.certificate?.number, s.certificate?.issuer].join(' ').toLowerCase();

/** Reference standards, those that run out first at the top; fewer by a part of what stands in a line. */
export function StandardTable({ standards }: { standards: ListedStandard[] }) {
  const [wanted, setWanted] = useState('');
  const parts = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const found = standards.filter((s) => parts.every((part) => wordsOf(s).includes(part)));
  return (
    <>
      <label className="mb-3 block max-w-md">
        <span className="block text-sm text-soft">Search: number, what it is, certificate, place</span>
        <input type="search" value={wanted} onChange={(e) => setWanted(e.target.value)} maxLength={80} className="w-full" />
      </label>
      {found.length === 0 ? (
        <p className="border-y border-rule bg-sheet px-4 py-5">No standard has “{wanted.trim()}” in its line.</p>
      ) : (
        <DataTable label="Reference standards" columns={columns} rows={found} idOf={(s) => s.id} />
      )}
    </>
  );
}
