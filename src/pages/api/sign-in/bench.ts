import { atDemoBench, handOn, takeOver, whoCanTake } from '../../../service/sign-in/sign-in-service';
import { signOffMinutes } from '../../../service/sign-in/who-acts';
import { deviceOfRequest, fromOf, withCookies } from '../_device';
import { notAllowed, served } from '../_endpoint';

export const GET = served('GET /api/sign-in/bench', async ({ context }) => {
  const device = deviceOfRequest(context);
  const { name, isBench, who, last } = device;
  return {
    name,
    isBench,
    person: who?.person ?? null,
    last,
    people: await whoCanTake(device),
    minutes: await signOffMinutes(),
  };
});
export const POST = served('POST /api/sign-in/bench', async ({ body, context }) => {
  const now = new Date().toISOString();
  if (context.locals.device) return takeOver(context.locals.device, body, now);
  const { person, cookies } = await atDemoBench(body, fromOf(context), now);
  return withCookies({ person }, cookies);
});
export const DELETE = served('DELETE /api/sign-in/bench', async ({ context }) => {
  await handOn(deviceOfRequest(context));
  return { done: true as const };
});
export const ALL = notAllowed;
