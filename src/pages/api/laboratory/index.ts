import { changeLaboratory, getLaboratory } from '../../../service/register-service';
import { notAllowed, served } from '../_endpoint';

export const GET = served('GET /api/laboratory', getLaboratory);
export const PUT = served('PUT /api/laboratory', async ({ body }) => {
  await changeLaboratory(body);
  return body;
});
export const ALL = notAllowed;
