import { and, asc, desc, eq, gt, sql } from 'drizzle-orm';
import type { Competence } from '../core/register/competence';
import type { Role } from '../core/register/roles';
import { writing, type Database } from './database';
import { accounts, competences, credentials, keys, people, sessions } from './schema';
import { changed, made, writeSealed } from './seals';

export type PersonRow = typeof people.$inferSelect;
export type AccountRow = typeof accounts.$inferSelect;
export type SessionRow = typeof sessions.$inferSelect;
export type KeysRow = typeof keys.$inferSelect;
export type CompetenceRow = typeof competences.$inferSelect;

export const changePerson = async (db: Database, id: string, set: { roles: Role[]; owner: string | null }): Promise<void> =>
  writeSealed(db, [db.update(people).set(set).where(eq(people.id, id))], [changed('people', { id }, set)]);

/** Whether anybody can sign in: before that, whoever comes first makes the first administrator. */
export const hasAccounts = async (db: Database): Promise<boolean> =>
  (await db.select({ id: accounts.id }).from(accounts).where(eq(accounts.isBench, false)).limit(1)).length > 0;

export const accountById = async (db: Database, id: string): Promise<AccountRow | undefined> =>
  (await db.select().from(accounts).where(eq(accounts.id, id)).limit(1))[0];

export const benches = (db: Database): Promise<AccountRow[]> =>
  db.select().from(accounts).where(eq(accounts.isBench, true)).orderBy(asc(accounts.name)).limit(500);

/** Whoever can sign in with a password, or at a bench. */
export const withKeys = async (db: Database): Promise<{ person: string; hasDigits: boolean }[]> =>
  (await db.select({ person: keys.person, digits: keys.digits }).from(keys)).map((k) => ({
    person: k.person,
    hasDigits: k.digits !== null,
  }));

/** Keeps an account and the hash of its password, over whatever it had before. */
export const saveAccount = (
  db: Database,
  { id, name, email, isBench, password }: Pick<AccountRow, 'id' | 'name' | 'email' | 'isBench'> & { password: string },
  now: Date,
): Promise<void> =>
  writing(db, async () => {
    const stamps = { createdAt: now, updatedAt: now };
    await db.batch([
      db
        .insert(accounts)
        .values({ id, name, email, isBench, ...stamps })
        .onConflictDoUpdate({ target: accounts.id, set: { name, updatedAt: now } }),
      db
        .insert(credentials)
        .values({ id, accountId: id, providerId: 'credential', userId: id, password, ...stamps })
        .onConflictDoUpdate({ target: credentials.id, set: { password, updatedAt: now } }),
    ]);
  });

export const passwordHash = async (db: Database, id: string): Promise<string | null> =>
  (await db.select({ password: credentials.password }).from(credentials).where(eq(credentials.id, id)).limit(1))[0]?.password ??
  null;

export const keysOf = async (db: Database, person: string): Promise<KeysRow> =>
  (await db.select().from(keys).where(eq(keys.person, person)).limit(1))[0] ?? {
    person,
    digits: null,
    digitTries: 0,
    code: null,
    codeEndsAt: 0,
  };

export const saveKeys = (db: Database, person: string, set: Partial<Omit<KeysRow, 'person'>>): Promise<void> =>
  writing(db, async () => {
    await db
      .insert(keys)
      .values({ person, ...set })
      .onConflictDoUpdate({ target: keys.person, set });
  });

/** Counts a try before it is looked at, so that many at once are counted too. @returns how many there were with it */
export const countTry = (db: Database, person: string): Promise<number> =>
  writing(db, async () => {
    await db
      .insert(keys)
      .values({ person, digitTries: 1 })
      .onConflictDoUpdate({ target: keys.person, set: { digitTries: sql`${keys.digitTries} + 1` } });
    return (await keysOf(db, person)).digitTries;
  });

export const sessionById = async (db: Database, id: string): Promise<SessionRow | undefined> =>
  (await db.select().from(sessions).where(eq(sessions.id, id)).limit(1))[0];

export const sessionsOf = (db: Database, account: string): Promise<SessionRow[]> =>
  db.select().from(sessions).where(eq(sessions.userId, account)).orderBy(desc(sessions.createdAt)).limit(200);

export const changeSession = (
  db: Database,
  id: string,
  set: Partial<Pick<SessionRow, 'person' | 'activeAt' | 'confirmedAt'>>,
): Promise<void> =>
  writing(db, async () => {
    await db.update(sessions).set(set).where(eq(sessions.id, id));
  });

/** Notes that somebody is there, at a device that was not handed on meanwhile. */
export const touchSession = (db: Database, id: string, activeAt: number): Promise<void> =>
  writing(db, async () => {
    await db
      .update(sessions)
      .set({ activeAt })
      .where(and(eq(sessions.id, id), gt(sessions.activeAt, 0)));
  });

/** Uses what was typed for a signature, once. @param after ms: since when it is good @returns whether there was any */
export const useUpConfirmation = (db: Database, id: string, after: number): Promise<boolean> =>
  writing(
    db,
    async () =>
      (
        await db
          .update(sessions)
          .set({ confirmedAt: 0 })
          .where(and(eq(sessions.id, id), gt(sessions.confirmedAt, after)))
          .returning({ id: sessions.id })
      ).length > 0,
  );

/** Ends sessions of an account, or those by which somebody acts at a bench; one that is named stays. */
export const endSessions = (db: Database, of: { account?: string; id?: string; person?: string }, except = ''): Promise<void> =>
  writing(db, async () => {
    const isOther = sql`${sessions.id} <> ${except}`;
    if (of.id) await db.delete(sessions).where(and(eq(sessions.id, of.id), isOther));
    if (of.account) await db.delete(sessions).where(and(eq(sessions.userId, of.account), isOther));
    if (of.person)
      await db
        .update(sessions)
        .set({ person: null })
        .where(and(eq(sessions.person, of.person), isOther));
  });

export const allCompetences = (db: Database): Promise<CompetenceRow[]> =>
  db.select().from(competences).orderBy(asc(competences.person), asc(competences.kind), asc(competences.from)).limit(20_000);

export const addCompetences = (db: Database, rows: CompetenceRow[]): Promise<void> =>
  writeSealed(
    db,
    [db.insert(competences).values(rows)],
    rows.map((row) => made('competences', row)),
  );

export const endCompetence = (db: Database, id: string, until: string): Promise<void> =>
  writeSealed(
    db,
    [db.update(competences).set({ until }).where(eq(competences.id, id))],
    [changed('competences', { id }, { until })],
  );

export const asCompetence = ({ person, kind, may, from, until }: CompetenceRow): Competence => ({
  person,
  kind,
  may,
  from,
  until,
});
