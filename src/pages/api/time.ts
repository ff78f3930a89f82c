import { notAllowed, served } from './_endpoint';

/** The server's time: every answer carries it in its head, this one nothing else. */
export const GET = served('GET /api/time', async () => ({ now: new Date().toISOString() }));
export const ALL = notAllowed;
