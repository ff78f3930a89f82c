import { randomBytes, randomInt, randomUUID } from 'node:crypto';
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';
import { isSamePerson, plainName } from '../../core/register/person-name';
import { mostDigitTries, namesItself } from '../../core/register/secrets';
import * as store from '../../store/access';
import { database, writing, type Database } from '../../store/database';
import { addDeed } from '../../store/deeds';
import { listPeople, savePerson } from '../../store/register';
import { sha256 } from '../../store/seals';
import { ServiceError } from '../service-error';
import { addressHeader, hashSecret, isSecretOrNone, mailOf, signInLibrary } from './library';
import { isDemo } from './demo-people';
import { forgetWho, type Device } from './who-acts';
import type { Who } from '../token-service';

/** From where a request comes: for the list of sessions, and for counting tries. */
export type From = { headers: Headers; address: string };

/** What goes back with an answer: the cookie of a new session. */
type SignedIn = { person: string; cookies: string[] };

/*
 * Passwords: six tries a name in a quarter of an hour, whether there is such a name or not, and sixty from one address. Digits are
 * counted in the database, a person, from wherever they are tried.
 */
const quarterHour = 15 * 60;
const aName = new RateLimiterMemory({ keyPrefix: 'name', points: 6, duration: quarterHour });
/** Codes by themselves: whoever is locked out by somebody's guessing is let in by a code. */
const aCode = new RateLimiterMemory({ keyPrefix: 'code', points: 6, duration: quarterHour });
const anAddress = new RateLimiterMemory({ keyPrefix: 'address', points: 60, duration: quarterHour });

async function countTry(limiter: RateLimiterMemory, key: string): Promise<void> {
  try {
    await limiter.consume(key);
  } catch (refused) {
    if (!(refused instanceof RateLimiterRes)) throw refused;
    const minutes = Math.max(1, Math.ceil(refused.msBeforeNext / 60_000));
    throw new ServiceError(429, `That was tried too often. Wait ${minutes} min, or ask an administrator for a code.`);
  }
}

const wrong = () => new ServiceError(401, 'Name and password do not belong together.', ['password']);

/** Somebody who can sign, by his name as it was typed. */
const personNamed = async (db: Database, name: string): Promise<store.PersonRow | undefined> =>
  (await listPeople(db)).find((p) => isSamePerson(p.name, name));

function requireGoodPassword(name: string, password: string): void {
  if (namesItself(name, password)) throw new ServiceError(422, 'A password does not hold the name of its person.', ['password']);
}

/** A session of its own for an account whose password is right, with the cookie for it. */
async function openSession(
  db: Database,
  account: string,
  password: string,
  from: From,
  person: string | null,
): Promise<string[]> {
  const headers = new Headers({ 'user-agent': from.headers.get('user-agent') ?? '', [addressHeader]: from.address });
  const response = await signInLibrary(db).api.signInEmail({
    body: { email: mailOf(account), password, rememberMe: true },
    headers,
    asResponse: true,
  });
  if (!response.ok) throw wrong();
  const { token } = (await response.json()) as { token: string };
  const session = (await store.sessionsOf(db, account)).find((s) => s.token === token);
  if (session) await store.changeSession(db, session.id, { person, activeAt: Date.now() });
  forgetWho();
  return response.headers.getSetCookie();
}

const noted = (db: Database, what: string, person: string | null, now: string, detail = '', by = '') =>
  addDeed(db, { at: now, person, what, subject: '', detail, by });

