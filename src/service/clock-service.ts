import * as z from 'zod';
import { clockRightSchema, type ClockRightRequest } from '../contract/requests';
import { database, writing, type Database } from '../store/database';
import * as register from '../store/register';
import { latestEventTime } from '../store/run-log';
import { requirePerson } from './require-person';
import { isClockBehind } from './server-clock';
import { ServiceError } from './service-error';

/** That times which the clock of this server gave were wrong: by whom and why it was said. */
const rightSchema = clockRightSchema.extend({ after: z.string(), until: z.string() });
export type ClockRight = z.infer<typeof rightSchema>;

const prefix = 'clock-right:';

/** What was said of wrong times, oldest first. */
export const clockRights = async (db: Database): Promise<ClockRight[]> =>
  (await register.factsOf(db, prefix)).map((value) => rightSchema.parse(JSON.parse(value)));

/** The latest time that something was recorded at, but for times that a person has said to be wrong; null where the clock is not behind it. */
export async function timeAhead(db: Database, now: string): Promise<string | null> {
  const latest = await latestEventTime(db, await clockRights(db));
  return isClockBehind(latest, now) ? latest : null;
}

/**
 * Says that what was recorded later than now was recorded by a clock that was wrong: certificates are issued again. The entries stay as
 * they are, marked where the clock jumped.
 * @throws ServiceError 409 where nothing is later than now
 */
export async function putClockRight({ person, reason }: ClockRightRequest, now = new Date().toISOString()): Promise<ClockRight> {
  const db = await database();
  return writing(db, async () => {
    await requirePerson(db, person);
    const until = await timeAhead(db, now);
    if (!until) throw new ServiceError(409, 'Nothing was recorded later than now: there is nothing to put right.');
    const right: ClockRight = { person, reason, after: now, until };
    await register.saveFact(db, `${prefix}${now}`, JSON.stringify(right));
    return right;
  });
}

/** The same of this laboratory, for its page. */
export const timeAheadNow = async (now: string): Promise<string | null> => timeAhead(await database(), now);
