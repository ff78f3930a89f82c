import { StoreBusyError } from '../store/database';

/** A refusal a person can act on: an HTTP status, a message that says what to do, the path of the fault. */
export class ServiceError extends Error {
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 422 | 429 | 503,
    message: string,
    readonly path: (string | number)[] = [],
    /** Further members of the answer, for instance the events a client has missed. */
    readonly details: Record<string, unknown> = {},
  ) {
    super(message);
    this.name = 'ServiceError';
  }
}

/** What a service found, or null when it answered that there is no such thing: for pages that then show "not found". */
export async function found<T>(result: Promise<T>): Promise<T | null> {
  try {
    return await result;
  } catch (error) {
    if (error instanceof ServiceError && error.status === 404) return null;
    throw error;
  }
}

/** Whether nothing could be written because another program held the database; the same request may be sent again. */
export const isStoreBusy = (error: unknown): error is Error => error instanceof StoreBusyError;