/** Makes the first administrator of a laboratory in which nobody can sign in yet, and signs in. @throws ServiceError 409, 422 */
export async function makeFirst(
  { name, password, digits }: { name: string; password: string; digits: string },
  from: From,
  now: string,
): Promise<SignedIn> {
  const db = await database();
  await countTry(anAddress, from.address);
  requireGoodPassword(name, password);
  const isTaken = () => new ServiceError(409, 'There is an administrator already. Sign in.');
  if (await store.hasAccounts(db)) throw isTaken();
  const [hash, digitsHash] = await Promise.all([hashSecret(password), hashSecret(digits)]);
  const { id, name: person } = await writing(db, async () => {
    // Of two at once one is first.
    if (await store.hasAccounts(db)) throw isTaken();
    const known = await personNamed(db, name);
    const made = known ?? { id: randomUUID(), name };
    if (!known) await savePerson(db, made);
    await store.saveAccount(db, { ...made, email: mailOf(made.id), isBench: false, password: hash }, new Date(now));
    await store.changePerson(db, made.id, { roles: ['technician', 'reviewer', 'approver', 'administrator'], owner: null });
    await store.saveKeys(db, made.id, { digits: digitsHash });
    return made;
  });
  await noted(db, 'first administrator', person, now);
  return { person, cookies: await openSession(db, id, password, from, id) };
}

/** Signs in with name and password: a device of one person. @throws ServiceError 401, the same whatever was wrong; 429 */
export async function signIn({ name, password }: { name: string; password: string }, from: From, now: string): Promise<SignedIn> {
  const db = await database();
  await countTry(anAddress, from.address);
  await countTry(aName, plainName(name));
  const person = await personNamed(db, name);
  const isRight = await isSecretOrNone(person ? await store.passwordHash(db, person.id) : null, password);
  if (!person || !isRight) {
    await noted(db, 'sign in', person?.name ?? null, now, 'in vain');
    throw wrong();
  }
  const cookies = await openSession(db, person.id, password, from, person.id);
  await aName.delete(plainName(name));
  await store.saveKeys(db, person.id, { digitTries: 0 });
  await noted(db, 'sign in', person.name, now);
  return { person: person.name, cookies };
}

/** Ends the session of a device; of a bench an administrator alone, so that nobody who passes by can. @throws ServiceError 403 */
export async function signOut(device: Device): Promise<void> {
  if (device.isBench && !device.who?.roles.includes('administrator'))
    throw new ServiceError(403, 'A bench is signed out by an administrator, on the page People.');
  const db = await database();
  await store.endSessions(db, { id: device.session });
  forgetWho();
}

/** Who may take a device over: at a bench everybody who has digits, on his own device whoever it belongs to. */
export async function whoCanTake(device: Device): Promise<string[]> {
  const db = await database();
  const session = await store.sessionById(db, device.session);
  const withDigits = new Set((await store.withKeys(db)).filter((k) => k.hasDigits).map((k) => k.person));
  return (await listPeople(db))
    .filter((p) => (device.isBench ? withDigits.has(p.id) && !p.roles.includes('owner') : p.id === session?.userId))
    .map((p) => p.name);
}

/** Digits of a person, or the password once they were wrong too often. @throws ServiceError 401, 429 */
async function requireDigits(db: Database, person: store.PersonRow, typed: string): Promise<void> {
  const tries = await store.countTry(db, person.id);
  if (/^\d{4,8}$/.test(typed)) {
    if (tries > mostDigitTries)
      throw new ServiceError(429, 'The digits were wrong too often. Type the password instead.', ['digits'], {
        needsPassword: true,
      });
    const { digits } = await store.keysOf(db, person.id);
    if (!(await isSecretOrNone(digits, typed)))
      throw new ServiceError(
        401,
        tries >= mostDigitTries ? 'These are not the digits. Type the password instead.' : 'These are not the digits.',
        ['digits'],
        tries >= mostDigitTries ? { needsPassword: true } : {},
      );
  } else {
    await countTry(aName, plainName(person.name));
    if (!(await isSecretOrNone(await store.passwordHash(db, person.id), typed)))
      throw new ServiceError(401, 'This is not the password.', ['digits'], { needsPassword: true });
    await aName.delete(plainName(person.name));
  }
  await store.saveKeys(db, person.id, { digitTries: 0 });
}

