import { setTimeout as pause } from 'node:timers/promises';
import { checkStanding } from '../core/interval/quick-checks';
import { dayIn } from '../core/quantity/day-in-zone';
import { writing, type Database } from '../store/database';
import * as intervals from '../store/intervals';
import * as standings from '../store/standings';
import { chartsOf, rulingChart, valuesOf } from './interval-service';
import { laboratoryZone } from './laboratory-time';

/** Instruments whose standing is worked out while somebody waits for a list of them. */
const mostInPassing = 20;

/** Works out how the checks of an instrument stand, from its runs. */
async function deriveStanding(db: Database, { id, kind }: { id: string; kind: string }, zone: string): Promise<void> {
  await writing(db, async () => {
    const renewed = (await intervals.calibrationsOf(db, [id])).findLast((row) => row.summary?.adjusted);
    const chart = rulingChart((await chartsOf(db, [{ id, kind }], () => renewed && dayIn(renewed.finishedAt, zone))).get(id)!);
    const lastAt = await intervals.latestQuickRun(db, id);
    const standing = checkStanding(chart);
    const known = lastAt && { lastAt, lastDay: dayIn(lastAt, zone), standing, rings: standing.state === 'rings' };
    await standings.keepStanding(db, id, known || null);
  });
}

/** Works out some of the standings that are missing. @returns whether more are missing still */
export async function deriveStandings(db: Database, most = mostInPassing): Promise<boolean> {
  const missing = await standings.withoutStanding(db, most + 1);
  const zone = await laboratoryZone();
  for (const instrument of missing.slice(0, most)) await deriveStanding(db, instrument, zone);
  return missing.length > most;
}

/** Rest between two pieces of work that nobody waits for, in ms: whoever comes meanwhile has his turn. */
const rest = 25;

/**
 * Works out everything derived that is missing, a little at a time; begun anew it goes on where it was left.
 * @param isEnough asked between two pieces of work
 */
export async function deriveAll(db: Database, isEnough: () => boolean = () => false): Promise<void> {
  while (!isEnough()) {
    const runs = await standings.runsWithoutPairs(db, 4);
    if (runs.length === 0) break;
    await valuesOf(db, runs);
    await pause(rest);
  }
  while (!isEnough() && (await deriveStandings(db, 4))) await pause(rest);
}
