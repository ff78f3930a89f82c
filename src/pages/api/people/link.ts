import { giveLink } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/people/link', ({ body }) => giveLink(body, new Date().toISOString()));
export const ALL = notAllowed;
