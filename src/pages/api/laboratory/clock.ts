import { putClockRight } from '../../../service/clock-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/laboratory/clock', ({ body }) => putClockRight(body));
export const ALL = notAllowed;
