import { FileJson, FileText } from 'lucide-react';
import { useMemo, useState } from 'react';
import { withReview, type Certificate } from '../../core/certificate/certificate';
import type { Pass, RecordedEvent } from '../../core/run/event-schema';
import { momentIn } from '../../core/quantity/calendar-day';
import { passResults, passVerdict, type PointResult } from '../../core/run/point-results';
import { runState } from '../../core/run/run-state';
import { VerdictWord } from '../../ui/VerdictWord';
import { BudgetDialog } from '../run/BudgetDialog';
import { PassTabs } from '../run/PassTabs';
import { PointSheet } from '../run/PointSheet';
import { ReviewPanel } from './ReviewPanel';
import { actWords, clockWords } from './act-words';
import { guarded } from '../../ui/guarded';

/** A finished run, read-only: results, certificate, and the log it was computed from. */
export const RecordView = guarded(function RecordView({
  run,
  events,
  issued,
  person,
}: {
  run: string;
  events: RecordedEvent[];
  /** The certificate of a finished run; null when it was broken off. */
  issued: Certificate | null;
  person: string;
}) {
  const state = useMemo(() => runState(events), [events]);
  const [shown, setShown] = useState<Pass>(state.adjustment ? 'as-left' : 'as-found');
  const [opened, setOpened] = useState<PointResult | null>(null);
  const found = useMemo(() => passResults(state, 'as-found'), [state]);
  const left = useMemo(() => (state.adjustment ? passResults(state, 'as-left') : []), [state]);
  const certificate = useMemo(() => issued && withReview(issued, state), [issued, state]);
  const { instrument } = state;
  const facts: [string, string][] = certificate
    ? [
        ['Owner', certificate.owner],
        ['Measured', certificate.measured.from],
        ['Measured by', certificate.persons.measuredBy.join(', ')],
        [
          'Reviewed',
          certificate.persons.reviewedBy ? `${certificate.persons.reviewedBy}, ${certificate.persons.reviewedOn}` : 'not yet',
        ],
        ['Standard', certificate.standards.map((s) => `${s.identification}, certificate ${s.certificate}`).join('; ')],
        [
          'Temperatures',
          certificate.asFound.conditions
            .map((c) => `room ${c.room}, instrument ${c.instrument}, blocks ${c.standard} °C`)
            .join('; '),
        ],
        ['Decision rule', certificate.decisionRule],
        ...(certificate.adjustment
          ? ([
              [
                'Adjustment',
                `${certificate.adjustment.kind}: ${certificate.adjustment.before} before, ${certificate.adjustment.after} after`,
              ],
            ] as [string, string][])
          : []),
        ['Next calibration', `${certificate.next.date}: ${certificate.next.reason}`],
        ...state.notes.map((n): [string, string] => ['Note', `${n.text} (${n.person})`]),
        ...certificate.remarks.map((r): [string, string] => ['Remark', r]),
      ]
    : [['Broken off', state.abandoned ? `${state.abandoned.reason} (${state.abandoned.person})` : '']];

  return (
    <div>
      <div className="flex flex-wrap items-start gap-x-8 gap-y-3">
        <div className="mr-auto">
          <p className="text-soft">
            <a href={`/instruments/${instrument.id}`} className="ident">
              {instrument.identification}
            </a>{' '}
            · {instrument.designation}
          </p>
          <h1 className="ident !text-3xl">{state.completed?.certificate ?? 'No certificate'}</h1>
          <p className="mt-1 flex flex-wrap gap-x-6">
            <span>
              ○ As found: <VerdictWord verdict={passVerdict(state, 'as-found', found)} />
            </span>
            {state.adjustment ? (
              <span>
                ● As left: <VerdictWord verdict={passVerdict(state, 'as-left', left)} />
              </span>
            ) : (
              certificate && <span className="text-soft">{certificate.asLeftStatement}</span>
            )}
          </p>
        </div>
        {certificate && (
          <div className="flex gap-3">
            <a href={`/api/runs/${run}/certificate.pdf`} className="button button-main">
              <FileText size={18} aria-hidden /> Certificate
            </a>
            <a href={`/api/runs/${run}/certificate.json`} className="button" download={`${certificate.number}.json`}>
              <FileJson size={18} aria-hidden /> As JSON
            </a>
          </div>
        )}
      </div>
      {state.completed && !state.reviewed && (
        <ReviewPanel run={run} sequence={state.sequence} finishedBy={state.completed.person} person={person} />
      )}
      <div className="mt-5 grid gap-8 lg:grid-cols-[1fr_20rem]">
        <section className="min-w-0 overflow-x-auto">
          {state.adjustment && <PassTabs shown={shown} onShow={setShown} inTabOrder />}
          <PointSheet
            state={state}
            pass={shown}
            found={found}
            left={state.adjustment ? left : found}
            cursor={null}
            onOpen={setOpened}
          />
          <details className="mt-6">
            <summary className="cursor-pointer font-bold">The log: {events.length} entries</summary>
            <table className="mt-2 w-full border-collapse bg-sheet text-sm">
              <tbody>
                {events.map((e) => (
                  <tr key={e.sequence} className="border-b border-rule [&>td]:px-3 [&>td]:py-1 [&>td]:align-top">
                    <td className="figure text-right text-soft">{e.sequence}</td>
                    <td className="figure">{momentIn(e.at, state.timeZone)}</td>
                    <td className="whitespace-nowrap">{e.person}</td>
                    <td>
                      {actWords(e.act, state)}
                      {e.clock && <span className="caution mt-1 block">{clockWords(e.clock)}</span>}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="mt-1 text-sm text-soft">Times in UTC. Entries are appended, never changed.</p>
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
      {opened && <BudgetDialog result={opened} run={run} onClose={() => setOpened(null)} />}
    </div>
  );
});
