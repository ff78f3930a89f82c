import { randomUUID } from 'node:crypto';
import type * as z from 'zod';
import type { competenceEntrySchema } from '../../core/register/competence';
import type { PeopleRules } from '../../core/register/entry-schemas';
import { isSamePerson } from '../../core/register/person-name';
import type { Role } from '../../core/register/roles';
import * as store from '../../store/access';
import { database } from '../../store/database';
import { countInUse, listPeople, personByName, readLaboratory, savePeopleRules } from '../../store/register';
import { today } from '../laboratory-time';
import { ServiceError } from '../service-error';
import { endToken, makeToken, tokenLines } from '../token-service';
import { forgetWho } from './who-acts';

const unknown = () => new ServiceError(404, 'There is nobody of this name.', ['name']);

/** An administrator less: of the last one a laboratory cannot do without. @throws ServiceError 409 */
export async function requireAnotherAdministrator(name: string): Promise<void> {
  const db = await database();
  const people = await listPeople(db);
  const isLast =
    people.some((p) => isSamePerson(p.name, name) && p.roles.includes('administrator')) &&
    !people.some((p) => !isSamePerson(p.name, name) && p.roles.includes('administrator'));
  if (isLast && (await store.hasAccounts(db)))
    throw new ServiceError(409, `${name} is the last administrator. Make somebody else one first.`, ['roles']);
}

/** Says what somebody may do. @throws ServiceError 404, 409 */
export async function setRoles({
  name,
  roles,
  owner,
}: {
  name: string;
  roles: Role[];
  owner: string | null;
}): Promise<{ name: string; roles: Role[] }> {
  const db = await database();
  const person = (await listPeople(db)).find((p) => isSamePerson(p.name, name));
  if (!person) throw unknown();
  if (!roles.includes('administrator')) await requireAnotherAdministrator(person.name);
  await store.changePerson(db, person.id, { roles, owner: roles.includes('owner') ? owner : null });
  forgetWho();
  return { name: person.name, roles };
}

/** Ends every session of somebody who has retired, and his time at every bench. */
export async function signOutEverywhere(name: string): Promise<void> {
  const db = await database();
  const person = await personByName(db, name);
  if (person) await store.endSessions(db, { account: person.id, person: person.id });
  forgetWho();
}

/** Notes what somebody was found able to do. @returns the ids of what was noted, in the order of `may` @throws ServiceError 404 */
export async function noteCompetence(
  { name, kind, may, from, until, ground }: z.output<typeof competenceEntrySchema>,
  notedBy: string,
  now: string,
): Promise<string[]> {
  const db = await database();
  const person = (await listPeople(db)).find((p) => isSamePerson(p.name, name));
  if (!person) throw unknown();
  const rows = may.map((one) => ({
    id: randomUUID(),
    person: person.name,
    kind,
    may: one,
    from,
    until,
    ground,
    notedBy,
    notedAt: now,
  }));
  await store.addCompetences(db, rows);
  forgetWho();
  return rows.map((row) => row.id);
}

/** Ends it, with today as its last day; one that has ended stays as it is. @throws ServiceError 404 */
export async function stopCompetence(id: string): Promise<void> {
  const db = await database();
  const row = (await store.allCompetences(db)).find((c) => c.id === id);
  if (!row) throw new ServiceError(404, 'This is not noted.');
  const day = await today();
  if (row.until === null || row.until > day) await store.endCompetence(db, id, day < row.from ? row.from : day);
  forgetWho();
}

/** Signs a bench out, wherever it is: a tablet that was lost. @throws ServiceError 404 */
export async function endBench(id: string): Promise<void> {
  const db = await database();
  const bench = await store.accountById(db, id);
  if (!bench?.isBench) throw new ServiceError(404, 'There is no such bench.');
  await store.endSessions(db, { account: id });
  forgetWho();
}

export async function changeRules(rules: PeopleRules): Promise<void> {
  const db = await database();
  await savePeopleRules(db, rules);
  forgetWho();
}

/** Everybody with what they may do, what was found of them, and whether they can sign in. */
export async function peopleBoard() {
  const db = await database();
  const [people, keys, competences, laboratory, benches, kinds, owners] = await Promise.all([
    listPeople(db),
    store.withKeys(db),
    store.allCompetences(db),
    readLaboratory(db),
    store.benches(db),
    countInUse(db, 'kind'),
    countInUse(db, 'owner'),
  ]);
  const digits = new Map(keys.map((k) => [k.person, k.hasDigits]));
  const open = await Promise.all(
    benches.map(async (b) => ({ id: b.id, name: b.name, devices: (await store.sessionsOf(db, b.id)).length })),
  );
  return {
    people: await Promise.all(
      people.map(async (p) => ({
        name: p.name,
        roles: p.roles,
        owner: p.owner,
        hasPassword: (await store.passwordHash(db, p.id)) !== null,
        hasDigits: digits.get(p.id) ?? false,
      })),
    ),
    competences,
    kinds: kinds
      .map((k) => ({ id: k.subject, title: k.subject.replaceAll('-', ' ') }))
      .sort((a, b) => a.title.localeCompare(b.title)),
    owners: owners.map((o) => o.subject).sort((a, b) => a.localeCompare(b)),
    benches: open.filter((b) => b.devices > 0),
    rules: {
      signOffMinutes: laboratory?.signOffMinutes ?? 15,
      asksCompetence: laboratory?.asksCompetence ?? false,
      isOfOne: laboratory?.isOfOne ?? false,
    },
  };
}

/** Tokens by which programs act, as an administrator sees them. */
export const tokenBoard = async (now: string) => tokenLines(await database(), now);

export const giveToken = async (entry: { name: string; roles: Role[]; days: number }, now: string) =>
  makeToken(await database(), { person: entry.name, roles: entry.roles, days: entry.days }, now);

/** A link for an owner who has no account here: it ends by itself, or when its token is ended. @throws ServiceError 404, 409 */
export async function giveLink(
  { name, days }: { name: string; days: number },
  now: string,
): Promise<{ id: string; path: string }> {
  const db = await database();
  const person = (await listPeople(db)).find((p) => isSamePerson(p.name, name));
  if (!person) throw unknown();
  if (!person.owner) throw new ServiceError(409, `${person.name} is no owner of instruments here: say so first.`, ['name']);
  const { id, token } = await makeToken(db, { person: person.name, roles: ['owner'], days }, now);
  return { id, path: `/mine/${token}` };
}

/** How long a calendar may be subscribed to by one key, in days. */
const calendarDays = 3650;

/** A key for calendars: a token of an owner of nothing, which opens what is due and no page. */
export async function giveCalendarKey(person: string, now: string): Promise<{ id: string; key: string }> {
  const { id, token } = await makeToken(await database(), { person, roles: ['owner'], days: calendarDays }, now);
  return { id, key: token };
}

export const takeToken = async (id: string, now: string): Promise<void> => endToken(await database(), id, now);
