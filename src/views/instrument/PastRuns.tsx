import { dayIn } from '../../core/quantity/day-in-zone';
import type { RunSummary } from '../../core/run/run-summary';
import { SummaryMark, summaryWords } from '../../ui/SummaryMark';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { VerdictWord } from '../../ui/VerdictWord';

type PastRun = {
  id: string;
  status: string;
  startedAt: string;
  finishedAt: string | null;
  certificate: string | null;
  isReviewed: boolean;
  summary: RunSummary | null;
};

const columns: DataColumn<PastRun & { day: string }>[] = [
  { id: 'date', title: 'Date', className: 'figure', sortBy: (r) => r.startedAt, cell: (r) => r.day },
  {
    id: 'certificate',
    title: 'Certificate',
    sortBy: (r) => r.certificate,
    cell: (r) => (
      <>
        <a href={`/runs/${r.id}`} className="ident">
          {r.certificate ?? (r.status === 'open' ? 'on the bench' : 'broken off')}
        </a>
        {r.certificate && r.status === 'abandoned' && <span className="block text-sm text-brick">withdrawn</span>}
        {r.certificate && r.status === 'open' && <span className="block text-sm text-ochre">at the bench again</span>}
        {r.certificate && r.status === 'finished' && !r.isReviewed && (
          <span className="block text-sm text-ochre">to be signed</span>
        )}
      </>
    ),
  },
  {
    id: 'found',
    title: 'As found',
    align: 'right',
    cell: ({ summary }) =>
      summary?.found && (
        <>
          <span className="figure">{summaryWords(summary.found)}</span>
          <span className="block text-sm text-soft">{[summary.found.what, summary.found.point].filter(Boolean).join(', ')}</span>
        </>
      ),
  },
  {
    id: 'left',
    title: 'As left',
    align: 'right',
    className: 'figure',
    cell: ({ summary }) => summary?.left && (summary.adjusted ? summaryWords(summary.left) : 'same'),
  },
  { id: 'pair', title: 'Found and left', cell: (r) => <SummaryMark summary={r.summary} /> },
  {
    id: 'verdict',
    title: 'Verdict as found',
    cell: ({ summary }) => summary && <VerdictWord verdict={summary.found?.verdict ?? null} short />,
  },
];

/** The runs of one instrument, newest first. */
export const PastRuns = ({ runs, timeZone }: { runs: PastRun[]; timeZone: string }) =>
  runs.length === 0 ? (
    <p className="mt-2 text-soft">None yet.</p>
  ) : (
    <div className="mt-2">
      <DataTable
        label="Runs"
        columns={columns}
        rows={runs.map((r) => ({ ...r, day: dayIn(r.startedAt, timeZone) }))}
        idOf={(r) => r.id}
      />
    </div>
  );
