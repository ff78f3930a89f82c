import type { APIContext } from 'astro';
import type { From } from '../../service/sign-in/sign-in-service';
import type { Device } from '../../service/sign-in/who-acts';
import { ServiceError } from '../../service/service-error';
import type { Who } from '../../service/token-service';
import { json } from './_endpoint';

/** From where a request comes. */
export const fromOf = (context: APIContext): From => ({ headers: context.request.headers, address: context.clientAddress });

/** The device of a request, where it is signed in. @throws ServiceError 401 */
export function deviceOfRequest({ locals }: APIContext): Device {
  if (!locals.device) throw new ServiceError(401, 'Sign in first.');
  return locals.device;
}

/** Whoever acts. @throws ServiceError 401 */
export function whoOf({ locals }: APIContext): Who {
  if (!locals.who) throw new ServiceError(401, 'Sign in first.');
  return locals.who;
}

/** An answer with the cookies of a new session. */
export function withCookies(body: unknown, cookies: readonly string[]): Response {
  const response = json(body);
  for (const cookie of cookies) response.headers.append('set-cookie', cookie);
  return response;
}

/** What lets a browser forget its session. */
export const forgotten = (context: APIContext): string[] =>
  [...(context.request.headers.get('cookie') ?? '').matchAll(/(?:^|; )((?:__Secure-)?just-twice\.[\w.]+)=/g)].map(
    ([, name]) => `${name}=; Path=/; Max-Age=0; HttpOnly; SameSite=Lax${name!.startsWith('__Secure') ? '; Secure' : ''}`,
  );
