import { changeStandard, getStandard } from '../../../../service/register-service';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/standards/[id]', ({ id }) => getStandard(id));
export const PUT = served('PUT /api/standards/[id]', async ({ id, body, seen }) => {
  await changeStandard(id, body, seen);
  return { id };
});
export const ALL = notAllowed;
