/** A refusal a person can act on: an HTTP status, a message that says what to do, the path of the fault. */
export class ServiceError extends Error {
  constructor(
    readonly status: 400 | 404 | 409 | 413 | 422,
    message: string,
    readonly path: (string | number)[] = [],
    /** Further members of the answer, for instance the events a client has missed. */
    readonly details: Record<string, unknown> = {},
  ) {
    super(message);
    this.name = 'ServiceError';
  }
}
