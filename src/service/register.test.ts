import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { budgetSchema, type Budget } from '../core/uncertainty/budget-schema';
import { standardNamed } from '../core/run/fixtures/bench';
import { database, type Database } from '../store/database';
import { movesOf } from '../store/intervals';
import { cardFor, cardPage, writeCard } from './card-service';
import { findingSchema, uncoveredSince } from '../core/register/finding';
import { findingsOf, noteFinding } from './finding-service';
import * as schema from '../store/schema';
import { addBudget, getBudget, listBudgets } from './budget-service';
import {
  addInstrument,
  addPerson,
  addStandard,
  changeInstrument,
  changeStandard,
  getInstrument,
  getStandard,
  listPeople,
  retirePerson,
  searchInstruments,
} from './register-service';
import { instrumentEntrySchema, standardEntrySchema } from '../core/register/entry-schemas';
import { startRun } from './start-service';
import { refusalOf } from './fixtures/refusal-of';
import { ownCopy, person } from './fixtures/own-copy';

let db: Database;
ownCopy((opened) => (db = opened));
const oneTerm: Budget = {
  format: 'just-twice/budget',
  version: 1,
  name: 'b',
  output: { symbol: 'Y', unit: '1' },
  model: 'a',
  quantities: [{ symbol: 'a', unit: '1', distribution: { type: 'constant', value: 1 } }],
};

