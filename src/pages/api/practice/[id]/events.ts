import { appendToPractice, loadPractice } from '../../../../service/practice-service';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/practice/[id]/events', async ({ id, query: { after = 0 } }) => ({
  events: (await loadPractice(id)).events.filter((e) => e.sequence > after),
}));
export const POST = served('POST /api/practice/[id]/events', ({ id, body }) => appendToPractice(id, body));
export const ALL = notAllowed;
