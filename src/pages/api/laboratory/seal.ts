import { holdAgainst, sealNow } from '../../../service/seal-service';
import { inLines, notAllowed, served } from '../_endpoint';

export const GET = served('GET /api/laboratory/seal', () => sealNow());
export const POST = served('POST /api/laboratory/seal', ({ body, context }) =>
  Promise.resolve(inLines((progress, signal) => holdAgainst(body.heads, progress, signal), context)),
);
export const ALL = notAllowed;
