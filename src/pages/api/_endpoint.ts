import type { APIRoute, APIContext } from 'astro';
import { ZodObject, type ZodType } from 'zod';
import {
  endpoints,
  rolesOf,
  type AnswerOf,
  type Endpoint,
  type EndpointName,
  type QueryOf,
  type RequestOf,
} from '../../contract/endpoints';
import { mayAct, roleWords } from '../../core/register/roles';
import { log } from '../../service/log';
import { noteDeed } from '../../service/sign-in/deed-service';
import { useConfirmation } from '../../service/sign-in/sign-in-service';
import type { Who } from '../../service/token-service';
import { isStoreBusy, ServiceError } from '../../service/service-error';

const bodyLimit = 1024 * 1024;

export const json = (body: unknown, status = 200): Response =>
  new Response(JSON.stringify(body), {
    status,
    headers: { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store' },
  });

/** A file to be kept or looked at, under a name that is safe whatever it is made of. */
export const file = (
  body: BodyInit,
  { type, name, ending, isShown = false }: { type: string; name: string; ending: string; isShown?: boolean },
): Response =>
  new Response(body, {
    headers: {
      'content-type': type,
      'content-disposition': `${isShown ? 'inline' : 'attachment'}; filename="${name.replace(/[^A-Za-z0-9-]+/g, '-').slice(0, 80)}.${ending}"`,
      'cache-control': 'no-store',
    },
  });

const refusal = (
  status: number,
  message: string,
  path: (string | number)[] = [],
  details: Record<string, unknown> = {},
): Response => json({ error: { message, path, ...details } }, status);

export const refused = (error: ServiceError): Response => refusal(error.status, error.message, error.path, error.details);

/** Reads a body up to the limit; a longer one is refused before it is in memory. */
async function readBody(request: Request): Promise<string> {
  const tooLarge = () => new ServiceError(413, `This is larger than ${bodyLimit / 1024} kB. Send less at once.`);
  if (Number(request.headers.get('content-length') ?? 0) > bodyLimit) throw tooLarge();
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of request.body ?? []) {
    size += chunk.length;
    if (size > bodyLimit) throw tooLarge();
    chunks.push(chunk);
  }
  return new TextDecoder().decode(Buffer.concat(chunks));
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new ServiceError(400, 'The body is not JSON.');
  }
}

function answerError(error: unknown, context: APIContext): Response {
  if (error instanceof ServiceError) return refused(error);
  const request = context.locals?.request ?? 'unnamed';
  log.error({ err: error, request, method: context.request.method, path: new URL(context.request.url).pathname }, 'failed');
  if (isStoreBusy(error)) return refusal(503, error.message);
  return refusal(
    500,
    `Something went wrong here, and nothing was recorded. Try again; if it happens twice, tell whoever looks after this server, and name the request ${request}.`,
    [],
    { request },
  );
}

/**
 * An answer that takes long: lines of JSON, each telling how far it is, the last one the answer, or the refusal. Given up by whoever
 * asked, the work is told so by its signal.
 */
export function inLines(
  work: (progress: (done: number, of: number) => void, signal: AbortSignal) => Promise<unknown>,
  context: APIContext,
): Response {
  const givenUp = new AbortController();
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    start: async (lines) => {
      const write = (line: unknown) => givenUp.signal.aborted || lines.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
      try {
        write(await work((done, of) => write({ progress: { done, of } }), givenUp.signal));
      } catch (error) {
        if (!givenUp.signal.aborted) write(await answerError(error, context).json());
      }
      if (!givenUp.signal.aborted) lines.close();
    },
    cancel: () => givenUp.abort(),
  });
  return new Response(body, { headers: { 'content-type': 'application/x-ndjson; charset=utf-8', 'cache-control': 'no-store' } });
}

