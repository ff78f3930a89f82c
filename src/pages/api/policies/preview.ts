import { policyRequestSchema, previewPolicy } from '../../../service/policy-service';
import { accepting, inLines, notAllowed } from '../_endpoint';

export const POST = accepting(policyRequestSchema, (request, context) =>
  Promise.resolve(inLines((progress, signal) => previewPolicy(request, progress, signal), context)),
);
export const ALL = notAllowed;
