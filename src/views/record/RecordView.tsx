import { doneAt } from '../../core/state/logged';
import type { RecordedEvent } from '../../core/acts/registry';
import { runState } from '../../core/acts/fold';
import { actWords } from '../../core/acts/words';
import { clockWords, doneLater } from './clock-words';
import { FileDown, FileText } from 'lucide-react';
import { useMemo, useState } from 'react';
import { withReview, type Certificate, type IssuedCertificate } from '../../core/certificate/certificate';
import { reviewWords, storedWords } from '../../core/certificate/certificate-words';
import { presentCertificate } from '../../core/certificate/version-1';
import { momentIn } from '../../core/quantity/day-in-zone';
import { hasPair, verdictAsFound, verdictAsLeft } from '../../core/run/run-results';
import { reviewPoints, tookPart } from '../../core/run/review-points';
import type { RunState } from '../../core/state/run-state';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { guarded } from '../../ui/guarded';
import { unbroken } from '../../ui/unbroken';
import { VerdictWord } from '../../ui/VerdictWord';
import { ResultDialog } from '../run/ResultDialog';
import type { OpenResult } from '../run/SeriesSheet';
import { SetSheets } from '../run/SetSheets';
import { CorrectionPanel } from './CorrectionPanel';
import { ReviewPanel } from './ReviewPanel';

const nobody: ReadonlySet<string> = new Set();

type LogLine = { event: RecordedEvent; state: RunState };

const logColumns: DataColumn<LogLine>[] = [
  {
    id: 'sequence',
    title: 'No.',
    align: 'right',
    className: 'figure align-top text-soft',
    sortBy: (l) => l.event.sequence,
    cell: (l) => l.event.sequence,
  },
  {
    id: 'when',
    title: 'When',
    className: 'figure align-top',
    cell: ({ event, state }) => (
      <>
        {momentIn(doneAt(event), state.timeZone)}
        {doneLater(event) && <span className="block text-xs text-soft">{doneLater(event)}</span>}
      </>
    ),
  },
  {
    id: 'who',
    title: 'Who',
    className: 'align-top whitespace-nowrap',
    sortBy: (l) => l.event.person,
    cell: (l) => (l.event.token ? `${l.event.person}, by token ${l.event.token}` : l.event.person),
  },
  {
    id: 'what',
    title: 'What',
    cell: ({ event, state }) => (
      <>
        {actWords(event.act, state)}
        {event.clock && <span className="caution mt-1 block">{clockWords(event.clock)}</span>}
      </>
    ),
  },
];

/** That it stood in one set-up with others, and when it was taken out of it. */
const setUpFact = ({ place, of, left }: NonNullable<RunState['setUp']>): [string, string] => [
  'Set-up',
  `number ${place} of ${of} in one set-up, read in order and back again; the reference was read once for all${left ? `. Taken out of it: ${left.reason}` : ''}`,
];

