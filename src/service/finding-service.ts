import type { Finding } from '../core/register/finding';
import type { FindingRequest } from '../contract/requests';
import { database } from '../store/database';
import * as store from '../store/findings';
import { today } from './laboratory-time';
import { getInstrument } from './register-service';
import { requirePerson } from './require-person';
import { ServiceError } from './service-error';

/** Findings of an instrument beside its calibrations, latest first. */
export const findingsOf = async (id: string): Promise<Finding[]> => (await store.findingsOf(await database(), id)).reverse();

/** Notes a finding. @throws ServiceError 422 where its day is still to come */
export async function noteFinding(id: string, request: FindingRequest, now = new Date().toISOString()): Promise<void> {
  const db = await database();
  await requirePerson(db, request.person);
  await getInstrument(id);
  if (request.day > (await today(now)))
    throw new ServiceError(422, 'This day is still to come. Type the day on which it was found or done.', ['day']);
  await store.appendFinding(db, id, { ...request, at: now });
}
