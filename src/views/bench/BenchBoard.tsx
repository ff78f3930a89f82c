import { Timer, PenLine } from 'lucide-react';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { DueTrack, DueWords } from '../../ui/DueTrack';
import { timeLeft, timeOfDay, useNow } from '../../ui/clock';
import type { Standing } from '../../core/traceability/standing';
import type { QuickBoard } from '../../core/interval/checks-page';
import { MoreChecks, QuickList } from '../quick/QuickView';
import { FirstSteps, type Begun } from './FirstSteps';
import { guarded } from '../../ui/guarded';

type OpenRun = {
  address: string;
  identification: string;
  owner: string;
  range: string;
  stage: string;
  stages: { title: string; isHere: boolean }[];
  sentence: string;
  waitEndsAt: string | null;
  startedBy: string;
  taken: number;
  wanted: number;
};
type Due = {
  id: string;
  identification: string;
  owner: string;
  designation: string;
  nextDue: string | null;
  standing: Standing;
  days: number | null;
};
const dueColumns: DataColumn<Due>[] = [
  {
    id: 'identification',
    title: 'Instrument',
    sortBy: (i) => i.identification,
    cell: (i) => (
      <>
        <a href={`/instruments/${i.id}`} className="ident max-w-[13em] font-bold">
          {i.identification}
        </a>
        <span className="block text-sm text-soft">{i.designation}</span>
      </>
    ),
  },
  { id: 'owner', title: 'Owner', isWideOnly: true, sortBy: (i) => i.owner, cell: (i) => i.owner },
  {
    id: 'track',
    title: (
      <span className="flex w-[200px] justify-between">
        <span>overdue</span>
        <span className="pr-5">today</span>
        <span>90 days</span>
      </span>
    ),
    cell: (i) => <DueTrack days={i.days} />,
  },
  { id: 'due', title: 'Due', sortBy: (i) => i.days, cell: (i) => <DueWords standing={i} /> },
  {
    id: 'start',
    title: <span className="sr-only">Start</span>,
    align: 'right',
    cell: (i) => (
      <a href={`/instruments/${i.id}?start`} className="button">
        Start
      </a>
    ),
  },
];

type StandardDue = {
  id: string;
  identification: string;
  designation: string;
  due: string | null;
  standing: Standing;
  days: number | null;
};

export type Board = {
  quick: QuickBoard;
  runs: OpenRun[];
  unreviewed: { id: string; identification: string; certificate: string | null }[];
  due: Due[];
  counts: { total: number; overdue: number };
  standards: StandardDue[];
  begun: Begun;
};

/** How far a run has come: one tick a stage. */
function StageTicks({ stages }: { stages: OpenRun['stages'] }) {
  const index = stages.findIndex((s) => s.isHere);
  return (
    <svg width={stages.length * 14} height={12} aria-hidden>
      {stages.map((stage, i) => (
        <rect
          key={stage.title}
          x={i * 14}
          y={i <= index ? 2 : 5}
          width={11}
          height={i <= index ? 8 : 2}
          fill={i === index ? 'var(--color-verdigris)' : i < index ? 'var(--color-ink)' : 'var(--color-rule-strong)'}
        />
      ))}
    </svg>
  );
}

function RunOnBench({ run, now }: { run: OpenRun; now: string }) {
  const waiting = run.waitEndsAt !== null && Date.parse(run.waitEndsAt) > Date.parse(now);
  return (
    <li>
      <a
        href={run.address}
        className="grid gap-x-6 gap-y-1 px-4 py-4 no-underline hover:bg-verdigris-tint sm:grid-cols-[13rem_1fr_auto]"
      >
        <div>
          <div className="ident text-xl font-bold">{run.identification}</div>
          <div className="text-sm text-soft">
            {run.range} · {run.owner}
          </div>
        </div>
        <div>
          <div className="flex items-center gap-3">
            <StageTicks stages={run.stages} />
            <span className="font-bold">{run.stage}</span>
            {run.taken > 0 && (
              <span className="text-sm text-soft">
                {run.taken} of {run.wanted} readings
              </span>
            )}
          </div>
          <div className="mt-1">
            {run.waitEndsAt && !waiting ? 'The wait is over. Carry on when you are ready.' : run.sentence}
          </div>
        </div>
        <div className="self-center text-right">
          {waiting ? (
            <div>
              <div className="figure flex items-center gap-2 text-3xl font-bold">
                <Timer size={24} aria-hidden />
                {timeLeft(run.waitEndsAt!, now)}
              </div>
              <div className="text-sm text-soft">come back at {timeOfDay(run.waitEndsAt!)}</div>
            </div>
          ) : (
            <span className="button button-main">Carry on</span>
          )}
        </div>
      </a>
    </li>
  );
}

