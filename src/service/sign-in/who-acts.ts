import type { Actor } from '../../core/acts/actor';
import type { Role } from '../../core/register/roles';
import * as store from '../../store/access';
import { database, type Database } from '../../store/database';
import { listPeople, readLaboratory } from '../../store/register';
import type { Who } from '../token-service';
import { signInLibrary } from './library';

/** What a request shows of a device that is signed in. */
export type Device = {
  session: string;
  /** The bench, or the name of the person whose device it is. */ name: string;
  isBench: boolean;
  /** Who acts; null where nobody has taken it over, or was away for too long. */ who: Who | null;
  /** Who was here last, and has to show that it is still that person. */ last: string | null;
};

type Found = { device: Device | null; /** When somebody last did something, in ms. */ activeAt: number };

/** What is kept of a cookie for a moment, so that a page with ten questions looks it up once; whatever changes sign-in forgets it. */
const kept = new Map<string, Found & { until: number }>();
const keptFor = 3000;
export const forgetWho = (): void => kept.clear();

/** How often it is written that somebody is there, in ms. */
const noteEvery = 30_000;

/** What the laboratory asks of whoever acts. */
export async function actorOf(db: Database, roles: readonly Role[]): Promise<Actor> {
  const laboratory = await readLaboratory(db);
  return {
    roles,
    competence: laboratory?.asksCompetence ? (await store.allCompetences(db)).map(store.asCompetence) : null,
    isOfOne: laboratory?.isOfOne ?? false,
  };
}

/**
 * Whose device a request comes from, and who acts by it.
 * @param now ms @param isActive whether somebody did something: following along in the background is no sign of a hand
 * @returns null where it is not signed in, or its session has ended
 */
export async function deviceOf(db: Database, headers: Headers, now: number, isActive: boolean): Promise<Device | null> {
  const cookie = headers.get('cookie') ?? '';
  if (!cookie.includes('session_token=')) return null;
  let found = kept.get(cookie);
  if (!found || found.until <= now) {
    found = { ...(await readDevice(db, headers, now)), until: now + keptFor };
    if (kept.size > 2000) kept.clear();
    kept.set(cookie, found);
  }
  const { device } = found;
  // Nobody waits for it: while somebody else holds the database it is noted a little later.
  if (isActive && device?.who && now - found.activeAt > noteEvery) {
    found.activeAt = now;
    store.touchSession(db, device.session, now).catch(() => {});
  }
  return device;
}

async function readDevice(db: Database, headers: Headers, now: number): Promise<Found> {
  const found = await signInLibrary(db).api.getSession({ headers });
  const session = found && (await store.sessionById(db, found.session.id));
  const account = session && (await store.accountById(db, session.userId));
  if (!session || !account) return { device: null, activeAt: 0 };
  const { activeAt } = session;
  const [minutes, people] = await Promise.all([signOffMinutes(db), listPeople(db)]);
  const person = people.find((p) => p.id === session.person);
  const device = { session: session.id, name: account.name, isBench: account.isBench, last: person?.name ?? null };
  if (!person || now - activeAt > minutes * 60_000) return { device: { ...device, who: null }, activeAt };
  const who = {
    person: person.name,
    session: session.id,
    bench: account.isBench ? account.name : null,
    owner: person.owner,
    ...(await actorOf(db, person.roles)),
  };
  return { device: { ...device, who }, activeAt };
}

/** After how many minutes without a hand on it a bench asks who is there. */
export const signOffMinutes = async (db?: Database): Promise<number> =>
  (await readLaboratory(db ?? (await database())))?.signOffMinutes ?? 15;
