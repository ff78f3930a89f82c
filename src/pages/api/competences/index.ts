import { noteCompetence } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/competences', async ({ body, context }) => {
  const notedBy = context.locals.who?.person ?? '';
  return { ids: await noteCompetence(body, notedBy, new Date().toISOString()) };
});
export const ALL = notAllowed;
