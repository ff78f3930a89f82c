import { historyTable } from '../../../../service/history-service';
import { answering, notAllowed } from '../../_endpoint';

export const GET = answering(async ({ params }) => {
  const { identification, csv } = await historyTable(params.id!);
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
