import { writeCard } from '../../../../service/card-service';
import { notAllowed, served } from '../../_endpoint';

export const PUT = served('PUT /api/instruments/[id]/card', async ({ id, body }) => ({ version: await writeCard(id, body) }));
export const ALL = notAllowed;
