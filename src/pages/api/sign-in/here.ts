import { whoOf } from '../_device';
import { notAllowed, served } from '../_endpoint';

/** That it was asked is what counts. */
export const POST = served('POST /api/sign-in/here', async ({ context }) => ({ person: whoOf(context).person }));
export const ALL = notAllowed;
