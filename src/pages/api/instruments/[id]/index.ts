import { changeInstrument, getInstrument } from '../../../../service/register-service';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/instruments/[id]', ({ id }) => getInstrument(id));
export const PUT = served('PUT /api/instruments/[id]', async ({ id, body, seen }) => {
  await changeInstrument(id, body, seen);
  return { id };
});
export const ALL = notAllowed;
