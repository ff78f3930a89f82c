import { isTimeZone } from '../core/quantity/calendar-day';
import { dayIn, momentIn } from '../core/quantity/day-in-zone';
import { database } from '../store/database';
import { readLaboratory } from '../store/register';

let zoneOfMachine: string | undefined;

/** The zone of the machine that serves: the laboratory's until it names its own. Asked once: it costs as much as a page may. */
export const machineZone = (): string => {
  if (zoneOfMachine === undefined) {
    const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
    zoneOfMachine = isTimeZone(zone) ? zone : 'UTC';
  }
  return zoneOfMachine;
};

/** Where the laboratory's days begin and end. */
export async function laboratoryZone(): Promise<string> {
  return (await readLaboratory(await database()))?.timeZone ?? machineZone();
}

/** The laboratory's day, now or at an instant. */
export const today = async (instant = new Date().toISOString()): Promise<string> => dayIn(instant, await laboratoryZone());

/** The minute of the laboratory's day, now or at an instant. */
export async function minuteOfDay(instant = new Date().toISOString()): Promise<number> {
  const [, hours, minutes] = / (\d\d):(\d\d):/.exec(momentIn(instant, await laboratoryZone()))!;
  return 60 * Number(hours) + Number(minutes);
}
