import { addDays, format, parseISO } from 'date-fns';
import { runState } from '../core/run/run-state';
import { nextItem, sentenceOf, stageNames, stageOf, stagesOf, waitingNow } from '../core/run/next-step';
import { isDone } from '../core/run/run-state';
import { withPrintedUnit } from '../core/run/shown-value';
import { plainDecimal } from '../core/quantity/rounding';
import { dueStanding } from '../core/traceability/standing';
import { database } from '../store/database';
import * as register from '../store/register';
import * as log from '../store/run-log';
import { today } from './laboratory-time';

const dueWithinDays = 60;
const standardNoticeDays = 90;

/** Everything the bench shows: open runs, runs to be signed, what is due, and standards about to run out. */
export async function benchBoard(now = new Date().toISOString()) {
  const db = await database();
  const day = await today(now);
  const [open, unreviewed, due, counts, standards, people, laboratory] = await Promise.all([
    log.openRuns(db),
    log.unreviewedRuns(db),
    register.dueInstruments(db, format(addDays(parseISO(day), dueWithinDays), 'yyyy-MM-dd'), 12),
    register.countInstruments(db, day),
    register.listStandards(db),
    register.listPeople(db),
    register.readLaboratory(db),
  ]);
  const logs = await log.eventsOfRuns(
    db,
    open.map((r) => r.id),
  );
  const runs = open.map((row) => {
    const state = runState(logs.get(row.id)!);
    const item = nextItem(state);
    const { instrument } = state;
    const stage = stageOf(state, item);
    const readings = state.plan.filter((i) => i.type === 'reading');
    return {
      id: row.id,
      identification: instrument.identification,
      owner: instrument.owner,
      range: `${plainDecimal(instrument.usedLower)} to ${withPrintedUnit(plainDecimal(instrument.usedUpper), instrument.unit)}`,
      stage: stageNames[stage],
      stages: stagesOf(state).map((s) => ({ title: stageNames[s], isHere: s === stage })),
      sentence: sentenceOf(state, item, now),
      waitEndsAt: waitingNow(state, now)?.endsAt ?? null,
      startedAt: state.startedAt,
      startedBy: state.startedBy,
      taken: readings.filter((i) => isDone(state, i)).length,
      wanted: readings.length,
    };
  });
  const onBench = new Set(open.map((r) => r.instrumentId));
  return {
    today: day,
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
      people: people.length > 0,
      standards: standards.length > 0,
      instruments: counts.total > 0,
    },
  };
}
