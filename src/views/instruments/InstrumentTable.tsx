import type { RunSummary } from '../../core/run/run-summary';
import { dueStanding } from '../../core/traceability/standing';
import { DueWords } from '../../ui/DueTrack';
import { plainDecimal } from '../../core/quantity/rounding';
import { withPrintedUnit } from '../../core/run/shown-value';
import { SummaryMark } from '../../ui/SummaryMark';
import { kindTitle } from './kind-title';
import { VerdictWord } from '../../ui/VerdictWord';
import { DataTable, type DataColumn, type ServerOrder } from '../../ui/DataTable';

export type ListedInstrument = {
  instrument: {
    id: string;
    identification: string;
    designation: string;
    owner: string;
    place: string;
    kind: string;
    unit: string;
    usedLower: number;
    usedUpper: number;
    state: string;
    nextDue: string | null;
    lastCalibrated: string | null;
  };
  latest: RunSummary | null;
};

type Line = ListedInstrument & { today: string };

const columns: DataColumn<Line>[] = [
  {
    id: 'identification',
    title: 'Instrument',
    isServerSorted: true,
    cell: ({ instrument: i }) => (
      <>
        <a href={`/instruments/${i.id}`} className="ident font-bold max-lg:max-w-[8em]">
          {i.identification}
        </a>
        <span className="block text-sm text-soft">{[kindTitle(i.kind), i.designation].filter(Boolean).join(', ')}</span>
      </>
    ),
  },
  {
    id: 'range',
    title: 'Range',
    className: 'figure',
    cell: ({ instrument: i }) =>
      `${plainDecimal(i.usedLower).replace('-', '−')}–${withPrintedUnit(plainDecimal(i.usedUpper), i.unit)}`,
  },
  {
    id: 'owner',
    title: 'Owner and place',
    isServerSorted: true,
    isWideOnly: true,
    cell: ({ instrument: i }) => (
      <>
        {i.owner}
        <span className="block text-sm text-soft">{i.place}</span>
      </>
    ),
  },
  {
    id: 'last',
    title: 'Last',
    isServerSorted: true,
    isWideOnly: true,
    align: 'right',
    className: 'figure text-sm',
    cell: ({ instrument: i }) => i.lastCalibrated ?? 'never',
  },
  {
    id: 'worst',
    title: 'Furthest off, found and left',
    cell: ({ latest }) =>
      latest?.found ? <SummaryMark width={170} summary={latest} /> : <span className="text-soft">no run yet</span>,
  },
  {
    id: 'verdict',
    title: 'As found',
    cell: ({ latest }) => latest?.found && <VerdictWord verdict={latest.found.verdict} short />,
  },
  {
    id: 'next',
    title: 'Next',
    isServerSorted: true,
    cell: ({ instrument: i, today }) =>
      i.state === 'out-of-use' ? (
        <span className="text-soft">out of use</span>
      ) : (
        <DueWords standing={dueStanding(i.nextDue, today)} />
      ),
  },
];

/** The register as a list: each line shows how the instrument was found and left the last time. */
export const InstrumentTable = ({ rows, today, order }: { rows: ListedInstrument[]; today: string; order: ServerOrder }) => (
  <DataTable
    label="Instruments"
    columns={columns}
    rows={rows.map((r) => ({ ...r, today }))}
    idOf={(r) => r.instrument.id}
    order={order}
  />
);