/** The issue that this one corrects, and what it says otherwise, side by side. */
function Replaces({ run, replaces }: { run: string; replaces: NonNullable<Certificate['replaces']> }) {
  return (
    <section className="mt-4" aria-label="Correction">
      <p>
        Replaces{' '}
        <a href={`/api/runs/${run}/certificate.pdf?number=${encodeURIComponent(replaces.number)}`} className="ident">
          {replaces.number}
        </a>{' '}
        of {replaces.issued}: {replaces.reason}.
      </p>
      {replaces.changes.length > 0 && (
        <table className="mt-2 w-full max-w-3xl text-sm">
          <thead>
            <tr className="border-b border-ink text-left">
              <th className="py-1 pr-4">What is different</th>
              <th className="py-1 pr-4">{replaces.number}</th>
              <th className="py-1">Now</th>
            </tr>
          </thead>
          <tbody>
            {replaces.changes.map((c) => (
              <tr key={c.what} className="border-b border-rule align-top">
                <td className="py-1 pr-4">{c.what}</td>
                <td className="figure py-1 pr-4">{unbroken(c.before)}</td>
                <td className="figure py-1">{unbroken(c.after)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** A finished run, read-only: results, certificate, and the log it was computed from. */
export const RecordView = guarded(function RecordView({
  run,
  events,
  issued,
  person,
  isOfOne,
}: {
  run: string;
  events: RecordedEvent[];
  /** The certificate of a finished run; null when it was broken off. */
  issued: IssuedCertificate | null;
  person: string;
  /** The laboratory has nobody else who could review. */ isOfOne: boolean;
}) {
  const state = useMemo(() => runState(events), [events]);
  const [opened, setOpened] = useState<OpenResult | null>(null);
  const isPair = hasPair(state);
  const certificate = useMemo(() => issued && presentCertificate(withReview(issued, state)), [issued, state]);
  const { instrument } = state;
  const facts: [string, string][] = certificate
    ? [
        ['Owner', certificate.owner],
        ['Measured', certificate.measured.from],
        ['Measured by', certificate.persons.measuredBy.join(', ')],
        ['Reviewed', reviewWords(certificate.persons, 'not yet')],
        ...certificate.standards.map((st): [string, string] => [
          'Standard',
          `${st.identification}, certificate ${st.certificate}`,
        ]),
        ...certificate.procedure.choices.map((c): [string, string] => [c.title, c.value]),
        ...certificate.instrument.details.map((d): [string, string] => [d.title, d.value]),
        ...(certificate.asFound.conditions.length
          ? ([['Conditions', certificate.asFound.conditions.map((c) => `${c.title} ${c.value}`).join('; ')]] as [
              string,
              string,
            ][])
          : []),
        ...[certificate.asFound, certificate.asLeft].flatMap((st): [string, string][] =>
          st?.incomplete ? [[`${st.title}: not complete`, st.incomplete]] : [],
        ),
        ['Decision rule', certificate.decisionRule],
        ...certificate.adjustments.map((a): [string, string] => [
          'Adjustment',
          [a.title, storedWords(a.stored)].filter(Boolean).join(': '),
        ]),
        ['Next calibration', `${certificate.next.date}: ${certificate.next.reason}`],
        ...(state.setUp ? [setUpFact(state.setUp)] : []),
        ...state.notes.map((n): [string, string] => ['Note', `${n.text} (${n.person})`]),
        ...certificate.remarks.map((r): [string, string] => ['Remark', r]),
      ]
    : [['Broken off', state.brokenOff ? `${state.brokenOff.reason} (${state.brokenOff.person})` : '']];

  return (
    <div>
      <div className="flex flex-wrap items-start gap-x-8 gap-y-3">
        <div className="min-w-0 flex-1 max-sm:basis-full">
          <p className="text-soft">
            <a href={`/instruments/${instrument.id}`} className="ident">
              {instrument.identification}
            </a>{' '}
            · {instrument.designation}
          </p>
          <h1 className="ident !text-3xl">{state.completed?.certificate ?? 'No certificate'}</h1>
          <p className="mt-1 flex flex-wrap gap-x-6">
            <span>
              ○ As found: <VerdictWord verdict={verdictAsFound(state)} />
            </span>
            {isPair ? (
              <span>
                ● As left: <VerdictWord verdict={verdictAsLeft(state)} />
              </span>
            ) : (
              certificate && <span className="text-soft">{unbroken(certificate.asLeftStatement)}</span>
            )}
          </p>
        </div>
        {certificate && (
          <div className="flex flex-wrap gap-3">
            <a href={`/api/runs/${run}/certificate.pdf`} className="button button-main">
              <FileText size={18} aria-hidden /> Certificate
            </a>
            <a href={`/api/runs/${run}/certificate.json`} className="button" download={`${certificate.number}.json`}>
              <FileDown size={18} aria-hidden /> As a data file
            </a>
            <a href={`/api/runs/${run}/record.json`} className="button" download>
              <FileDown size={18} aria-hidden /> Sealed record
            </a>
          </div>
        )}
      </div>
      {state.withdrawnIssue && (
        <p className="mt-4 border-l-8 border-brick bg-brick-tint px-4 py-3" role="status">
          <strong>Withdrawn</strong> by {state.withdrawnIssue.person} on {state.withdrawnIssue.at.slice(0, 10)}:{' '}
          {state.withdrawnIssue.reason}. Nothing rests on this calibration any more.
        </p>
      )}
      {certificate?.replaces && <Replaces run={run} replaces={certificate.replaces} />}
      {state.completed && state.reviewed && !state.withdrawnIssue && (
        <CorrectionPanel
          run={run}
          sequence={state.sequence}
          certificate={state.completed.certificate}
          names={instrument}
          person={person}
        />
      )}
      {state.completed && !state.reviewed && !state.withdrawnIssue && (
        <ReviewPanel
          run={run}
          sequence={state.sequence}
          tookPart={isOfOne ? nobody : tookPart(state)}
          points={reviewPoints(state, events)}
          person={person}
        />
      )}
      <div className="mt-5 grid gap-8 lg:grid-cols-[1fr_20rem]">
        <section className="min-w-0 overflow-x-auto">
          <SetSheets state={state} cursor={null} onOpen={setOpened} />
          <details className="mt-6">
            <summary className="cursor-pointer font-bold">The log: {events.length} entries</summary>
            <div className="mt-2">
              <DataTable
                label="The log"
                isSmall
                columns={logColumns}
                rows={events.map((event) => ({ event, state }))}
                idOf={(l) => String(l.event.sequence)}
              />
            </div>
            <p className="mt-1 text-sm text-soft">Times of the clock in {state.timeZone}. Entries are appended, never changed.</p>
          </details>
        </section>
        <aside>
          <dl className="ruled border-y border-rule bg-sheet">
            {facts.map(([label, value], i) => (
              <div key={i} className="px-4 py-2">
                <dt className="text-sm text-soft">{label}</dt>
                <dd>{value}</dd>
              </div>
            ))}
          </dl>
        </aside>
      </div>
      {opened && <ResultDialog state={state} opened={opened} run={run} onClose={() => setOpened(null)} />}
    </div>
  );
});
