import type { like } from 'drizzle-orm';
import { and, asc, count, desc, eq, gt, gte, isNull, lt, lte, or, sql, type SQL } from 'drizzle-orm';
import type { StandardDocument } from '../core/standard/standard-schema';
import { touch, writing, type Database } from './database';
import { changed, made, writeSealed } from './seals';
import { standingsAnew } from './standings';
import { facts, formerCertificates, instruments, laboratory, people, procedures, runs, runStandards, standards } from './schema';

export type InstrumentRow = typeof instruments.$inferSelect;
export type StandardRow = typeof standards.$inferSelect;
export type ProcedureRow = typeof procedures.$inferSelect;

export type InstrumentFilter = { text?: string; due?: 'overdue' | 'soon' | 'all'; today: string; soon: string };

/** LIKE with the user's own % and _ taken literally. */
const contains = (column: Parameters<typeof like>[0], text: string): SQL =>
  sql`${column} like ${`%${text.replace(/[\\%_]/g, '\\$&')}%`} escape '\\'`;

function matching({ text, due, today, soon }: InstrumentFilter): SQL | undefined {
  const inWords = (text ?? '').split(/\s+/).filter(Boolean).slice(0, 6);
  const words = inWords.map((w) =>
    or(
      contains(instruments.identification, w),
      contains(instruments.designation, w),
      contains(instruments.owner, w),
      contains(instruments.place, w),
    ),
  );
  const inUse = eq(instruments.state, 'in-use');
  const when =
    due === 'overdue'
      ? and(inUse, lt(instruments.nextDue, today))
      : due === 'soon'
        ? and(inUse, gte(instruments.nextDue, today), lte(instruments.nextDue, soon))
        : undefined;
  return and(...words, when);
}

/** By what the register can be put in order. */
export const instrumentOrders = {
  next: instruments.nextDue,
  last: instruments.lastCalibrated,
  identification: instruments.identification,
  owner: instruments.owner,
} as const;
export type InstrumentOrder = keyof typeof instrumentOrders;

export async function findInstruments(
  db: Database,
  filter: InstrumentFilter,
  limit: number,
  offset = 0,
  order: { by: InstrumentOrder; isDescending: boolean } = { by: 'next', isDescending: false },
): Promise<{ rows: InstrumentRow[]; total: number }> {
  const where = matching(filter);
  const by = instrumentOrders[order.by];
  const [rows, [counted]] = await Promise.all([
    db
      .select()
      .from(instruments)
      .where(where)
      // What was never calibrated comes first: it waits the longest.
      .orderBy(
        (order.isDescending ? asc : desc)(sql`${by} is null`),
        (order.isDescending ? desc : asc)(by),
        asc(instruments.identification),
      )
      .limit(limit)
      .offset(offset),
    db.select({ total: count() }).from(instruments).where(where),
  ]);
  return { rows, total: counted?.total ?? 0 };
}

export const instrumentById = async (db: Database, id: string): Promise<InstrumentRow | undefined> =>
  (await db.select().from(instruments).where(eq(instruments.id, id)).limit(1))[0];

export const instrumentByIdentification = async (db: Database, identification: string): Promise<InstrumentRow | undefined> =>
  (await db.select().from(instruments).where(eq(instruments.identification, identification)).limit(1))[0];

/** What is entered of an instrument; its settings are kept where they are not given. */
export type InstrumentValues = Omit<InstrumentRow, 'settings'> & { settings?: Record<string, string> | undefined };

export async function saveInstrument(db: Database, row: InstrumentValues): Promise<void> {
  const { id, ...values } = row;
  await writing(db, async () => {
    const isKnown = (await instrumentById(db, id)) !== undefined;
    await writeSealed(
      db,
      [db.insert(instruments).values(row).onConflictDoUpdate({ target: instruments.id, set: values })],
      [isKnown ? changed('instruments', { id }, values) : made('instruments', row)],
    );
  });
  touch(db, row.id);
}

/** Every instrument there is. */
export const allInstruments = (db: Database): Promise<InstrumentRow[]> =>
  db.select().from(instruments).orderBy(asc(instruments.identification));

