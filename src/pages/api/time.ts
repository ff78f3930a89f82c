import { answering, notAllowed } from './_endpoint';

/** The server's time: every answer carries it in its head, this one nothing else. */
export const GET = answering(async () => ({ now: new Date().toISOString() }));
export const ALL = notAllowed;
