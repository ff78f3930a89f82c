import { makeCode } from '../../../service/sign-in/sign-in-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/people/code', async ({ body: { name } }) => makeCode(name, Date.now()));
export const ALL = notAllowed;
