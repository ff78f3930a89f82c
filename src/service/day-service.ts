import { addDays, format, parseISO } from 'date-fns';
import { runState } from '../core/acts/fold';
import { workingDays, type DayBoard, type DayWork, type WorkStep } from '../core/day/day-board';
import { remainingWork } from '../core/run/remaining-work';
import { takesPart } from '../core/set-up/turn';
import type { RunState } from '../core/state/run-state';
import { dueStanding } from '../core/traceability/standing';
import { database, type Database } from '../store/database';
import * as intervals from '../store/intervals';
import * as register from '../store/register';
import * as log from '../store/run-log';
import { turns } from './interval-service';
import { minuteOfDay, today } from './laboratory-time';
import { LeastUsed } from './least-used';
import { statesNow } from './run-service';

/** Instruments that are looked at, those due first; days ahead within which they are due. */
const most = 60;
const daysAhead = 14;
/** The most working days that are planned. */
export const mostDays = 5;

/** How a calibration goes as a whole, by the run that it was told from: a log's first entry never changes. */
const known = new LeastUsed<WorkStep[]>(2000);

/** What the last calibration of an instrument was begun with tells how the next one goes. */
async function workOf(db: Database, rows: intervals.DueRow[]): Promise<Map<string, { steps: WorkStep[]; standards: string[] }>> {
  const last = await log.latestFinishedRuns(
    db,
    rows.map((r) => r.id),
  );
  const begun = await log.firstEvents(
    db,
    [...last.values()].map((r) => r.id),
  );
  const turn = turns();
  const found = new Map<string, { steps: WorkStep[]; standards: string[] }>();
  for (const [instrument, run] of last) {
    const first = begun.get(run.id);
    if (first?.act.type !== 'run-started') continue;
    let steps = known.get(run.id);
    if (!steps) {
      await turn();
      steps = remainingWork(runState([first]), first.at);
      known.set(run.id, steps);
    }
    const standards = Object.values(first.act.standards).flatMap((all) => all.map((s) => s.id));
    found.set(instrument, { steps, standards });
  }
  return found;
}

/** What lies on the bench: what is left of it; several in one set-up are one piece of work. */
function onBench(address: string, states: RunState[], due: Map<string, string | null>, now: string): DayWork {
  const [first] = states;
  const days = states.flatMap((s) => due.get(s.instrument.id) ?? []);
  return {
    id: address,
    address,
    identification: states.map((s) => s.instrument.identification).join(' '),
    owner: [...new Set(states.map((s) => s.instrument.owner))].join(', '),
    due: days.sort()[0] ?? null,
    isOnBench: true,
    steps: remainingWork(first!, now, states.length),
    cautions: [],
  };
}

/** All that the next working days could be filled with: what lies on the bench, what is overdue, what comes due. */
export async function dayBoard(now = new Date().toISOString()): Promise<DayBoard> {
  const db = await database();
  const day = await today(now);
  const until = format(addDays(parseISO(workingDays(day, mostDays).at(-1)!), daysAhead), 'yyyy-MM-dd');
  const [open, rows, standards] = await Promise.all([
    log.openRuns(db),
    intervals.dueLines(db, {}, { until }, { offset: 0, most: most + 1 }),
    register.listStandards(db),
  ]);
  const states = await statesNow(
    db,
    open.map((r) => r.id),
  );
  const benches = new Map<string, RunState[]>();
  for (const [id, state] of states) {
    const address = takesPart(state) ? `/set-ups/${state.setUp!.id}` : `/runs/${id}`;
    benches.set(address, [...(benches.get(address) ?? []), state]);
  }
  const due = new Map(rows.map((r) => [r.id, r.nextDue]));
  const busy = new Set(open.map((r) => r.instrumentId));
  const waiting = rows.slice(0, most).filter((r) => !busy.has(r.id));
  const work = await workOf(db, waiting);
  const byId = new Map(standards.map((s) => [s.id, s]));
  const cautionsOf = (ids: string[]): string[] =>
    ids.flatMap((id) => {
      const standard = byId.get(id);
      return standard && dueStanding(standard.due, day).standing === 'expired'
        ? [
            `${standard.identification}, with which it was calibrated last, ran out on ${standard.due}: another one, or its new certificate.`,
          ]
        : [];
    });
  return {
    today: day,
    minute: await minuteOfDay(now),
    work: [
      ...[...benches].map(([address, there]) => onBench(address, there, due, now)),
      ...waiting.flatMap((row): DayWork[] => {
        const { steps, standards: used } = work.get(row.id) ?? { steps: [], standards: [] };
        if (steps.length === 0) return [];
        return [
          {
            id: row.id,
            address: `/instruments/${row.id}?start`,
            identification: row.identification,
            owner: row.owner,
            due: row.nextDue,
            isOnBench: false,
            steps,
            cautions: cautionsOf(used),
          },
        ];
      }),
    ],
    unplanned: waiting
      .filter((row) => !work.get(row.id)?.steps.length)
      .map((row) => ({
        id: row.id,
        identification: row.identification,
        why: work.has(row.id)
          ? 'Its procedure states no minutes.'
          : 'It was never calibrated here: nothing tells how long it takes.',
      })),
    isMore: rows.length > most,
  };
}
