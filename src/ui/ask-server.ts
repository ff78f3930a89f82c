import { partsOf } from '../contract/address';
import type { AnswerOf, EndpointName, SentTo } from '../contract/endpoints';
import { sign } from './sign';
import { learnServerTime, serverTimeHeader } from './server-clock';

/** What the server said no to, or that it did not answer at all. */
export type ServerRefusal = { status: number; message: string; path: (string | number)[]; details: Record<string, unknown> };

export type Answer<T> = { ok: true; body: T } | { ok: false; refusal: ServerRefusal };

/** True when the request never reached an answer: nothing was refused, it can be sent again as it is. */
export const isUnreachable = (refusal: ServerRefusal): boolean =>
  refusal.status === 0 || refusal.status === 502 || refusal.status === 503 || refusal.status === 504;

/** How far something long has come. */
export type Progress = { done: number; of: number };
type Asking = {
  onProgress?: (progress: Progress) => void;
  signal?: AbortSignal;
  /** The version of what is changed, as it was seen. */ seen?: string | undefined;
};

/** What goes with a question: the id in its address, what stands behind its question mark, its body. */
export type Sent<N extends EndpointName> = (N extends `${string}[id]${string}` ? { id: string } : object) &
  ([SentTo<N>] extends [never] ? object : { body: SentTo<N> }) & { query?: Record<string, string> };

/** Asks an endpoint of the contract. @example ask('POST /api/people', { body: { name: 'Ada' } }) */
export function ask<N extends EndpointName>(name: N, sent: Sent<N>, asking: Asking = {}): Promise<Answer<AnswerOf<N>>> {
  const { id, body, query } = sent as { id?: string; body?: unknown; query?: Record<string, string> };
  const { method, address } = partsOf<EndpointName>(name, id);
  const search = query && Object.keys(query).length ? `?${new URLSearchParams(query)}` : '';
  return askServer(method as 'GET', `${address}${search}`, body, asking);
}

type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';

/**
 * Sends JSON and returns what came back, or a refusal in words; never throws. Something long tells how far it is, and can be given up.
 * What is to be signed is signed, and sent once more.
 */
export async function askServer<T>(method: Method, address: string, body?: unknown, asking: Asking = {}): Promise<Answer<T>> {
  const answer = await askOnce<T>(method, address, body, asking);
  const { signs } = answer.ok ? {} : answer.refusal.details;
  return typeof signs === 'string' && (await sign(signs)) ? askOnce<T>(method, address, body, asking) : answer;
}

async function askOnce<T>(
  method: Method,
  address: string,
  body: unknown,
  { onProgress, signal, seen }: Asking,
): Promise<Answer<T>> {
  const refuse = (
    status: number,
    message: string,
    path: (string | number)[] = [],
    details: Record<string, unknown> = {},
  ): Answer<T> => ({ ok: false, refusal: { status, message, path, details } });
  let response: Response;
  let answer: unknown;
  try {
    response = await fetch(address, {
      method,
      ...(signal ? { signal } : {}),
      ...(body === undefined
        ? {}
        : { headers: { 'content-type': 'application/json', ...(seen ? { 'if-match': seen } : {}) }, body: JSON.stringify(body) }),
    });
    learnServerTime(response.headers.get(serverTimeHeader));
    answer = await lastOf(response, onProgress);
  } catch {
    return signal?.aborted
      ? refuse(0, 'It was given up.')
      : refuse(0, 'The server does not answer. Nothing typed is lost: try again in a moment.');
  }
  const error = (answer as { error?: { message?: string; path?: (string | number)[] } & Record<string, unknown> } | null)?.error;
  if (response.ok && answer !== null && !error) return { ok: true, body: answer as T };
  if (!error?.message) return refuse(response.status, 'The server gave an answer that cannot be read. Try again in a moment.');
  const { message, path = [], ...details } = error;
  return refuse(response.status, message, path, details);
}

/** The body of an answer; of one that comes in lines the last, those before it tell how far it is. Null for what is no JSON. */
async function lastOf(response: Response, onProgress: Asking['onProgress']): Promise<unknown> {
  if (!response.headers.get('content-type')?.startsWith('application/x-ndjson')) return response.json().catch(() => null);
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let [text, last] = ['', null as unknown];
  for (;;) {
    const { value, done } = await reader.read();
    const lines = (text + (value ?? '')).split('\n');
    text = lines.pop()!;
    for (const line of lines) {
      last = JSON.parse(line);
      const { progress } = last as { progress?: Progress };
      if (progress) onProgress?.(progress);
    }
    if (done) return last;
  }
}
