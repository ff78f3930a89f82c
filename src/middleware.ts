import { createHash } from 'node:crypto';
import type { APIContext, MiddlewareNext } from 'astro';
import { defineMiddleware } from 'astro:middleware';
import load from 'astro/runtime/client/load.prebuilt.js';
import { refused } from './pages/api/_endpoint';
import { ServiceError } from './service/service-error';
import { whoBears } from './service/token-service';
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

/** What is asked with a token is asked by its person; with one that is not good it is not answered. */
async function named(context: APIContext, next: MiddlewareNext): Promise<Response> {
  const header = context.isPrerendered ? null : context.request.headers.get('authorization');
  if (header === null) return next();
  try {
    context.locals.who = await whoBears(await database(), header, new Date().toISOString());
  } catch (error) {
    if (!(error instanceof ServiceError)) throw error;
    const response = refused(error);
    response.headers.set('www-authenticate', 'Bearer');
    return response;
  }
  return next();
}

/** Gives every page its policy. */
export const onRequest = defineMiddleware(async (context, next) => {
  const response = await named(context, next);
  const headers = new Headers(response.headers);
  // The bench counts on from the time of the last answer; what a page shows is kept by nobody on the way.
  headers.set('x-server-time', new Date().toISOString());
  if (!headers.has('cache-control')) headers.set('cache-control', 'no-store');
  const { status, statusText } = response;
  if (headers.get('content-type')?.startsWith('text/html')) headers.set('content-security-policy', policy);
  return new Response(response.body, { status, statusText, headers });
});
