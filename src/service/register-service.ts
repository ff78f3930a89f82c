import type { InstrumentSnapshot } from '../core/plan/snapshots';
import { createHash, randomUUID } from 'node:crypto';
import { addDays, format, parseISO } from 'date-fns';
import type { Laboratory } from '../core/certificate/certificate';
import type { StandardDocument } from '../core/standard/standard-schema';
import { database, isUniqueViolation, writing } from '../store/database';
import { moveDates } from '../store/intervals';
import * as register from '../store/register';
import { latestFinishedRuns, openRunOf, runsOfInstrument } from '../store/run-log';
import type { InstrumentEntry, LaboratoryEntry, StandardEntry } from '../core/register/entry-schemas';
import { laboratoryZone, today } from './laboratory-time';
import { notServed } from '../core/run/not-served';
import { isSamePerson } from '../core/register/person-name';
import { proceduresFor } from './procedure-library';
import { ServiceError } from './service-error';

export type { InstrumentRow, StandardRow } from '../store/register';
export type { RunRow } from '../store/run-log';

export const pageSize = 50;

const identificationTaken = (identification: string) =>
  new ServiceError(409, `"${identification}" is already registered. Every identification is used once.`, ['identification']);

export type InstrumentQuery = {
  text?: string;
  due?: 'overdue' | 'soon' | 'all';
  page?: number;
  by?: register.InstrumentOrder;
  isDescending?: boolean;
};
export const isInstrumentOrder = (text: string): text is register.InstrumentOrder => text in register.instrumentOrders;

/** A page of the register with each instrument's latest finished run. */
export async function searchInstruments(query: InstrumentQuery) {
  const db = await database();
  const page = Math.max(1, query.page ?? 1);
  const day = await today();
  const soon = format(addDays(parseISO(day), 30), 'yyyy-MM-dd');
  const { rows, total } = await register.findInstruments(db, { ...query, today: day, soon }, pageSize, (page - 1) * pageSize, {
    by: query.by ?? 'next',
    isDescending: query.isDescending ?? false,
  });
  const latest = await latestFinishedRuns(
    db,
    rows.map((r) => r.id),
  );
  return {
    rows: rows.map((instrument) => ({ instrument, latest: latest.get(instrument.id)?.summary ?? null })),
    total,
    page,
    pages: Math.max(1, Math.ceil(total / pageSize)),
  };
}

export async function getInstrument(id: string) {
  const db = await database();
  const instrument = await register.instrumentById(db, id);
  if (!instrument)
    throw new ServiceError(
      404,
      'There is no instrument with this id. It may have been mistyped: search the list of instruments.',
    );
  const [history, open] = await Promise.all([runsOfInstrument(db, id), openRunOf(db, id)]);
  return { instrument, history, open, version: versionOf(instrument) };
}

/** What an entry says, in few letters: another after every change. */
const versionOf = (row: object): string => createHash('sha256').update(JSON.stringify(row)).digest('hex').slice(0, 16);

/** An entry that somebody else has changed meanwhile is not written over. @param seen the version that was on the screen; nothing where none was */
function requireUnchanged(row: object, seen: string | null): void {
  if (seen !== null && seen !== versionOf(row))
    throw new ServiceError(
      409,
      'Somebody has changed this entry since it was opened here. Nothing was saved: open it in another window, see what has changed, and enter your change there.',
    );
}

/** Writes an entry whose identification may have been taken a moment ago: one wins, the others are told. */
async function withIdentification(identification: string, write: () => Promise<void>): Promise<void> {
  try {
    await write();
  } catch (error) {
    throw isUniqueViolation(error) ? identificationTaken(identification) : error;
  }
}

/** What is stored, with what a person typed over it. */
const storedWith = (known: InstrumentSnapshot['stored'], { stored }: InstrumentEntry): InstrumentSnapshot['stored'] =>
  Object.fromEntries(Object.entries({ ...known, ...stored }).flatMap(([id, value]) => (value === null ? [] : [[id, value]])));

/** Refuses what no procedure of its kind can serve: said now, and not when the run would begin. */
async function requireServed(entry: InstrumentEntry): Promise<void> {
  const procedures = await proceduresFor(entry.kind);
  const instrument = { ...entry, id: '', stored: storedWith({}, entry), lastCalibrated: null };
  const reasons = procedures.map(({ document }) => notServed(document, instrument));
  const [reason] = reasons;
  if (reason && !reasons.includes(null)) throw new ServiceError(400, reason.why, [reason.field]);
}

export async function addInstrument(entry: InstrumentEntry): Promise<string> {
  const db = await database();
  await requireServed(entry);
  const id = randomUUID();
  await withIdentification(entry.identification, () =>
    register.saveInstrument(db, { ...entry, id, stored: storedWith({}, entry), lastCalibrated: null }),
  );
  return id;
}

