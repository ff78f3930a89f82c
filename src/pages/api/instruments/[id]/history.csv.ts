import { historyTable } from '../../../../service/history-service';
import { file, notAllowed, served } from '../../_endpoint';

export const GET = served('GET /api/instruments/[id]/history.csv', async ({ id }) => {
  const { identification, csv } = await historyTable(id);
  return file(csv, { type: 'text/csv; charset=utf-8', name: `history-${identification}`, ending: 'csv' });
});
export const ALL = notAllowed;
