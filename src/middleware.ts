import { createHash } from 'node:crypto';
import type { APIContext, MiddlewareNext } from 'astro';
import { defineMiddleware } from 'astro:middleware';
import load from 'astro/runtime/client/load.prebuilt.js';
import { endpoints, type Endpoint } from './contract/endpoints';
import { isOwnerOnly } from './core/register/roles';
import { refused } from './pages/api/_endpoint';
import { ServiceError } from './service/service-error';
import { deviceOf } from './service/sign-in/who-acts';
import { linkCookie, whoBears } from './service/token-service';
import { database } from './store/database';
import island from 'astro/runtime/server/astro-island.prebuilt.js';

/** The only scripts that may stand in a page: those by which Astro wakes an island. Whatever else gets into a page is not run. */
const ownScripts = [load, island].map((body) => `'sha256-${createHash('sha256').update(body).digest('base64')}'`);

/**
 * The Content-Security-Policy of every page: scripts are files of this server, or one of two that are known beforehand.
 * Styles may stand in attributes, since charts and set formulas place their parts so.
 */
export function contentSecurityPolicy(isBuilt: boolean): string {
  // While it is developed, modules are put into the pages by the tool that serves them.
  const inline = isBuilt ? ownScripts.join(' ') : `'unsafe-inline'`;
  return [
    `default-src 'none'`,
    `script-src 'self' ${inline}`,
    `style-src 'self' 'unsafe-inline'`,
    `img-src 'self' data: blob:`,
    `font-src 'self' data:`,
    `connect-src 'self'`,
    `worker-src 'self'`,
    `form-action 'self'`,
    `base-uri 'none'`,
    `frame-ancestors 'none'`,
  ].join('; ');
}

const policy = contentSecurityPolicy(import.meta.env.PROD);

const isAsked = (path: string): boolean => path.startsWith('/api/') || path.endsWith('.ics');

/** Addresses that answer devices which are not signed in. */
const openPages = new Set(['/sign-in', '/404', '/500']);
const openEndpoints = new Set(Object.entries(endpoints).flatMap(([name, e]) => ((e as Endpoint).isOpen ? [name] : [])));
const isOpen = (method: string, path: string): boolean =>
  openPages.has(path) || /^\/mine\/jt_/.test(path) || openEndpoints.has(`${method} ${path}`);

const calendar = '/calendar.ics';

/** Where an owner comes: his own instruments with their calendar, and his way in. */
const ofOwners = /^\/(calendar\.ics|mine|me|sign-in|api\/(mine|me|sign-in))(\/|$)/;

/** Whether a request shows that somebody is there; a page that follows along by itself does not. */
const isByHand = ({ method, headers }: Request): boolean => method !== 'GET' || headers.get('sec-fetch-dest') === 'document';

/** Who asks: by a token its person, by a session whoever acts at the device. @throws ServiceError 401 for a token that is not good */
async function named({ request, locals, cookies, url }: APIContext): Promise<void> {
  const [db, now] = [await database(), Date.now()];
  const header = request.headers.get('authorization');
  if (header !== null) {
    locals.who = await whoBears(db, header, new Date(now).toISOString());
    return;
  }
  // A program that shows calendars can send nothing but the address that it was given.
  const key = url.pathname === calendar ? url.searchParams.get('key') : null;
  if (key !== null) {
    locals.who = await whoBears(db, `Bearer ${key}`, new Date(now).toISOString());
    return;
  }
  const device = await deviceOf(db, request.headers, now, isByHand(request));
  if (device) locals.device = device;
  if (device?.who) locals.who = device.who;
  const link = cookies.get(linkCookie)?.value;
  if (device || link === undefined) return;
  try {
    const who = await whoBears(db, `Bearer ${link}`, new Date(now).toISOString());
    // A link is an owner's: no other token gets in by a browser's cookie.
    if (isOwnerOnly(who.roles)) locals.who = who;
  } catch (error) {
    if (!(error instanceof ServiceError)) throw error;
    cookies.delete(linkCookie, { path: '/' });
  }
}

/** Lets through whoever is signed in, and whatever is open to all; others are shown the way in. */
async function admitted(context: APIContext, next: MiddlewareNext): Promise<Response> {
  const { pathname: path, search } = context.url;
  if (context.isPrerendered) return next();
  try {
    await named(context);
    const { who, device } = context.locals;
    if (isOpen(context.request.method, path)) return await next();
    if (!who && isAsked(path))
      throw device
        ? new ServiceError(401, 'Nobody has taken this bench over. Choose your name and type your digits.', ['person'], {
            isFree: true,
          })
        : new ServiceError(401, 'Sign in first.');
    if (!who) return context.redirect(`/sign-in?to=${encodeURIComponent(path + search)}`);
    if (isOwnerOnly(who.roles) && !ofOwners.test(path)) {
      if (isAsked(path)) throw new ServiceError(403, 'This is not open to owners of instruments.');
      return context.redirect('/mine');
    }
  } catch (error) {
    if (!(error instanceof ServiceError)) throw error;
    const response = refused(error);
    if (context.request.headers.has('authorization')) response.headers.set('www-authenticate', 'Bearer');
    return response;
  }
  return next();
}

/** Gives every page its policy. */
export const onRequest = defineMiddleware(async (context, next) => {
  const response = await admitted(context, next);
  const headers = new Headers(response.headers);
  // The bench counts on from the time of the last answer; what a page shows is kept by nobody on the way.
  headers.set('x-server-time', new Date().toISOString());
  if (!headers.has('cache-control')) headers.set('cache-control', 'no-store');
  const { status, statusText } = response;
  if (headers.get('content-type')?.startsWith('text/html')) headers.set('content-security-policy', policy);
  return new Response(response.body, { status, statusText, headers });
});
