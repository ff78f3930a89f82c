import { dayIn } from '../../core/quantity/day-in-zone';
import type { RunSummary } from '../../core/run/run-summary';
import { SummaryMark, summaryWords } from '../../ui/SummaryMark';
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

/** The runs of one instrument, newest first. */
export function PastRuns({ runs, timeZone }: { runs: PastRun[]; timeZone: string }) {
  if (runs.length === 0) return <p className="mt-2 text-soft">None yet.</p>;
  return (
    <table className="mt-2 w-full border-collapse bg-sheet">
      <thead>
        <tr className="border-y border-rule-strong [&>th]:px-4 [&>th]:py-1.5">
          <th scope="col">Date</th>
          <th scope="col">Certificate</th>
          <th scope="col" className="text-right">
            As found
          </th>
          <th scope="col" className="text-right">
            As left
          </th>
          <th scope="col">Found and left</th>
          <th scope="col">Verdict as found</th>
        </tr>
      </thead>
      <tbody>
        {runs.map((run) => (
          <tr key={run.id} className="border-b border-rule [&>td]:px-4 [&>td]:py-1.5">
            <td className="figure">{dayIn(run.startedAt, timeZone)}</td>
            <td>
              <a href={`/runs/${run.id}`} className="ident">
                {run.certificate ?? (run.status === 'open' ? 'on the bench' : 'broken off')}
              </a>
              {run.certificate && !run.isReviewed && <span className="block text-sm text-ochre">to be signed</span>}
            </td>
            <td className="text-right">
              {run.summary?.found && (
                <>
                  <span className="figure whitespace-nowrap">{summaryWords(run.summary.found)}</span>
                  <span className="block text-sm text-soft">
                    {[run.summary.found.what, run.summary.found.point].filter(Boolean).join(', ')}
                  </span>
                </>
              )}
            </td>
            <td className="figure text-right">
              {run.summary?.left && (run.summary.adjusted ? summaryWords(run.summary.left) : 'same')}
            </td>
            <td>
              <SummaryMark summary={run.summary} />
            </td>
            <td>{run.summary && <VerdictWord verdict={run.summary.found?.verdict ?? null} short />}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
