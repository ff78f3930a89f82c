import { describe, expect, it } from 'vitest';
import { isUnreachable } from './ask-server';

describe('an answer that is none', () => {
  const of = (status: number) => isUnreachable({ status, message: '', path: [], details: {} });
  it('is one from nobody, or from a server that is not there yet or any more: it is sent again', () =>
    expect([0, 502, 503, 504].map(of)).toEqual([true, true, true, true]));
  it('is no refusal, and no fault of the server', () => expect([400, 404, 409, 422, 429, 500].some(of)).toBe(false));
});