/** Takes a bench over: from now on this person acts there. */
export async function takeOver(
  device: Device,
  { person: name, digits }: { person: string; digits: string },
  now: string,
): Promise<{ person: string }> {
  const db = await database();
  const person = (await whoCanTake(device)).includes(name) ? await personNamed(db, name) : undefined;
  if (!person) throw new ServiceError(422, 'Choose who you are.', ['person']);
  try {
    await requireDigits(db, person, digits);
  } catch (error) {
    await noted(db, 'take over', person.name, now, 'in vain', device.name);
    throw error;
  }
  await store.changeSession(db, device.session, { person: person.id, activeAt: Date.parse(now), confirmedAt: 0 });
  forgetWho();
  if (device.last !== person.name) await noted(db, 'take over', person.name, now, '', device.name);
  return { person: person.name };
}

/** Nobody acts at a device any more, until somebody takes it over. */
export async function handOn(device: Device): Promise<void> {
  const db = await database();
  await store.changeSession(db, device.session, { activeAt: 0, confirmedAt: 0 });
  forgetWho();
}

/** Shows again who acts, for a signature. */
export async function confirm(who: Who, typed: string, now: string): Promise<void> {
  const db = await database();
  const person = await personNamed(db, who.person);
  if (!person || !who.session) throw new ServiceError(401, 'Sign in first.');
  await requireDigits(db, person, typed);
  await store.changeSession(db, who.session, { confirmedAt: Date.parse(now) });
  forgetWho();
}

/** For how long a confirmation is good for one signature, in ms. */
const confirmedFor = 2 * 60_000;

/**
 * A signature is confirmed once: whoever signs has just shown who that is. By a token nobody is asked.
 * @param what what is signed, in words @throws ServiceError 403, with what is to be signed
 */
export async function useConfirmation(who: Who, what: string, now = Date.now()): Promise<void> {
  if (!who.session) return;
  if (!(await store.useUpConfirmation(await database(), who.session, now - confirmedFor)))
    throw new ServiceError(403, 'Not signed: that takes your digits or your password.', ['confirmation'], { signs: what });
}

/** How long a code that was handed over is good, in ms. */
const codeFor = 24 * 60 * 60_000;
const letters = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';

/** A code that is good once, for a day: an administrator hands it to whoever has no password yet, or lost it. @throws ServiceError 404 */
export async function makeCode(name: string, now: number): Promise<{ code: string; until: string }> {
  const db = await database();
  const person = await personNamed(db, name);
  if (!person) throw new ServiceError(404, 'There is nobody of this name.', ['name']);
  const code = Array.from({ length: 12 }, (_, i) => (i && i % 4 === 0 ? '-' : '') + letters[randomInt(letters.length)]).join('');
  await store.saveKeys(db, person.id, { code: sha256(code), codeEndsAt: now + codeFor });
  return { code, until: new Date(now + codeFor).toISOString() };
}

/** Takes a code for a new password and new digits; whatever else was signed in as that person is signed out. */
export async function takeCode(
  { name, code, password, digits }: { name: string; code: string; password: string; digits: string },
  from: From,
  now: string,
): Promise<SignedIn> {
  const db = await database();
  await countTry(anAddress, from.address);
  await countTry(aCode, plainName(name));
  requireGoodPassword(name, password);
  const person = await personNamed(db, name);
  const held = person && (await store.keysOf(db, person.id));
  const isRight = held?.code === sha256(code.trim().toUpperCase()) && held.codeEndsAt > Date.parse(now);
  if (!person || !isRight)
    throw new ServiceError(401, 'Name and code do not belong together, or the code has run out.', ['code']);
  await store.saveKeys(db, person.id, { code: null, codeEndsAt: 0 });
  await setSecrets(db, person, { password, digits }, new Date(now));
  await aName.delete(plainName(name));
  await noted(db, 'new password', person.name, now, 'by a code');
  return { person: person.name, cookies: await openSession(db, person.id, password, from, person.id) };
}

