import { appendRequestSchema } from '../../../../service/run-request-schema';
import { appendAct, loadRun } from '../../../../service/run-service';
import { accepting, answering, notAllowed } from '../../_endpoint';

export const GET = answering(async ({ params }) => ({ events: (await loadRun(params.id!)).events }));
export const POST = accepting(appendRequestSchema, (request, { params }) => appendAct(params.id!, request));
export const ALL = notAllowed;
