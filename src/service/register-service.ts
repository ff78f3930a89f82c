import { randomUUID } from 'node:crypto';
import { addDays, format, parseISO } from 'date-fns';
import { database } from '../store/database';
import * as register from '../store/register';
import { isUniqueViolation, latestFinishedRuns, openRunOf, runsOfInstrument } from '../store/run-log';
import type { InstrumentEntry, StandardEntry } from './registration-schema';
import { ServiceError } from './service-error';

export type { InstrumentRow, StandardRow } from '../store/register';
export type { RunRow } from '../store/run-log';

export const today = (): string => new Date().toISOString().slice(0, 10);
export const pageSize = 50;

const identificationTaken = (identification: string) =>
  new ServiceError(409, `"${identification}" is already registered. Every identification is used once.`, ['identification']);

export type InstrumentQuery = { text?: string; due?: 'overdue' | 'soon' | 'all'; page?: number };

/** A page of the register with each instrument's latest finished run. */
export async function searchInstruments(query: InstrumentQuery) {
  const db = await database();
  const page = Math.max(1, query.page ?? 1);
  const day = today();
  const soon = format(addDays(parseISO(day), 30), 'yyyy-MM-dd');
  const { rows, total } = await register.findInstruments(db, { ...query, today: day, soon }, pageSize, (page - 1) * pageSize);
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
  return { instrument, history, open };
}

export async function addInstrument(entry: InstrumentEntry): Promise<string> {
  const db = await database();
  const id = randomUUID();
  try {
    await register.saveInstrument(db, { ...entry, id, lastCalibrated: null });
  } catch (error) {
    throw isUniqueViolation(error) ? identificationTaken(entry.identification) : error;
  }
  return id;
}

export async function changeInstrument(id: string, entry: InstrumentEntry): Promise<void> {
  const db = await database();
  const { instrument } = await getInstrument(id);
  const other = await register.instrumentByIdentification(db, entry.identification);
  if (other && other.id !== id) throw identificationTaken(entry.identification);
  await register.saveInstrument(db, { ...entry, id, lastCalibrated: instrument.lastCalibrated });
}

export async function listStandards() {
  const db = await database();
  const [rows, items] = await Promise.all([register.listStandards(db), register.countItems(db)]);
  return rows.map((standard) => ({ standard, items: items.get(standard.id) ?? 0 }));
}

export async function getStandard(id: string) {
  const db = await database();
  const standard = await register.standardById(db, id);
  if (!standard)
    throw new ServiceError(404, 'There is no standard with this id. It may have been mistyped: look in the list of standards.');
  const [items, uses] = await Promise.all([register.itemsOfStandard(db, id), register.runsWithStandard(db, id)]);
  return { standard, items, uses };
}

async function storeStandard(id: string, entry: StandardEntry): Promise<void> {
  const db = await database();
  const { items, ...row } = entry;
  const other = await register.standardByIdentification(db, entry.identification);
  if (other && other.id !== id) throw identificationTaken(entry.identification);
  await register.saveStandard(
    db,
    { ...row, id },
    items.map((item) => ({ ...item, id: randomUUID() })),
  );
}

export async function addStandard(entry: StandardEntry): Promise<string> {
  const id = randomUUID();
  await storeStandard(id, entry);
  return id;
}

export async function changeStandard(id: string, entry: StandardEntry): Promise<void> {
  await getStandard(id);
  await storeStandard(id, entry);
}

export async function listPeople() {
  return register.listPeople(await database());
}

/** Adds a person; someone of that name who is there already is the same person. */
export async function addPerson(name: string): Promise<void> {
  await register.savePerson(await database(), { id: randomUUID(), name });
}

export async function getLaboratory() {
  return (await register.readLaboratory(await database())) ?? { id: 1, name: '', address: '' };
}

export async function changeLaboratory(values: { name: string; address: string }): Promise<void> {
  await register.saveLaboratory(await database(), values);
}