const memberColumns = {
  id: instruments.id,
  identification: instruments.identification,
  designation: instruments.designation,
  kind: instruments.kind,
  owner: instruments.owner,
  use: instruments.use,
  intervalMonths: instruments.intervalMonths,
  lastCalibrated: instruments.lastCalibrated,
  nextDue: instruments.nextDue,
  state: instruments.state,
};
/** What tells an instrument from others of its kind, without what is measured with it. */
export type MemberRow = Pick<InstrumentRow, keyof typeof memberColumns>;

/** Instruments of a kind after an id, in the order of their ids. */
export const membersAfter = (db: Database, kind: string, after: string, most: number): Promise<MemberRow[]> =>
  db
    .select(memberColumns)
    .from(instruments)
    .where(and(eq(instruments.kind, kind), gt(instruments.id, after)))
    .orderBy(asc(instruments.id))
    .limit(most);

export const memberById = async (db: Database, id: string): Promise<MemberRow | undefined> =>
  (await db.select(memberColumns).from(instruments).where(eq(instruments.id, id)).limit(1))[0];

/** How many instruments are in use of each kind, or of each owner. */
export const countInUse = (db: Database, by: 'kind' | 'owner' | 'place'): Promise<{ subject: string; n: number }[]> =>
  db
    .select({ subject: instruments[by], n: count() })
    .from(instruments)
    .where(eq(instruments.state, 'in-use'))
    .groupBy(instruments[by])
    .orderBy(asc(instruments[by]));

/** Every kind of instrument there is. */
export const allKinds = async (db: Database): Promise<string[]> =>
  (await db.selectDistinct({ kind: instruments.kind }).from(instruments).orderBy(asc(instruments.kind))).map((r) => r.kind);

/** Instruments of one kind, those that are due first. */
export const instrumentsOfKind = (db: Database, kind: string): Promise<InstrumentRow[]> =>
  db.select().from(instruments).where(eq(instruments.kind, kind)).orderBy(asc(instruments.nextDue)).limit(200);

/** In-use instruments due up to a day, most overdue first; those never calibrated come last. */
export async function dueInstruments(db: Database, until: string, limit: number): Promise<InstrumentRow[]> {
  const inUse = eq(instruments.state, 'in-use');
  const due = await db
    .select()
    .from(instruments)
    .where(and(inUse, lte(instruments.nextDue, until)))
    .orderBy(asc(instruments.nextDue), asc(instruments.identification))
    .limit(limit);
  if (due.length >= limit) return due;
  const never = await db
    .select()
    .from(instruments)
    .where(and(inUse, isNull(instruments.nextDue)))
    .orderBy(asc(instruments.identification))
    .limit(limit - due.length);
  return [...due, ...never];
}

/** Instruments of one owner that are kept, in the order of their numbers. */
export const instrumentsOfOwner = (db: Database, owner: string): Promise<InstrumentRow[]> =>
  db.select().from(instruments).where(eq(instruments.owner, owner)).orderBy(asc(instruments.identification)).limit(5000);

export async function countInstruments(db: Database, today: string): Promise<{ total: number; overdue: number }> {
  const [[all], [late]] = await Promise.all([
    db.select({ n: count() }).from(instruments),
    db
      .select({ n: count() })
      .from(instruments)
      .where(and(eq(instruments.state, 'in-use'), lt(instruments.nextDue, today))),
  ]);
  return { total: all?.n ?? 0, overdue: late?.n ?? 0 };
}

/** Standards that run out up to a day, what runs out first; without their documents. */
export const standardsDue = (db: Database, until: string): Promise<Omit<StandardRow, 'document'>[]> =>
  db
    .select({
      id: standards.id,
      identification: standards.identification,
      kind: standards.kind,
      designation: standards.designation,
      place: standards.place,
      due: standards.due,
    })
    .from(standards)
    .where(lte(standards.due, until))
    .orderBy(asc(standards.due), asc(standards.identification))
    .limit(200);

export const hasStandards = async (db: Database): Promise<boolean> =>
  (await db.select({ id: standards.id }).from(standards).limit(1)).length > 0;

