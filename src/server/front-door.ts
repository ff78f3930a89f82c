import { randomUUID } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { networkInterfaces } from 'node:os';
import { constants } from 'node:zlib';
import compression from 'compression';
import sirv from 'sirv';
import type { Configuration } from '../store/configuration';
import { log } from '../service/log';

/** What the pages are served by: Astro's handler in its middleware mode. */
export type Pages = (
  request: IncomingMessage,
  response: ServerResponse,
  next: (error?: unknown) => void,
  locals: App.Locals,
) => Promise<void> | void;

const methods = ['GET', 'HEAD', 'POST', 'PUT', 'DELETE', 'OPTIONS'];
const isSafe = (method: string) => method === 'GET' || method === 'HEAD' || method === 'OPTIONS';

/** The hosts that requests may name: those of the configuration, else the address it listens on and localhost. */
export function allowedHosts({ HOSTS, HOST, PORT }: Pick<Configuration, 'HOSTS' | 'HOST' | 'PORT'>): string[] {
  if (HOSTS.length) return HOSTS;
  const own =
    HOST === '0.0.0.0' || HOST === '::'
      ? Object.values(networkInterfaces()).flatMap((i) => (i ?? []).map((a) => a.address))
      : [HOST];
  const named = own.map((a) => (a.includes(':') ? `[${a.replace(/%.*/, '')}]` : a));
  return [...new Set([...named, 'localhost', '127.0.0.1', '[::1]'])].map((h) => `${h.toLowerCase()}:${PORT}`);
}

/** Whether a host is one of the list; an entry without a port allows any. */
export function isAllowedHost(host: string | undefined, allowed: readonly string[]): boolean {
  if (!host) return false;
  const name = host.toLowerCase();
  const withPort = /:\d+$/.test(name) ? name : `${name}:80`;
  return allowed.some((a) => a === name || a === withPort || a === name.replace(/:\d+$/, ''));
}

/** Whether a request that changes something comes from a page of this server. A request without an origin is not a browser's. */
export function isOwnOrigin(origin: string | undefined, allowed: readonly string[]): boolean {
  if (origin === undefined) return true;
  try {
    return isAllowedHost(new URL(origin).host, allowed);
  } catch {
    return false; // "null": a sandboxed page or a file
  }
}

const secure: Record<string, string> = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'x-frame-options': 'DENY',
  'content-security-policy': `default-src 'none'; frame-ancestors 'none'`,
};

/** A worker compiles the checked tree of a model into a loop; it alone may, and it loads nothing else. */
const workerPolicy = `default-src 'none'; script-src 'self' 'unsafe-eval'; connect-src 'self'; worker-src 'self'; frame-ancestors 'none'`;

function refuse(response: ServerResponse, status: number, message: string, headers: Record<string, string> = {}): void {
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store', ...headers });
  response.end(JSON.stringify({ error: { message, path: [] } }));
}

/**
 * The handler of every request: says for whom it answers, gives each request a name, its security headers and a line in the log,
 * then files, then pages.
 */
export function frontDoor(configuration: Configuration, pages: Pages, clientFolder: string) {
  const allowed = allowedHosts(configuration);
  const trusts = configuration.TRUST_PROXY === '1';
  const files = sirv(clientFolder, {
    etag: true,
    // Made by the build, beside each file.
    brotli: true,
    gzip: true,
    setHeaders: (response, path) => {
      if (path.startsWith('/_astro/')) response.setHeader('cache-control', 'public, max-age=31536000, immutable');
      if (/\/core-worker[^/]*\.js$/.test(path)) response.setHeader('content-security-policy', workerPolicy);
    },
  });

  // Pages and answers are packed as they are made; quickly rather than tightly.
  const packed = compression({ threshold: 1400, brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 3 } } });

  return (request: IncomingMessage, response: ServerResponse): void => {
    const name = randomUUID().slice(0, 8);
    const began = performance.now();
    const method = request.method ?? 'GET';
    const path = (request.url ?? '/').split('?')[0]!;
    for (const [header, value] of Object.entries({ ...secure, 'x-request-id': name })) response.setHeader(header, value);
    response.on('finish', () => {
      const line = { request: name, method, path, status: response.statusCode, ms: Math.round(performance.now() - began) };
      if (response.statusCode >= 500) log.error(line, 'answered');
      else if (isSafe(method)) log.debug(line, 'answered');
      else log.info(line, 'answered');
    });

    if (trusts && typeof request.headers['x-forwarded-host'] === 'string')
      request.headers.host = request.headers['x-forwarded-host'].split(',')[0]!.trim();
    request.headers = Object.fromEntries(
      Object.entries(request.headers).filter(([header]) => !header.startsWith('x-forwarded-')),
    );

    if (!methods.includes(method))
      return refuse(response, 405, 'This address does not take this method.', { allow: methods.join(', ') });
    if (!isAllowedHost(request.headers.host, allowed))
      return refuse(
        response,
        421,
        'This server does not answer under that name. Use its own address, or have the name added to HOSTS.',
      );
    if (!isSafe(method) && !isOwnOrigin(request.headers.origin, allowed))
      return refuse(response, 403, 'This request comes from a page of another server. Open Just Twice itself and do it there.');

    const broken = (error: unknown) => {
      log.error({ err: error, request: name }, 'failed');
      if (!response.headersSent)
        refuse(response, 500, `Something went wrong here. Name the request ${name} to whoever looks after this server.`);
    };
    // An address that no page has is answered by the page that says so; a program gets the same in its own words.
    const nowhere = () => {
      if (!isSafe(method) || path.startsWith('/api/')) return refuse(response, 404, 'There is nothing at this address.');
      request.url = '/404';
      render(() => refuse(response, 404, 'There is nothing at this address.'));
    };
    const render = (otherwise: () => void) => {
      const next = (error?: unknown) => (error ? broken(error) : otherwise());
      void Promise.resolve(pages(request, response, next, { request: name })).catch(broken);
    };
    files(request, response, () => {
      packed(request as never, response as never, () => render(nowhere));
    });
  };
}
