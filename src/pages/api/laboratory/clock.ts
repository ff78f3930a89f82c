import { clockRightSchema, putClockRight } from '../../../service/clock-service';
import { accepting, notAllowed } from '../_endpoint';

export const POST = accepting(clockRightSchema, (values) => putClockRight(values));
export const ALL = notAllowed;
