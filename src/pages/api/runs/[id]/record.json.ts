import { exportRecord } from '../../../../service/record-service';
import { file, notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/runs/[id]/record.json', async ({ id }) =>
  file(await exportRecord(id), { type: 'application/json; charset=utf-8', name: `record-${id}`, ending: 'json' }),
);
export const ALL = notAllowed;
