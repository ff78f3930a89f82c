import { exportRecord } from '../../../../service/record-service';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/runs/[id]/record.json', async ({ id }) => {
  const text = await exportRecord(id);
  return new Response(text, {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="record-${id.replace(/[^A-Za-z0-9-]/g, '_')}.json"`,
      'cache-control': 'no-store',
    },
  });
});
export const ALL = notAllowed;
