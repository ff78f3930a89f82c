import { giveToken } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/tokens', ({ body }) => giveToken(body, new Date().toISOString()));
export const ALL = notAllowed;
