import type { APIContext, APIRoute } from 'astro';
import { describe, expect, it, vi } from 'vitest';
import { log as logger } from '../../service/log';
import { ServiceError } from '../../service/service-error';
import { answering, inLines, notAllowed, served } from './_endpoint';

const call = async (route: APIRoute, body?: string, headers: Record<string, string> = {}) => {
  const request = new Request('http://local/x', body === undefined ? {} : { method: 'POST', body, headers });
  const response = (await route({ request, params: {} } as unknown as APIContext)) as Response;
  return {
    status: response.status,
    body: (await response.json()) as { error?: { message: string; path: unknown[] } } & Record<string, unknown>,
  };
};
const echo = served('POST /api/people', async ({ body }) => body);
const moving = served('POST /api/due', async ({ body }) => ({ moved: body.instruments.length }));

describe('endpoints', () => {
  it('hand a checked body on and answer with JSON', async () =>
    expect(await call(echo, '{"name":"a"}')).toEqual({ status: 201, body: { name: 'a' } }));
  it('hold their own answers against the contract while they are tested', async () => {
    const log = vi.spyOn(logger, 'error').mockImplementation(() => {});
    const wrong = served('GET /api/laboratory', async () => ({ name: 'a' }) as never);
    expect((await call(wrong)).status).toBe(500);
    expect(JSON.stringify(log.mock.calls[0])).toContain('ZodError');
    log.mockRestore();
  });
  it('check what stands behind the question mark', async () => {
    const lines = served('GET /api/due', async ({ query }) => ({ lines: [], ...(query.after === 7 ? {} : { odd: 1 }) }));
    const got = async (query: string) =>
      (await lines({ request: new Request(`http://local/api/due?${query}`), params: {} } as unknown as APIContext)) as Response;
    expect((await got('after=7')).status).toBe(200);
    const refused = await got('after=-1');
    expect([refused.status, ((await refused.json()) as { error: { path: string[] } }).error.path]).toEqual([422, ['after']]);
    expect((await got('week=soon')).status).toBe(422);
  });
  it.each([
    ['{', 400, []],
    ['', 400, []],
    ['[]', 422, []],
    ['{"name":7}', 422, ['name']],
  ])('refuse %j with %d at %j', async (body, status, path) => {
    const answer = await call(echo, body);
    expect(answer.status).toBe(status);
    expect(answer.body.error!.path).toEqual(path);
    expect(answer.body.error!.message.length).toBeGreaterThan(5);
  });
  it('name the place of a fault however deep', async () => {
    const sent = { instruments: ['a', 'no id!'], to: '2027-01-01', reason: 'With the others', person: 'Ada' };
    const refused = await call(moving, JSON.stringify(sent));
    expect([refused.status, refused.body.error!.path]).toEqual([422, ['instruments', 1]]);
    expect(await call(moving, JSON.stringify({ ...sent, instruments: ['a', 'b'] }))).toEqual({ status: 200, body: { moved: 2 } });
  });
  it('refuse a body beyond the limit, whatever length it claims', async () => {
    expect((await call(echo, JSON.stringify({ name: 'x'.repeat(1_100_000) }))).status).toBe(413);
    expect((await call(echo, '{}', { 'content-length': '9999999' })).status).toBe(413);
  });
  it('answer what a service refused with its status, path and details', async () => {
    const refusing = answering(async () => {
      throw new ServiceError(409, 'Moved on.', ['expectedSequence'], { missed: [3] });
    });
    expect(await call(refusing)).toEqual({
      status: 409,
      body: { error: { message: 'Moved on.', path: ['expectedSequence'], missed: [3] } },
    });
  });
  it('say nothing of their insides when something breaks', async () => {
    const log = vi.spyOn(logger, 'error').mockImplementation(() => {});
    const breaking = answering(async () => {
      throw new Error('SQLITE_BUSY at /secret/path.ts:12');
    });
    const { status, body } = await call(breaking);
    expect(status).toBe(500);
    expect(JSON.stringify(body)).not.toMatch(/SQLITE|secret/);
    expect(body.error!.message).toContain('nothing was recorded');
    expect(log).toHaveBeenCalledOnce();
    log.mockRestore();
  });
  it('refuse a method that an address does not take', async () => expect((await call(notAllowed)).status).toBe(405));
});

describe('an answer that takes long', () => {
  const context = { request: new Request('http://local/x') } as unknown as APIContext;
  const linesOf = async (response: Response) =>
    (await response.text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as unknown);
  it('tells how far it is, line by line, and ends with the answer', async () => {
    const response = inLines(async (progress) => {
      progress(1, 3);
      progress(2, 3);
      return { a: 1 };
    }, context);
    expect(response.headers.get('content-type')).toContain('application/x-ndjson');
    expect(await linesOf(response)).toEqual([{ progress: { done: 1, of: 3 } }, { progress: { done: 2, of: 3 } }, { a: 1 }]);
  });
  it('ends with the refusal where there is one', async () => {
    const response = inLines(async () => {
      throw new ServiceError(422, 'Not so.', ['policy']);
    }, context);
    expect(await linesOf(response)).toEqual([{ error: { message: 'Not so.', path: ['policy'] } }]);
  });
  it('is told when whoever asked has gone', async () => {
    let isGivenUp = false;
    const response = inLines(
      (_progress, signal) =>
        new Promise((resolve) =>
          signal.addEventListener('abort', () => {
            isGivenUp = true;
            resolve({});
          }),
        ),
      context,
    );
    await response.body!.cancel();
    expect(isGivenUp).toBe(true);
  });
});
