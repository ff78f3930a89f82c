import { setPolicy, setPolicyRequestSchema } from '../../../service/policy-service';
import { accepting, notAllowed } from '../_endpoint';

export const POST = accepting(setPolicyRequestSchema, async (request) => {
  await setPolicy(request);
  return { set: true };
});
export const ALL = notAllowed;
