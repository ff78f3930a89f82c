import { impactOfStandard } from '../../../../service/impact-service';
import { inLines, notAllowed, served } from '../../_endpoint';

export const POST = served('POST /api/standards/[id]/impact', ({ id, body, context }) =>
  Promise.resolve(inLines((progress, signal) => impactOfStandard(id, body.since, progress, signal), context)),
);
export const ALL = notAllowed;