export const listStandards = (db: Database): Promise<StandardRow[]> =>
  db.select().from(standards).orderBy(asc(standards.due), asc(standards.identification));

export const standardById = async (db: Database, id: string): Promise<StandardRow | undefined> =>
  (await db.select().from(standards).where(eq(standards.id, id)).limit(1))[0];

export const standardByIdentification = async (db: Database, identification: string): Promise<StandardRow | undefined> =>
  (await db.select().from(standards).where(eq(standards.identification, identification)).limit(1))[0];

/** Writes a standard. Where its certificate is another than before, the former document is kept. Runs keep their own copy of what they used. */
export async function saveStandard(db: Database, row: StandardRow, at: string): Promise<void> {
  const { id, ...values } = row;
  await writing(db, async () => {
    const before = await standardById(db, id);
    const former = before?.document.certificate;
    const isReplaced = former && former.number !== row.document.certificate?.number;
    const replaced = isReplaced ? [{ standardId: id, number: former.number, replacedAt: at, document: before.document }] : [];
    await writeSealed(
      db,
      [
        db.insert(standards).values(row).onConflictDoUpdate({ target: standards.id, set: values }),
        ...replaced.map((r) => db.insert(formerCertificates).values(r)),
      ],
      [
        before ? changed('standards', { id }, values) : made('standards', row),
        ...replaced.map((r) => made('formerCertificates', r)),
      ],
    );
  });
}

/** Certificates that were replaced, latest first. */
export async function formerCertificatesOf(db: Database, standardId: string): Promise<StandardDocument[]> {
  const rows = await db
    .select()
    .from(formerCertificates)
    .where(eq(formerCertificates.standardId, standardId))
    .orderBy(sql`${formerCertificates.replacedAt} desc`);
  return rows.map((r) => r.document);
}

export async function addFormerCertificate(
  db: Database,
  standardId: string,
  replacedAt: string,
  document: StandardDocument,
): Promise<void> {
  const row = { standardId, number: document.certificate?.number ?? '', replacedAt, document };
  await writeSealed(db, [db.insert(formerCertificates).values(row)], [made('formerCertificates', row)]);
}

/** Whether somebody of this name can sign. */
export const isPerson = async (db: Database, name: string): Promise<boolean> =>
  (
    await db
      .select({ id: people.id })
      .from(people)
      .where(and(eq(people.name, name), isNull(people.retiredAt)))
      .limit(1)
  ).length > 0;

export const personByName = async (db: Database, name: string) =>
  (await db.select().from(people).where(eq(people.name, name)).limit(1))[0];

/** Everyone who can sign; those who have retired are left out. */
export const listPeople = (db: Database) => db.select().from(people).where(isNull(people.retiredAt)).orderBy(asc(people.name));

/** Adds a person; someone of that name who had retired is back. */
export async function savePerson(db: Database, person: { id: string; name: string }): Promise<void> {
  await writing(db, async () => {
    const known = await personByName(db, person.name);
    await writeSealed(
      db,
      [
        db
          .insert(people)
          .values(person)
          .onConflictDoUpdate({ target: people.name, set: { retiredAt: null } }),
      ],
      [known ? changed('people', known, { retiredAt: null }) : made('people', person)],
    );
  });
}

/** Takes a name out of the list of those who can sign. What it has signed stays. */
export async function retirePerson(db: Database, name: string, at: string): Promise<boolean> {
  return writing(db, async () => {
    const known = await personByName(db, name);
    if (!known || known.retiredAt !== null) return false;
    await writeSealed(
      db,
      [db.update(people).set({ retiredAt: at }).where(eq(people.id, known.id))],
      [changed('people', known, { retiredAt: at })],
    );
    return true;
  });
}

export const readLaboratory = async (db: Database) => (await db.select().from(laboratory).limit(1))[0];

export async function saveLaboratory(
  db: Database,
  values: { name: string; address: string; conditionInstruments?: string; timeZone: string | null },
): Promise<void> {
  await writing(db, async () => {
    const before = await readLaboratory(db);
    const row = { id: 1, ...values };
    await writeSealed(
      db,
      [db.insert(laboratory).values(row).onConflictDoUpdate({ target: laboratory.id, set: values })],
      [before ? changed('laboratory', before, values) : made('laboratory', row)],
    );
    // A check belongs to another day in another zone.
    if (before && before.timeZone !== values.timeZone) await standingsAnew(db);
  });
}

