import { appendAct, eventsAfter, loadRun } from '../../../../service/run-service';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/runs/[id]/events', async ({ id, query: { after } }) => ({
  events: after === undefined ? (await loadRun(id)).events : await eventsAfter(id, after),
}));
export const POST = served('POST /api/runs/[id]/events', ({ id, body, context }) =>
  appendAct(id, body, undefined, context.locals.who),
);
export const ALL = notAllowed;
