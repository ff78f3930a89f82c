import { deedTable } from '../../service/sign-in/deed-service';
import { file, notAllowed, served } from './_endpoint';

export const GET = served('GET /api/deeds.csv', async ({ query }) =>
  file(await deedTable(query), { type: 'text/csv; charset=utf-8', name: 'who-did-what', ending: 'csv' }),
);
export const ALL = notAllowed;
