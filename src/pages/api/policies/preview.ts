import { policyRequestSchema, previewPolicy } from '../../../service/policy-service';
import { accepting, notAllowed } from '../_endpoint';

export const POST = accepting(policyRequestSchema, (request) => previewPolicy(request));
export const ALL = notAllowed;
