import * as z from 'zod';
import { calendarDaySchema } from '../core/quantity/calendar-day';
import { database, writing } from '../store/database';
import * as intervals from '../store/intervals';
import * as register from '../store/register';
import { today } from './laboratory-time';
import { requirePerson } from './run-service';
import { ServiceError } from './service-error';

export const countRequestSchema = z.object({
  day: calendarDaySchema('The day'),
  count: z
    .number({ error: 'Type what the counter shows.' })
    .min(0, 'A counter shows nothing below 0.')
    .max(1e12, 'That is more than any counter shows.'),
  person: z.string().trim().min(1, 'Say who you are: choose your name at the top of the page.').max(120),
});

/** Notes what a counter of hours or cycles showed, when it was checked out or read. */
export async function noteCount(
  id: string,
  request: z.infer<typeof countRequestSchema>,
  now = new Date().toISOString(),
): Promise<void> {
  const db = await database();
  if (request.day > (await today(now)))
    throw new ServiceError(422, 'This day is still to come. Type the day on which the counter was read.', ['day']);
  await requirePerson(db, request.person);
  await writing(db, async () => {
    if (!(await register.instrumentById(db, id))) throw new ServiceError(404, 'There is no instrument with this id.');
    await intervals.appendCount(db, { instrumentId: id, ...request, at: now });
  });
}
