import { createHash } from 'node:crypto';
import { defineMiddleware } from 'astro:middleware';

/** Bodies of the scripts that stand in a page itself, as they are hashed: every character between the tags. */
const inlineScript = /<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/gi;

/**
 * The Content-Security-Policy of a page: scripts are files of this server, or stand in the page and are named by their hash.
 * Styles may stand in attributes, since charts and set formulas place their parts so.
 */
export function contentSecurityPolicy(html: string): string {
  const hashes = [
    ...new Set([...html.matchAll(inlineScript)].map(([, body]) => createHash('sha256').update(body!).digest('base64'))),
  ];
  return [
    `default-src 'none'`,
    `script-src 'self' ${hashes.map((h) => `'sha256-${h}'`).join(' ')}`.trim(),
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

/** Gives every page its policy. Only the text that is sent can say which scripts stand in it, so it is read first. */
export const onRequest = defineMiddleware(async (_context, next) => {
  const response = await next();
  const headers = new Headers(response.headers);
  // The bench counts on from the time of the last answer; what a page shows is kept by nobody on the way.
  headers.set('x-server-time', new Date().toISOString());
  if (!headers.has('cache-control')) headers.set('cache-control', 'no-store');
  const { status, statusText } = response;
  if (!headers.get('content-type')?.startsWith('text/html')) return new Response(response.body, { status, statusText, headers });
  const html = await response.text();
  headers.set('content-security-policy', contentSecurityPolicy(html));
  return new Response(html, { status, statusText, headers });
});