describe('the register', () => {
  const instrument = instrumentEntrySchema.parse({
    identification: 'T-1',
    kind: 'outside-micrometer',
    owner: 'Works',
    unit: 'mm',
    lower: 0,
    upper: 25,
    usedLower: 0,
    usedUpper: 25,
    resolution: 0.001,
    adjustmentAllowed: true,
    intervalMonths: null,
    state: 'in-use',
    nextDue: null,
  });
  const document = { ...standardNamed('gb-47').document, identification: 'S-1' };
  const set = standardEntrySchema.parse({ document });
  const setNamed = (identification: string) => ({ ...set, document: { ...set.document, identification } });
  it('keeps what an instrument has stored, changes what is typed, and forgets what is emptied', async () => {
    const id = await addInstrument({ ...instrument, identification: 'ST-1', stored: { offset: 0.2, gain: 1 } });
    const storedNow = async () => (await getInstrument(id)).instrument.stored;
    expect(await storedNow()).toEqual({ offset: 0.2, gain: 1 });
    await changeInstrument(id, { ...instrument, identification: 'ST-1', stored: {} });
    expect(await storedNow()).toEqual({ offset: 0.2, gain: 1 });
    await changeInstrument(id, { ...instrument, identification: 'ST-1', stored: { offset: null, gain: 1.001 } });
    expect(await storedNow()).toEqual({ gain: 1.001 });
    expect(() => instrumentEntrySchema.parse({ ...instrument, stored: { offset: 'a lot' } })).toThrow();
  });
  it('registers, finds by any word, and changes', async () => {
    const id = await addInstrument({ ...instrument, identification: 'ZZ%_9', designation: 'Odd name' });
    expect((await searchInstruments({ text: 'zz%_9 odd' })).rows.map((r) => r.instrument.id)).toEqual([id]);
    expect((await searchInstruments({ text: '%' })).total).toBe(1);
    // Of two people who have it open, the second to save is told.
    const seen = (await getInstrument(id)).version;
    await changeInstrument(id, { ...instrument, identification: 'ZZ-10', place: 'Shelf 2' }, seen);
    const late = await refusalOf(changeInstrument(id, { ...instrument, identification: 'ZZ-10', place: 'Shelf 3' }, seen));
    expect(late).toMatchObject({ status: 409, message: expect.stringContaining('Somebody has changed this entry') });
    expect((await getInstrument(id)).instrument.place).toBe('Shelf 2');
    // A date that is none, or the same, was not moved.
    expect(await movesOf(db, id)).toEqual([]);
    await changeInstrument(id, { ...instrument, identification: 'ZZ-10', state: 'out-of-use' });
    expect((await getInstrument(id)).instrument).toMatchObject({ identification: 'ZZ-10', state: 'out-of-use' });
    expect(
      await refusalOf(
        startRun({
          run: randomUUID(),
          instrument: id,
          procedure: 'outside-micrometer',
          standards: { blocks: ['gb-47'] },
          choices: {},
          person,
        }),
      ),
    ).toMatchObject({
      status: 409,
    });
  });
  it('finds what falls due within a month, and only that', async () => {
    const { rows } = await searchInstruments({ due: 'soon' });
    const inDays = rows.map(
      (r) => (Date.parse(r.instrument.nextDue!) - Date.parse(new Date().toISOString().slice(0, 10))) / 86_400_000,
    );
    expect(rows.length).toBeGreaterThan(0);
    expect(Math.max(...inDays)).toBeLessThanOrEqual(31);
    expect(Math.min(...inDays)).toBeGreaterThanOrEqual(-1);
  });
  it('of many who register the same identification at once one wins, and the others are told', async () => {
    const instruments = await Promise.allSettled(
      Array.from({ length: 10 }, () => addInstrument({ ...instrument, identification: 'RACE-1' })),
    );
    const standards = await Promise.allSettled(Array.from({ length: 10 }, () => addStandard(setNamed('RACE-S'))));
    for (const outcomes of [instruments, standards]) {
      expect(outcomes.filter((o) => o.status === 'fulfilled')).toHaveLength(1);
      for (const o of outcomes)
        if (o.status === 'rejected') expect(o.reason).toMatchObject({ status: 409, path: ['identification'] });
    }
    expect((await searchInstruments({ text: 'RACE-1' })).total).toBe(1);
  });
  it.each([
    ['date', '2026-02-30'],
    ['due', '2027-13-45'],
    ['due', '9999-01-01'],
    ['due', '2020-01-01'],
    ['issuer', ' '],
  ])('refuses a standard whose certificate has a %s of %s', (field, value) =>
    expect(
      standardEntrySchema.safeParse({ document: { ...document, certificate: { ...document.certificate, [field]: value } } }).error
        ?.issues[0]?.path,
    ).toEqual(['document', 'certificate', field]),
  );
  it('a name typed by mistake can be retired, and comes back when it is typed again', async () => {
    expect(await refusalOf(addPerson('maud  ELLERY'))).toMatchObject({ status: 409, path: ['name'] });
    await addPerson('Maud Ellery');
    await addPerson('Mistyped Nmae');
    await retirePerson('Mistyped Nmae');
    expect((await listPeople()).map((p) => p.name)).not.toContain('Mistyped Nmae');
    expect(await refusalOf(retirePerson('Mistyped Nmae'))).toMatchObject({ status: 404 });
    await addPerson('Mistyped Nmae');
    expect((await listPeople()).map((p) => p.name)).toContain('Mistyped Nmae');
  });
  it('keeps no budget that cannot be computed, and one that got there anyway takes no list down', async () => {
    const sum = (terms: number) => budgetSchema.parse({ ...oneTerm, model: Array(terms).fill('a').join('+') });
    expect(await refusalOf(addBudget(sum(4002)))).toMatchObject({ status: 422, path: ['model'] });
    expect(await refusalOf(addBudget({ ...oneTerm, model: '1/(a-a)' }))).toMatchObject({ status: 422, path: ['model'] });
    const id = await addBudget(sum(4000));
    expect((await getBudget(id)).document.model).toHaveLength(7999);
    await db
      .insert(schema.budgets)
      .values({ id: 'broken', document: { ...oneTerm, quantities: null } as never, changedAt: '2026-01-01' });
    const listed = await listBudgets();
    expect(listed.find((b) => b.id === 'broken')!.reported).toBeNull();
    expect(listed.find((b) => b.id === id)!.reported!.estimate).toBe('4000');
    await db.delete(schema.budgets).where(eq(schema.budgets.id, 'broken'));
  });
  it('refuses an identification that is taken', async () => {
    const id = await addInstrument(instrument);
    expect(await refusalOf(addInstrument(instrument))).toMatchObject({ status: 409, path: ['identification'] });
    expect(await refusalOf(changeInstrument(id, { ...instrument, identification: 'QM-0112' }))).toMatchObject({ status: 409 });
  });
  it('replaces what a standard states together with its certificate, and keeps the one before; old runs keep theirs', async () => {
    const id = await addStandard(set);
    expect((await getStandard(id)).standard.document.items).toHaveLength(47);
    const items = set.document.items!.slice(0, 2);
    await changeStandard(id, {
      ...set,
      document: { ...set.document, certificate: { ...set.document.certificate!, number: '8' }, items },
    });
    const { standard, former } = await getStandard(id);
    expect(standard.document.items).toHaveLength(2);
    expect(former.map((d) => [d.certificate!.number, d.items!.length])).toEqual([[document.certificate!.number, 47]]);
    expect(await refusalOf(addStandard(set))).toMatchObject({ status: 409 });
  });
  it('refuses an instrument in a unit that no procedure of its kind reads, and takes another of the same quantity', async () => {
    const entry = instrumentEntrySchema.parse({ ...instrument, identification: 'UNIT-1' });
    expect(await refusalOf(addInstrument({ ...entry, unit: 'kPa' }))).toMatchObject({
      status: 400,
      path: ['unit'],
      message: expect.stringContaining('is read in mm'),
    });
    await expect(addInstrument({ ...entry, unit: '[in_i]' })).resolves.toMatch(/^[0-9a-f-]{36}$/);
  });
  it.each([
    [{ upper: 0 }, 'upper'],
    [{ usedLower: -1 }, 'usedLower'],
    [{ usedUpper: 30 }, 'usedUpper'],
    [{ resolution: 20 }, 'resolution'],
    [{ kind: 'Big Thing' }, 'kind'],
    [{ unit: '' }, 'unit'],
    [{ lists: { ranges: [{ id: 'a' }, { id: 'a' }] } }, 'lists'],
    [{ resolution: 'fine' }, 'resolution'],
    [{ owner: ' ' }, 'owner'],
    [{ nextDue: '24.11.2026' }, 'nextDue'],
  ])('refuses an instrument with %j', (more, at) =>
    expect(instrumentEntrySchema.safeParse({ ...instrument, ...more }).error?.issues[0]?.path).toEqual([at]),
  );
  it('refuses a certified value with a slipped digit, and an item that stands twice', () => {
    const items = document.items!;
    const faultOf = (changed: typeof items) =>
      standardEntrySchema.safeParse({ document: { ...document, items: changed } }).error?.issues[0]?.path;
    expect(faultOf([{ ...items[5]!, certified: items[5]!.certified! * 10 }])).toEqual(['document', 'items', 0, 'certified']);
    expect(faultOf([items[5]!, items[5]!])).toEqual(['document', 'items', 1, 'id']);
    expect(faultOf([{ ...items[5]!, expandedUncertainty: 0 }])).toEqual(['document', 'items', 0, 'expandedUncertainty']);
  });
  it('asks about a value that jumped against the former certificate, and takes it when it was looked at', async () => {
    const id = await addStandard({ ...set, document: { ...set.document, identification: 'GB-JUMP' } });
    const [first, ...rest] = set.document.items!;
    const next = (number: string, by: number) => ({
      ...set,
      document: {
        ...set.document,
        identification: 'GB-JUMP',
        certificate: { ...set.document.certificate!, number },
        items: [{ ...first!, certified: first!.certified! + by }, ...rest],
      },
    });
    await changeStandard(id, next('9', first!.expandedUncertainty));
    const refusal = await refusalOf(changeStandard(id, next('10', 20 * first!.expandedUncertainty)));
    expect(refusal).toMatchObject({ status: 409, message: expect.stringContaining('one value has jumped') });
    await changeStandard(id, { ...next('10', 20 * first!.expandedUncertainty), jumpsSeen: true });
    expect((await getStandard(id)).standard.document.certificate!.number).toBe('10');
  });
  it('someone of the same name is the same person', async () => {
    await addPerson('Maud Ellery');
    expect((await listPeople()).filter((p) => p.name === 'Maud Ellery')).toHaveLength(1);
  });
  it('pages through ten thousand instruments', async () => {
    const rows = Array.from({ length: 10_000 }, (_, i) => ({
      ...instrument,
      id: `bulk-${i}`,
      identification: `BULK-${String(i).padStart(5, '0')}`,
      stored: {},
      lastCalibrated: null,
      nextDue: '2030-01-01',
    }));
    for (let i = 0; i < rows.length; i += 500) await db.insert(schema.instruments).values(rows.slice(i, i + 500));
    const found = await searchInstruments({ text: 'BULK', page: 200 });
    expect(found).toMatchObject({ total: 10_000, pages: 200 });
    expect(found.rows.at(-1)!.instrument.identification).toBe('BULK-09999');
  });
});

