import { addDays, format, parseISO } from 'date-fns';
import { isDone } from '../core/state/progress';
import type { RunState } from '../core/state/run-state';
import { nextTurn, takesPart } from '../core/set-up/turn';
import { nextItem, sentenceOf, stageNames, stageOf, stagesOf, waitingNow } from '../core/run/next-step';
import { shortRange } from '../core/run/shown-value';
import { dueStanding } from '../core/traceability/standing';
import { database } from '../store/database';
import * as register from '../store/register';
import * as log from '../store/run-log';
import { today } from './laboratory-time';
import { quickBoard } from './quick-service';
import { statesNow } from './run-service';

const dueWithinDays = 60;
const standardNoticeDays = 90;
const mostChecks = 24;

/** What lies on the bench: one instrument, or several in one set-up; each number of readings is that of all of them. */
function onTheBench(address: string, states: RunState[], now: string) {
  const row = states.sort((a, b) => (a.setUp?.place ?? 0) - (b.setUp?.place ?? 0));
  const turn = row.length > 1 ? nextTurn(row) : null;
  const state = row[turn?.members[0] ?? 0]!;
  const item = nextItem(state);
  const { instrument } = state;
  const stage = stageOf(state, item);
  const readings = row.flatMap((s) => s.plan.flatMap((i) => (i.type === 'reading' ? [isDone(s, i)] : [])));
  const sentence = sentenceOf(state, item, now);
  return {
    address,
    identification: row.map((s) => s.instrument.identification).join(' '),
    owner: [...new Set(row.map((s) => s.instrument.owner))].join(', '),
    range: shortRange(instrument.usedLower, instrument.usedUpper, instrument.unit),
    stage: stageNames[stage],
    stages: stagesOf(state).map((s) => ({ title: stageNames[s], isHere: s === stage })),
    sentence: turn && !turn.isShared ? `${instrument.identification}: ${sentence}` : sentence,
    waitEndsAt: waitingNow(state, now)?.endsAt ?? null,
    startedAt: state.startedAt,
    startedBy: state.startedBy,
    taken: readings.filter(Boolean).length,
    wanted: readings.length,
  };
}

/** Everything the bench shows: open runs, runs to be signed, what is due, and standards about to run out. */
export async function benchBoard(now = new Date().toISOString()) {
  const db = await database();
  const day = await today(now);
  const [quick, open, unreviewed, due, counts, standards, hasStandards, laboratory] = await Promise.all([
    quickBoard(now, mostChecks),
    log.openRuns(db),
    log.unreviewedRuns(db),
    register.dueInstruments(db, format(addDays(parseISO(day), dueWithinDays), 'yyyy-MM-dd'), 12),
    register.countInstruments(db, day),
    register.standardsDue(db, format(addDays(parseISO(day), standardNoticeDays), 'yyyy-MM-dd')),
    register.hasStandards(db),
    register.readLaboratory(db),
  ]);
  const states = await statesNow(
    db,
    open.map((r) => r.id),
  );
  const benches = new Map<string, { address: string; states: RunState[] }>();
  for (const { id } of open) {
    const state = states.get(id);
    if (!state) continue;
    // What stands in one set-up is one thing on the bench.
    const address = takesPart(state) ? `/set-ups/${state.setUp!.id}` : `/runs/${id}`;
    const there = benches.get(address) ?? { address, states: [] };
    benches.set(address, there);
    there.states.push(state);
  }
  const runs = [...benches.values()].map(({ address, states }) => onTheBench(address, states, now));
  const onBench = new Set(open.map((r) => r.instrumentId));
  return {
    today: day,
    quick,
    runs,
    unreviewed,
    due: due
      .filter((i) => !onBench.has(i.id))
      .map((i) => ({
        id: i.id,
        identification: i.identification,
        owner: i.owner,
        designation: i.designation,
        nextDue: i.nextDue,
        ...dueStanding(i.nextDue, day),
      })),
    counts,
    standards: standards
      .map((s) => ({
        id: s.id,
        identification: s.identification,
        designation: s.designation,
        due: s.due,
        ...dueStanding(s.due, day, standardNoticeDays),
      }))
      .filter((s) => s.standing !== 'good' && s.standing !== 'none'),
    begun: {
      laboratory: (laboratory?.name ?? '') !== '',
      standards: hasStandards,
      instruments: counts.total > 0,
    },
  };
}
