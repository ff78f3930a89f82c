import { previewPolicy } from '../../../service/policy-service';
import { inLines, notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/policies/preview', async ({ body, context }) =>
  inLines((progress, signal) => previewPolicy(body, progress, signal), context),
);
export const ALL = notAllowed;
