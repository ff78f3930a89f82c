import { historyTable } from '../../../../service/history-service';
import { notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/instruments/[id]/history.csv', async ({ id }) => {
  const { identification, csv } = await historyTable(id);
  const name = identification.replace(/[^A-Za-z0-9-]+/g, '-').slice(0, 60);
  return new Response(csv, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': `attachment; filename="history-${name}.csv"`,
      'cache-control': 'no-store',
    },
  });
});
export const ALL = notAllowed;