/** An endpoint that answers a request without a body. */
export const answering =
  (answer: (context: APIContext) => Promise<unknown>): APIRoute =>
  async (context) => {
    try {
      const result = await answer(context);
      return result instanceof Response ? result : json(result);
    } catch (error) {
      return answerError(error, context);
    }
  };

/** What was asked, checked against its schema. @throws ServiceError 422 with the path of the fault */
function asked<T>(schema: ZodType<T>, value: unknown): T {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new ServiceError(
    422,
    issue.message,
    issue.path.map((p) => (typeof p === 'number' ? p : String(p))),
  );
}

/**
 * What was sent, in the name of whoever acts: nobody acts as somebody else. By a token it is its person; at a bench what one did is
 * not recorded under the name of whoever took it over since.
 */
function asPerson(schema: ZodType, sent: unknown, who: Who | null): unknown {
  const isAsked = schema instanceof ZodObject && 'person' in schema.shape;
  if (!who || !isAsked || typeof sent !== 'object' || sent === null || Array.isArray(sent)) return sent;
  const { person = who.person } = sent as { person?: unknown };
  // What is no name at all is refused by the schema.
  if (typeof person !== 'string') return sent;
  if (!who.token && person && person !== who.person)
    throw new ServiceError(
      401,
      `${person.slice(0, 120)} did this, but ${who.person} is at this bench now. It is kept here until ${person.slice(0, 120)} takes the bench over again.`,
      ['person'],
      { isFree: true },
    );
  return { ...sent, person: who.person };
}

/** Whether answers are held against the contract: while the application is developed, and where a test asks for it. */
const isTried = (): boolean => process.env.NODE_ENV !== 'production' || process.env['CHECK_ANSWERS'] === '1';

/** What an endpoint is given: checked by what the contract says of it. */
type Asking<N extends EndpointName> = {
  /** What stands for `[id]` in the address. */ id: string;
  body: RequestOf<N>;
  query: QueryOf<N>;
  /** The version that whoever asks has seen. */ seen: string | null;
  context: APIContext;
};

/** What an endpoint gives back: what the contract says, or a whole answer where that is no JSON. */
type Given<N extends EndpointName> = [AnswerOf<N>] extends [never] ? Response : AnswerOf<N> | Response;

/**
 * An endpoint as the contract has it: the body limited in size, it and the query checked, refused with the path of the fault. While the
 * application is developed and tested its answer is held against the contract too.
 */
export const served = <N extends EndpointName>(name: N, answer: (asking: Asking<N>) => Promise<Given<N>>): APIRoute => {
  const endpoint: Endpoint = endpoints[name];
  return answering(async (context) => {
    const who = context.locals?.who ?? null;
    const needed = rolesOf(name);
    if (!endpoint.isOpen && !mayAct(who?.roles ?? null, needed))
      throw new ServiceError(403, `Only ${roleWords(needed)} may do this.`);
    const body = endpoint.request
      ? asked(
          endpoint.request,
          endpoint.isOpen
            ? parseJson(await readBody(context.request))
            : asPerson(endpoint.request, parseJson(await readBody(context.request)), who),
        )
      : undefined;
    const query = endpoint.query
      ? asked(endpoint.query, Object.fromEntries(new URL(context.request.url).searchParams))
      : undefined;
    if (who && endpoint.signs) await useConfirmation(who, endpoint.signs);
    const given = await answer({
      id: context.params.id ?? '',
      body: body as RequestOf<N>,
      query: query as QueryOf<N>,
      seen: context.request.headers.get('if-match'),
      context,
    });
    if (who && !endpoint.isNoDeed && !endpoint.isOpen && !name.startsWith('GET '))
      await noteDeed(name, context.params.id ?? '', body, who);
    if (given instanceof Response) return given;
    if (isTried() && typeof endpoint.answer !== 'string') endpoint.answer.parse(JSON.parse(JSON.stringify(given)));
    return json(given, endpoint.status ?? 200);
  });
};

export const notAllowed: APIRoute = () => refusal(405, 'This address does not take this method.');