export async function changeInstrument(id: string, entry: InstrumentEntry, seen: string | null = null): Promise<void> {
  const db = await database();
  await requireServed(entry);
  await writing(db, async () => {
    // What a run writes is read and kept in one turn.
    const { instrument } = await getInstrument(id);
    requireUnchanged(instrument, seen);
    await withIdentification(entry.identification, () =>
      register.saveInstrument(db, {
        ...entry,
        id,
        stored: storedWith(instrument.stored, entry),
        lastCalibrated: instrument.lastCalibrated,
      }),
    );
    // A date that is changed in the register stands beside those that were moved: nothing is due on a day that nobody said.
    if (entry.nextDue !== null && entry.nextDue !== instrument.nextDue)
      await moveDates(db, [
        {
          instrumentId: id,
          before: instrument.nextDue,
          after: entry.nextDue,
          reason: 'Changed in the register.',
          at: new Date().toISOString(),
          person: 'the register',
        },
      ]);
  });
}

export async function listStandards() {
  return register.listStandards(await database());
}

export async function getStandard(id: string) {
  const db = await database();
  const standard = await register.standardById(db, id);
  if (!standard)
    throw new ServiceError(404, 'There is no standard with this id. It may have been mistyped: look in the list of standards.');
  const [former, uses] = await Promise.all([register.formerCertificatesOf(db, id), register.runsWithStandard(db, id)]);
  return { standard, former, uses, version: versionOf(standard) };
}

async function storeStandard(id: string, { place, document }: StandardEntry): Promise<void> {
  const db = await database();
  const { identification, kind, designation, certificate } = document;
  await withIdentification(identification, () =>
    register.saveStandard(
      db,
      { id, identification, kind, designation, place, due: certificate?.due ?? null, document },
      new Date().toISOString(),
    ),
  );
}

export async function addStandard(entry: StandardEntry): Promise<string> {
  const id = randomUUID();
  await storeStandard(id, entry);
  return id;
}

export async function changeStandard(id: string, entry: StandardEntry, seen: string | null = null): Promise<void> {
  const db = await database();
  await writing(db, () => changeStandardAlone(id, entry, seen));
}

async function changeStandardAlone(id: string, entry: StandardEntry, seen: string | null): Promise<void> {
  const { standard } = await getStandard(id);
  requireUnchanged(standard, seen);
  const jumps = entry.jumpsSeen ? [] : jumpsOf(standard.document, entry.document);
  if (jumps.length > 0)
    throw new ServiceError(
      409,
      `Against the former certificate ${jumps.length === 1 ? 'one value has' : `${jumps.length} values have`} jumped: ${jumps.slice(0, 3).join('; ')}. Look at the digits; where the certificate says so, save it once more.`,
      ['document', 'items'],
      { jumps },
    );
  await storeStandard(id, entry);
}

/** Certified values of the same items that moved by more than five times what both uncertainties explain, in words. */
function jumpsOf(former: StandardDocument, next: StandardDocument): string[] {
  const before = new Map((former.items ?? []).map((i) => [i.id, i]));
  return (next.items ?? []).flatMap((item) => {
    const old = before.get(item.id);
    if (!old || former.certificate?.number === next.certificate?.number) return [];
    const explained = 5 * Math.hypot(item.expandedUncertainty, old.expandedUncertainty);
    if (item.certified === undefined || old.certified === undefined) return [];
    return Math.abs(item.certified - old.certified) > explained
      ? [`${item.marking || item.nominal}, ${old.certified} before, ${item.certified} now`]
      : [];
  });
}

export async function listPeople() {
  return register.listPeople(await database());
}

/**
 * Adds a person; someone of that name who is there already is the same person.
 * @throws ServiceError 409 where the name is there in another spelling
 */
export async function addPerson(name: string): Promise<void> {
  const known = (await listPeople()).find((p) => isSamePerson(p.name, name));
  if (known && known.name !== name)
    throw new ServiceError(409, `${known.name} is in the list already: choose that name.`, ['name']);
  await register.savePerson(await database(), { id: randomUUID(), name });
}

/** Takes a name out of the list, for instance one typed by mistake. What it has signed stays. */
export async function retirePerson(name: string): Promise<void> {
  if (!(await register.retirePerson(await database(), name, new Date().toISOString())))
    throw new ServiceError(
      404,
      `Nobody of the name "${name}" is in the list. It may have been retired already: load the page again.`,
      ['name'],
    );
}

export async function getLaboratory() {
  const row = await register.readLaboratory(await database());
  return {
    name: row?.name ?? '',
    address: row?.address ?? '',
    conditionInstruments: row?.conditionInstruments ?? '',
    timeZone: await laboratoryZone(),
  };
}

export async function changeLaboratory(values: LaboratoryEntry): Promise<void> {
  await register.saveLaboratory(await database(), values);
}

/** The laboratory as it stands at the head of a certificate. */
export async function certificateHead(): Promise<Laboratory> {
  const { name, address, conditionInstruments } = await getLaboratory();
  return { name: name || 'Laboratory not named yet', address, conditionInstruments };
}
