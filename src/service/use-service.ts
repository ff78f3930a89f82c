import type { BackRequest, CountRequest, OutRequest } from '../contract/requests';
import { database, writing, type Database } from '../store/database';
import * as intervals from '../store/intervals';
import * as register from '../store/register';
import { today } from './laboratory-time';
import { requirePerson } from './require-person';
import { ServiceError } from './service-error';

/** Writes alone, about an instrument that there is, signed by a person who is known. */
async function about(id: string, signed: string, write: (db: Database) => Promise<unknown>): Promise<void> {
  const db = await database();
  await requirePerson(db, signed);
  await writing(db, async () => {
    if (!(await register.instrumentById(db, id))) throw new ServiceError(404, 'There is no instrument with this id.');
    await write(db);
  });
}

/**
 * Notes what a counter of hours or cycles showed.
 * @throws ServiceError 409 where it shows less than it did before, or more than it did later, and nobody has said that it was set back
 */
export async function noteCount(
  id: string,
  { isSetBack, ...request }: CountRequest,
  now = new Date().toISOString(),
): Promise<void> {
  if (request.day > (await today(now)))
    throw new ServiceError(422, 'This day is still to come. Type the day on which the counter was read.', ['day']);
  await about(id, request.person, async (db) => {
    const counts = await intervals.countsOf(db, [id]);
    const before = counts.findLast((c) => c.day <= request.day && c.count > request.count);
    const after = counts.find((c) => c.day > request.day && c.count < request.count);
    const odd = before ?? after;
    if (odd && !isSetBack)
      throw new ServiceError(
        409,
        `On ${odd.day} it showed ${odd.count}, and a counter only rises. Look again. If it was set back or exchanged, send it once more: then it counts from here.`,
        ['count'],
        { fallen: true },
      );
    await intervals.appendCount(db, { instrumentId: id, ...request, at: now });
  });
}

/** Takes an instrument out to be used. @throws ServiceError 409 where it is out already */
export async function takeOut(id: string, { place, person: by }: OutRequest, now = new Date().toISOString()): Promise<void> {
  await about(id, by, async (db) => {
    const last = await intervals.latestOuting(db, id);
    if (last?.what === 'out') throw new ServiceError(409, `It is out already: ${last.person} took it. Take it back first.`);
    await intervals.appendOuting(db, { instrumentId: id, what: 'out', place, at: now, person: by }, null);
  });
}

/** Takes an instrument back; what it was used is counted on. @throws ServiceError 409 where it is not out */
export async function takeBack(id: string, { used, person: by }: BackRequest, now = new Date().toISOString()): Promise<void> {
  const day = await today(now);
  await about(id, by, async (db) => {
    const last = await intervals.latestOuting(db, id);
    if (last?.what !== 'out') throw new ServiceError(409, 'It is not out: somebody has taken it back. Load the page again.');
    const before = (await intervals.countsOf(db, [id])).at(-1)?.count ?? 0;
    const row = { instrumentId: id, at: now, person: by };
    await intervals.appendOuting(db, { ...row, what: 'back', place: last.place }, { ...row, day, count: before + used });
  });
}