/** Keeps another password and other digits of a person, and ends the sessions that rest on those before. */
export async function setSecrets(
  db: Database,
  person: { id: string; name: string },
  { password, digits }: { password?: string | undefined; digits?: string | undefined },
  now: Date,
  except = '',
): Promise<void> {
  if (password) {
    const hash = await hashSecret(password);
    await store.saveAccount(
      db,
      { id: person.id, name: person.name, email: mailOf(person.id), isBench: false, password: hash },
      now,
    );
    await store.endSessions(db, { account: person.id, person: person.id }, except);
  }
  if (digits) await store.saveKeys(db, person.id, { digits: await hashSecret(digits), digitTries: 0 });
  forgetWho();
}

/** Changes one's own password or digits: the password as it is shows who asks. @throws ServiceError 401 */
export async function changeOwn(
  who: Who,
  { current, password, digits }: { current: string; password?: string | undefined; digits?: string | undefined },
  now: string,
): Promise<void> {
  const db = await database();
  const person = await personNamed(db, who.person);
  if (!person) throw new ServiceError(401, 'Sign in first.');
  await countTry(aName, plainName(person.name));
  if (password) requireGoodPassword(person.name, password);
  if (!(await isSecretOrNone(await store.passwordHash(db, person.id), current)))
    throw new ServiceError(401, 'This is not the password as it is now.', ['current']);
  await aName.delete(plainName(person.name));
  await setSecrets(db, person, { password, digits }, new Date(now), who.session);
}

/** Makes a bench of a device: from now on it is signed in by itself, and whoever works at it takes it over. */
export async function makeBench(name: string, from: From, now: string, person: string | null): Promise<string[]> {
  const db = await database();
  const known = (await store.benches(db)).find((b) => isSamePerson(b.name, name));
  const id = known?.id ?? randomUUID();
  // Nobody signs in with this password but here, once; two who come at once, one after the other.
  const password = randomBytes(32).toString('base64url');
  const hash = await hashSecret(password);
  return writing(db, async () => {
    const account = { id, name: known?.name ?? name, email: mailOf(id), isBench: true, password: hash };
    await store.saveAccount(db, account, new Date(now));
    return openSession(db, id, password, from, person);
  });
}

/** In the demo whoever comes stands at a bench, and takes it over with the digits that are written there. */
export async function atDemoBench(
  { person: name, digits }: { person: string; digits: string },
  from: From,
  now: string,
): Promise<SignedIn> {
  const db = await database();
  if (!(await isDemo(db))) throw new ServiceError(401, 'Sign in with name and password.');
  const person = await personNamed(db, name);
  if (!person) throw new ServiceError(422, 'Choose who you are.', ['person']);
  await requireDigits(db, person, digits);
  return { person: person.name, cookies: await makeBench('Demo bench', from, now, person.id) };
}

/** The sessions of a person's own devices, and of the benches where he is now. */
export async function ownSessions(who: Who) {
  const db = await database();
  const person = await personNamed(db, who.person);
  const rows = person ? await store.sessionsOf(db, person.id) : [];
  return rows.map((s) => ({
    id: s.id,
    since: s.createdAt.toISOString(),
    address: s.ipAddress ?? '',
    device: s.userAgent ?? '',
    isThis: s.id === who.session,
  }));
}

/** Ends one of one's own sessions. @throws ServiceError 404 */
export async function endOwn(who: Who, id: string): Promise<void> {
  const db = await database();
  if (!(await ownSessions(who)).some((s) => s.id === id)) throw new ServiceError(404, 'There is no such session.');
  await store.endSessions(db, { id });
  forgetWho();
}

/** Whether anybody can sign in yet. */
export const isAnybodyKnown = async (): Promise<boolean> => store.hasAccounts(await database());
