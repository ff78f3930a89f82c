import { randomBytes, randomUUID } from 'node:crypto';
import { isSamePerson } from '../core/register/person-name';
import type { Actor } from '../core/acts/actor';
import type { Role } from '../core/register/roles';
import type { Database } from '../store/database';
import { listPeople } from '../store/register';
import { sha256 } from '../store/seals';
import * as store from '../store/tokens';
import { addPerson } from './register-service';
import { actorOf } from './sign-in/who-acts';
import { ServiceError } from './service-error';

/** Who acts, what that person may do, and by what. */
export type Who = Actor & {
  person: string;
  /** The token by which it is. */ token?: string;
  /** The session by which it is. */ session?: string;
  /** The bench at which it is. */ bench?: string | null;
  /** Of whom an owner sees the instruments. */ owner?: string | null;
};

/** What holds the token of an owner's link in a browser. */
export const linkCookie = 'just-twice.link';

/** By what a token is known for one, in a log that it should not stand in. */
const prefix = 'jt_';
const dayMs = 86_400_000;

/**
 * Makes a token that acts as a person, who is added where nobody has that name. Only its digest is kept: it is shown this once.
 * @param days how long it is good
 */
export async function makeToken(
  db: Database,
  { person, roles, days }: { person: string; roles: Role[]; days: number },
  now: string,
): Promise<{ id: string; token: string }> {
  const known = (await listPeople(db)).find((p) => isSamePerson(p.name, person));
  if (!known) await addPerson(person);
  const token = prefix + randomBytes(32).toString('base64url');
  const id = randomUUID().slice(0, 8);
  await store.addToken(db, {
    id,
    person: known?.name ?? person,
    roles,
    digest: sha256(token),
    madeAt: now,
    endsAt: new Date(Date.parse(now) + days * dayMs).toISOString(),
    endedAt: null,
  });
  return { id, token };
}

/** What stands of a token today. */
export const tokenState = (row: store.TokenRow, now: string): 'good' | 'ended' | 'run out' =>
  row.endedAt !== null ? 'ended' : row.endsAt <= now ? 'run out' : 'good';

/**
 * Who acts by an `Authorization` header.
 * @throws ServiceError 401 for one that is none, has ended or run out, or whose person has retired: all in the same words
 */
export async function whoBears(db: Database, header: string, now: string): Promise<Who> {
  const [, token] = /^Bearer (\S{1,200})$/i.exec(header) ?? [];
  const row = token ? await store.tokenByDigest(db, sha256(token)) : undefined;
  const person = row && tokenState(row, now) === 'good' && (await listPeople(db)).find((p) => p.name === row.person);
  if (!person) throw new ServiceError(401, 'This token is not known, or has ended. Ask an administrator for another.');
  return { person: row.person, token: row.id, owner: person.owner, ...(await actorOf(db, row.roles)) };
}

/** Ends a token; one that has ended already stays so. @throws ServiceError 404 */
export async function endToken(db: Database, id: string, now: string): Promise<void> {
  const row = await store.tokenById(db, id);
  if (!row) throw new ServiceError(404, `There is no token ${id}.`);
  if (row.endedAt === null) await store.endToken(db, id, now);
}

/** All tokens as a list shows them. */
export const tokenLines = async (db: Database, now: string) =>
  (await store.allTokens(db)).map((row) => ({
    id: row.id,
    person: row.person,
    roles: row.roles,
    made: row.madeAt.slice(0, 10),
    ends: row.endsAt.slice(0, 10),
    state: tokenState(row, now),
  }));