/** What is asked of whoever acts; of a laboratory that has no name yet the rest stays open. */
export async function savePeopleRules(
  db: Database,
  values: { signOffMinutes: number; asksCompetence: boolean; isOfOne: boolean },
): Promise<void> {
  await writing(db, async () => {
    const before = await readLaboratory(db);
    const row = { id: 1, name: '', address: '', ...values };
    await writeSealed(
      db,
      [db.insert(laboratory).values(row).onConflictDoUpdate({ target: laboratory.id, set: values })],
      [before ? changed('laboratory', before, values) : made('laboratory', row)],
    );
  });
}

export const readFact = async (db: Database, key: string): Promise<string | null> =>
  (await db.select().from(facts).where(eq(facts.key, key)).limit(1))[0]?.value ?? null;

/** Values of all facts whose key begins so, in the order of their keys. */
export const factsOf = async (db: Database, prefix: string): Promise<string[]> =>
  (
    await db
      .select()
      .from(facts)
      .where(sql`substr(${facts.key}, 1, ${prefix.length}) = ${prefix}`)
      .orderBy(facts.key)
  ).map((row) => row.value);

export async function saveFact(db: Database, key: string, value: string): Promise<void> {
  await writeSealed(
    db,
    [db.insert(facts).values({ key, value }).onConflictDoUpdate({ target: facts.key, set: { value } })],
    [made('facts', { key, value })],
  );
}

/** Revisions that were read already: one never changes. */
const rowsKept = new WeakMap<Database, Map<string, ProcedureRow>>();

/** Every revision of every procedure of version 2, newest revision first; each is read from the store once, and is the same thing every time. */
export async function listProcedures(db: Database): Promise<ProcedureRow[]> {
  const keyOf = (row: Pick<ProcedureRow, 'id' | 'revision'>) => `${row.id}@${row.revision}`;
  const keys = await db
    .select({ id: procedures.id, revision: procedures.revision })
    .from(procedures)
    .orderBy(asc(procedures.id), desc(procedures.revision));
  const kept = rowsKept.get(db) ?? new Map<string, ProcedureRow>();
  rowsKept.set(db, kept);
  for (const { id, revision } of keys)
    if (!kept.has(keyOf({ id, revision }))) {
      const row = await procedureRevision(db, id, revision);
      if (row) kept.set(keyOf(row), row);
    }
  return keys.flatMap((key) => kept.get(keyOf(key)) ?? []).filter((row) => row.document.version === 2);
}

export const procedureRevision = async (db: Database, id: string, revision: number): Promise<ProcedureRow | undefined> =>
  (
    await db
      .select()
      .from(procedures)
      .where(and(eq(procedures.id, id), eq(procedures.revision, revision)))
      .limit(1)
  )[0];

export async function addProcedure(db: Database, row: ProcedureRow): Promise<void> {
  await writing(db, async () => {
    await writeSealed(db, [db.insert(procedures).values(row)], [made('procedures', row)]);
    // Its limits and rules are those of the checks from now on.
    await standingsAnew(db);
  });
}

/** The latest runs that used a standard. */
export async function runsWithStandard(db: Database, standardId: string) {
  const latest = db
    .selectDistinct({ runId: runStandards.runId, startedAt: runStandards.startedAt })
    .from(runStandards)
    .where(eq(runStandards.standardId, standardId))
    .orderBy(desc(runStandards.startedAt))
    .limit(200)
    .as('latest');
  return db
    .select({
      id: runs.id,
      startedAt: runs.startedAt,
      status: runs.status,
      certificate: runs.certificate,
      identification: instruments.identification,
      instrumentId: instruments.id,
    })
    .from(latest)
    .innerJoin(runs, eq(runs.id, latest.runId))
    .innerJoin(instruments, eq(runs.instrumentId, instruments.id))
    .orderBy(desc(runs.startedAt));
}
