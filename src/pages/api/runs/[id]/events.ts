import { appendRequestSchema } from '../../../../service/run-request-schema';
import { appendAct, eventsAfter, loadRun } from '../../../../service/run-service';
import { accepting, answering, notAllowed } from '../../_endpoint';

export const GET = answering(async ({ params, url }) => {
  const after = url.searchParams.get('after');
  return { events: after === null ? (await loadRun(params.id!)).events : await eventsAfter(params.id!, after) };
});
export const POST = accepting(appendRequestSchema, (request, { params }) => appendAct(params.id!, request));
export const ALL = notAllowed;
