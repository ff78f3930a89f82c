import { giveCalendarKey } from '../../../service/sign-in/people-service';
import { whoOf } from '../_device';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/due/calendar', ({ context }) =>
  giveCalendarKey(whoOf(context).person, new Date().toISOString()),
);
export const ALL = notAllowed;
