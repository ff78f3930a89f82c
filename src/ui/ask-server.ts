/** What the server said no to, or that it did not answer at all. */
export type ServerRefusal = { status: number; message: string; path: (string | number)[]; details: Record<string, unknown> };

export type Answer<T> = { ok: true; body: T } | { ok: false; refusal: ServerRefusal };

/** True when the request never reached an answer: nothing was refused, it can be sent again as it is. */
export const isUnreachable = (refusal: ServerRefusal): boolean =>
  refusal.status === 0 || refusal.status === 502 || refusal.status === 503 || refusal.status === 504;

/** Sends JSON and returns what came back, or a refusal in words; never throws. */
export async function askServer<T>(method: 'GET' | 'POST' | 'PUT', address: string, body?: unknown): Promise<Answer<T>> {
  const refuse = (
    status: number,
    message: string,
    path: (string | number)[] = [],
    details: Record<string, unknown> = {},
  ): Answer<T> => ({ ok: false, refusal: { status, message, path, details } });
  let response: Response;
  try {
    response = await fetch(address, {
      method,
      ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    return refuse(0, 'The server does not answer. Nothing typed is lost: try again in a moment.');
  }
  const answer: unknown = await response.json().catch(() => null);
  if (response.ok && answer !== null) return { ok: true, body: answer as T };
  const error = (answer as { error?: { message?: string; path?: (string | number)[] } & Record<string, unknown> } | null)?.error;
  if (!error?.message) return refuse(response.status, 'The server gave an answer that cannot be read. Try again in a moment.');
  const { message, path = [], ...details } = error;
  return refuse(response.status, message, path, details);
}