describe('findings beside calibration', () => {
  const finding = (more: object = {}) => ({
    ...findingSchema.parse({ day: '2026-05-04', kind: 'worn', text: 'Anvil worn', outcome: 'adjust' }),
    person,
    ...more,
  });
  it('are kept apart, latest first, and take out of use what is to be repaired', async () => {
    const { instrument: known } = await getInstrument('qm-0131');
    const entry = instrumentEntrySchema.parse({ ...known, identification: 'FD-1', stored: {} });
    const id = await addInstrument(entry);
    await noteFinding(id, finding());
    expect((await getInstrument(id)).instrument.state).toBe('in-use');
    await noteFinding(id, finding({ day: '2026-05-20', kind: 'damage', text: 'Fell off the bench', outcome: 'repair' }));
    expect((await getInstrument(id)).instrument.state).toBe('out-of-use');
    expect((await findingsOf(id)).map((f) => f.text)).toEqual(['Fell off the bench', 'Anvil worn']);
    expect((await refusalOf(noteFinding(id, finding({ day: '2099-01-01' })))).path).toEqual(['day']);
    expect((await refusalOf(noteFinding('moon', finding()))).status).toBe(404);
    expect((await refusalOf(noteFinding(id, finding({ person: 'Nobody' })))).status).toBe(422);
    await expect((await database()).run('DELETE FROM findings')).rejects.toThrow();
  });
  it('a repair since the last calibration is not covered by it', () => {
    const repair = finding({ kind: 'repair', day: '2026-03-01' });
    expect(uncoveredSince([repair], '2026-01-01')).toBe(repair);
    expect(uncoveredSince([repair], '2026-03-01')).toBeNull();
    expect(uncoveredSince([repair], null)).toBe(repair);
    expect(uncoveredSince([finding()], null)).toBeNull();
  });
  it('say what was found, on which day, and what follows', () => {
    const paths = (value: object) => new Set(findingSchema.safeParse(value).error!.issues.map((i) => i.path[0]));
    expect([...paths({ day: 'soon', kind: 'rust', text: ' ', outcome: 'hope' })].sort()).toEqual([
      'day',
      'kind',
      'outcome',
      'text',
    ]);
  });
});

describe('the card of a make and type', () => {
  it('is written in versions, for all instruments of the model, by somebody who is known', async () => {
    const page = await cardPage('qp-22');
    const moment = page.moments[0]!.id;
    const seen = page.card!.version;
    const lines = [{ at: moment, text: 'Press {point.nominal}; =2+2 <b>' }];
    expect((await refusalOf(writeCard('qp-22', { lines, person: 'Nobody', seen }))).status).toBe(422);
    expect((await refusalOf(writeCard('qp-22', { lines: [{ at: 'moon', text: 'x' }], person, seen }))).path).toEqual([
      'lines',
      0,
      'at',
    ]);
    expect(await writeCard('qp-22', { lines, person, seen })).toBe(seen + 1);
    // Of two people who have it open, the second is told.
    expect((await refusalOf(writeCard('qp-22', { lines: [], person, seen }))).status).toBe(409);
    const { kind, designation } = page.instrument;
    expect(await cardFor({ kind, designation })).toMatchObject({ version: seen + 1, lines, person });
    expect(await cardFor({ kind, designation: 'Another make' })).toBeNull();
    const db = await database();
    await expect(db.run("UPDATE model_cards SET lines = '[]'")).rejects.toThrow();
  });
});
