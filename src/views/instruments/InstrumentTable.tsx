import type { RunSummary } from '../../core/run/run-summary';
import { dueStanding } from '../../core/traceability/standing';
import { DueWords } from '../../ui/DueTrack';
import { plainDecimal } from '../../core/quantity/rounding';
import { withPrintedUnit } from '../../core/run/shown-value';
import { SummaryMark } from '../../ui/SummaryMark';
import { kindTitle } from './kind-title';
import { VerdictWord } from '../../ui/VerdictWord';

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

/** The register as a list: each line shows how the instrument was found and left the last time. */
export function InstrumentTable({ rows, today }: { rows: ListedInstrument[]; today: string }) {
  return (
    <table className="mt-3 w-full border-collapse bg-sheet">
      <thead>
        <tr className="border-y border-rule-strong [&>th]:px-4 [&>th]:py-1.5">
          <th scope="col">Instrument</th>
          <th scope="col">Range</th>
          <th scope="col" className="max-lg:hidden">
            Owner and place
          </th>
          <th scope="col" className="text-right max-lg:hidden">
            Last
          </th>
          <th scope="col">Worst of it, found and left</th>
          <th scope="col">As found</th>
          <th scope="col">Next</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ instrument: i, latest }) => (
          <tr key={i.id} className="border-b border-rule hover:bg-paper [&>td]:px-4 [&>td]:py-1">
            <td>
              <a href={`/instruments/${i.id}`} className="ident font-bold max-lg:max-w-[8em]">
                {i.identification}
              </a>
              <span className="block text-sm text-soft">{[kindTitle(i.kind), i.designation].filter(Boolean).join(', ')}</span>
            </td>
            <td className="figure whitespace-nowrap">
              {plainDecimal(i.usedLower).replace('-', '−')}–{withPrintedUnit(plainDecimal(i.usedUpper), i.unit)}
            </td>
            <td className="max-lg:hidden">
              {i.owner}
              <span className="block text-sm text-soft">{i.place}</span>
            </td>
            <td className="figure text-right text-sm max-lg:hidden">{i.lastCalibrated ?? 'never'}</td>
            <td>
              {latest?.found ? <SummaryMark width={170} summary={latest} /> : <span className="text-soft">no run yet</span>}
            </td>
            <td>{latest?.found && <VerdictWord verdict={latest.found.verdict} short />}</td>
            <td>
              {i.state === 'out-of-use' ? (
                <span className="text-soft">out of use</span>
              ) : (
                <DueWords standing={dueStanding(i.nextDue, today)} />
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