/** The bench: what lies on it now, and what comes next. */
export const BenchBoard = guarded(function BenchBoard({ board, startedAt }: { board: Board; startedAt: string }) {
  const now = useNow(startedAt);
  if (!board.begun.instruments) return <FirstSteps begun={board.begun} />;
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_21rem]">
      <div className="flex flex-col gap-8">
        <section>
          <h1>On the bench</h1>
          {board.runs.length === 0 ? (
            <p className="mt-3 border-y border-rule-strong bg-sheet px-4 py-5">
              The bench is clear. Take the first instrument from the list below.
            </p>
          ) : (
            <ul className="ruled mt-3 border-y border-rule-strong bg-sheet">
              {board.runs.map((run) => (
                <RunOnBench key={run.address} run={run} now={now} />
              ))}
            </ul>
          )}
        </section>
        <section>
          <div className="flex items-baseline justify-between">
            <h2>Due next</h2>
            <a href="/instruments" className="text-sm">
              All {board.counts.total} instruments
            </a>
          </div>
          {board.due.length === 0 ? (
            <p className="mt-2 border-y border-rule bg-sheet px-4 py-4">Nothing is due in the next 60 days.</p>
          ) : (
            <div className="mt-2">
              <DataTable label="Due" columns={dueColumns} rows={board.due} idOf={(i) => i.id} />
            </div>
          )}
        </section>
      </div>
      <aside className="flex flex-col gap-8">
        <section>
          <div className="flex items-baseline justify-between">
            <h2>Quick checks today</h2>
            <a href="/quick" className="text-sm">
              Scan a label
            </a>
          </div>
          {board.quick.wanted.length + board.quick.alarms.length === 0 ? (
            <p className="mt-2 border-y border-rule bg-sheet px-4 py-3 text-soft">None is wanted.</p>
          ) : (
            <>
              <QuickList lines={[...board.quick.alarms, ...board.quick.wanted]} />
              <MoreChecks board={board.quick} />
            </>
          )}
        </section>
        <section>
          <h2>To be signed</h2>
          <ul className="ruled mt-2 border-y border-rule bg-sheet">
            {board.unreviewed.length === 0 && <li className="px-4 py-3 text-soft">Nothing waits for a signature.</li>}
            {board.unreviewed.map((r) => (
              <li key={r.id}>
                <a href={`/runs/${r.id}`} className="flex items-center gap-3 px-4 py-3 no-underline hover:bg-verdigris-tint">
                  <PenLine size={18} aria-hidden />
                  <span className="ident font-bold">{r.identification}</span>
                  <span className="ident ml-auto text-sm text-soft">{r.certificate}</span>
                </a>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2>Standards running out</h2>
          <ul className="ruled mt-2 border-y border-rule bg-sheet">
            {board.standards.length === 0 && (
              <li className="px-4 py-3 text-soft">Every certificate is good for 90 days or more.</li>
            )}
            {board.standards.map((s) => (
              <li key={s.id}>
                <a href={`/standards/${s.id}`} className="block px-4 py-3 no-underline hover:bg-verdigris-tint">
                  <span className="flex items-baseline justify-between gap-3">
                    <span className="ident font-bold">{s.identification}</span>
                    <DueWords standing={s} />
                  </span>
                  <span className="block text-sm text-soft">{s.designation}</span>
                  {s.standing === 'expired' && (
                    <span className="block text-sm">Cannot be used until it has a new certificate.</span>
                  )}
                </a>
              </li>
            ))}
          </ul>
        </section>
      </aside>
    </div>
  );
});
