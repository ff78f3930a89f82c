import { addDays, format, parseISO } from 'date-fns';
import { runState } from '../core/run/run-state';
import { actionSentence, nextAction, stageNames, stages } from '../core/run/next-action';
import { liveReadings } from '../core/run/run-state';
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
  const [open, unreviewed, due, counts, standards, people] = await Promise.all([
    log.openRuns(db),
    log.unreviewedRuns(db),
    register.dueInstruments(db, format(addDays(parseISO(day), dueWithinDays), 'yyyy-MM-dd'), 12),
    register.countInstruments(db, day),
    register.listStandards(db),
    register.listPeople(db),
  ]);
  const logs = await log.eventsOfRuns(
    db,
    open.map((r) => r.id),
  );
  const runs = open.map((row) => {
    const state = runState(logs.get(row.id)!);
    const action = nextAction(state, now);
    const taken =
      Object.values(state.passes['as-found']).flatMap(liveReadings).length +
      Object.values(state.passes['as-left']).flatMap(liveReadings).length;
    return {
      id: row.id,
      identification: state.instrument.identification,
      owner: state.instrument.owner,
      range: `${state.instrument.rangeLower}–${state.instrument.rangeUpper} mm`,
      stage: stageNames[action.stage],
      stageIndex: stages.indexOf(action.stage),
      sentence: actionSentence(state, action),
      soakEndsAt: action.kind === 'wait-for-soak' ? action.endsAt : null,
      startedAt: state.startedAt,
      startedBy: state.startedBy,
      taken,
      wanted: state.points.length * state.procedure.points.repeats * (state.adjustmentDecision?.adjust ? 2 : 1),
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
      .filter((s) => s.standing !== 'good'),
    isEmpty: counts.total === 0,
    hasStandards: standards.length > 0,
    hasPeople: people.length > 0,
  };
}
