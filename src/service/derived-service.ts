import { setTimeout as pause } from 'node:timers/promises';
import { checkStanding } from '../core/interval/quick-checks';
import { dayIn } from '../core/quantity/day-in-zone';
import { writing, type Database } from '../store/database';
import * as intervals from '../store/intervals';
import * as standings from '../store/standings';
import { chartsOf, rulingChart, valuesOf } from './interval-service';
import { laboratoryZone } from './laboratory-time';
import { log } from './log';

/** Instruments whose standing is worked out while somebody waits for a list of them. */
const mostInPassing = 20;

/** Works out how the checks of an instrument stand, from its runs. */
async function deriveStanding(db: Database, { id, kind }: { id: string; kind: string }, zone: string): Promise<void> {
  await writing(db, async () => {
    const renewed = (await intervals.calibrationsOf(db, [id])).findLast((row) => row.summary?.adjusted);
    const chart = rulingChart((await chartsOf(db, [{ id, kind }], () => renewed && dayIn(renewed.finishedAt, zone))).get(id)!);
    const lastAt = await intervals.latestQuickRun(db, id);
    const standing = checkStanding(chart);
    const known = lastAt && { lastAt, lastDay: dayIn(lastAt, zone), standing, isAlarm: standing.state === 'alarm' };
    await standings.keepStanding(db, id, known || null);
  });
}

/** Does one piece of work; what cannot be done is told in the log, and stands in nobody's way. */
async function isDone(what: string, id: string, work: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (error) {
    log.warn({ err: error, [what]: id }, 'what is derived of it cannot be worked out');
    return false;
  }
}

/** Works out some of the standings that are missing. @returns how many it made, and whether more are missing still */
export async function deriveStandings(db: Database, most = mostInPassing): Promise<{ made: number; isMore: boolean }> {
  const missing = await standings.withoutStanding(db, most + 1);
  const zone = missing.length ? await laboratoryZone() : '';
  let made = 0;
  for (const instrument of missing.slice(0, most))
    if (await isDone('instrument', instrument.id, () => deriveStanding(db, instrument, zone))) made++;
  return { made, isMore: missing.length > made };
}

/** Rest between two pieces of work that nobody waits for, in ms: whoever comes meanwhile has his turn. */
const rest = 25;
/** Pieces between two rests. */
const piece = 4;

/**
 * Works out everything derived that is missing, a little at a time; begun anew it goes on where it was left. It ends where nothing more
 * can be done.
 * @param isEnough asked between two pieces of work
 */
export async function deriveAll(db: Database, isEnough: () => boolean = () => false): Promise<void> {
  const piecemeal = async (work: () => Promise<{ made: number; isMore: boolean }>) => {
    while (!isEnough()) {
      const { made, isMore } = await work();
      if (made === 0 || !isMore) return;
      await pause(rest);
    }
  };
  await piecemeal(async () => {
    const runs = await standings.runsWithoutPairs(db, piece + 1);
    let made = 0;
    for (const run of runs.slice(0, piece)) if (await isDone('run', run, () => valuesOf(db, [run]))) made++;
    return { made, isMore: runs.length > made };
  });
  await piecemeal(() => deriveStandings(db, piece));
}
