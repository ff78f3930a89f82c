import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { seedDemo } from '../../demo/seed';
import { eq } from 'drizzle-orm';
import { budgetSchema, type Budget } from '../core/uncertainty/budget-schema';
import { admit } from '../core/run/admit';
import { runState } from '../core/run/run-state';
import { summarizeRun } from '../core/run/run-summary';
import type { Act } from '../core/run/event-schema';
import { database, migrateDatabase, type Database } from '../store/database';
import { readConfiguration } from '../store/configuration';
import * as schema from '../store/schema';
import { certificateFor } from './certificate-service';
import { certificatePdf } from './certificate-pdf';
import { benchBoard } from './bench-service';
import { addBudget, getBudget, listBudgets } from './budget-service';
import { shelveProcedures } from './procedure-shelf';
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
import { instrumentEntrySchema, standardEntrySchema } from './registration-schema';
import { appendAct, loadRun, nextCertificateNumber, standardsFor, startRun } from './run-service';
import { ServiceError } from './service-error';

const folder = mkdtempSync(join(tmpdir(), 'just-twice-'));
let db: Database;
const today = new Date().toISOString().slice(0, 10);
const person = 'Maud Ellery';
const oneTerm: Budget = {
  format: 'just-twice/budget',
  version: 1,
  name: 'b',
  output: { symbol: 'Y', unit: '1' },
  model: 'a',
  quantities: [{ symbol: 'a', unit: '1', distribution: { type: 'constant', value: 1 } }],
};

beforeAll(async () => {
  process.env['DATABASE_URL'] = `file:${join(folder, 'test.db')}`;
  db = await database();
  await migrateDatabase(db);
  await shelveProcedures(db);
  await seedDemo(db, today);
}, 60_000);
afterAll(() => {
  db.$client.close();
  rmSync(folder, { recursive: true, force: true });
});

const refusalOf = async (promise: Promise<unknown>): Promise<ServiceError> => {
  const error = await promise.then(
    () => new Error('It was accepted.'),
    (e: unknown) => e,
  );
  if (error instanceof ServiceError) return error;
  throw error;
};

describe('the demo works', () => {
  it('has about twenty instruments, each with two to six finished runs, and two on the bench', async () => {
    const runs = await db.select().from(schema.runs);
    const byInstrument = Map.groupBy
      ? Map.groupBy(runs, (r) => r.instrumentId)
      : new Map([...new Set(runs.map((r) => r.instrumentId))].map((id) => [id, runs.filter((r) => r.instrumentId === id)]));
    expect(byInstrument.size).toBe(20);
    for (const own of byInstrument.values()) {
      const finished = own.filter((r) => r.status === 'finished').length;
      expect(finished).toBeGreaterThanOrEqual(2);
      expect(finished).toBeLessThanOrEqual(6);
    }
    expect(runs.filter((r) => r.status === 'open')).toHaveLength(2);
  });
  it('holds only logs that the rules of a run admit, with summaries that follow from them', async () => {
    const runs = (await db.select().from(schema.runs)).filter((_, i) => i % 9 === 0);
    for (const run of runs) {
      const { events } = await loadRun(run.id);
      for (let i = 1; i < events.length; i++)
        expect(admit(runState(events.slice(0, i)), events[i]!.act, events[i]!.person, events[i]!.at)).toBeNull();
      if (run.status === 'finished') expect(JSON.parse(JSON.stringify(summarizeRun(runState(events))))).toEqual(run.summary);
    }
  });
  it('what an instrument is left at is what it is found at next, but for drift of some micrometres', async () => {
    const { history } = await getInstrument('qm-0113');
    const ordered = history.filter((r) => r.status === 'finished').reverse();
    for (let i = 1; i < ordered.length; i++)
      expect(Math.abs(ordered[i]!.summary!.found!.error - ordered[i - 1]!.summary!.left!.error)).toBeLessThan(0.006);
  });
  it('shows overdue instruments first on the bench', async () => {
    const board = await benchBoard();
    expect(board.runs.map((r) => r.identification).sort()).toEqual(['QM-0118', 'QM-0131']);
    expect(board.runs.find((r) => r.identification === 'QM-0131')!.soakEndsAt).not.toBeNull();
    expect(board.due[0]).toMatchObject({ identification: 'QM-0112', standing: 'expired', days: -9 });
    expect(board.standards.map((s) => s.standing)).toEqual(['expired', 'nearly-due']);
  });
});

describe('a run on the server', () => {
  const start = (more = {}) => startRun({ run: randomUUID(), instrument: 'qm-0126', standard: 'gb-47', person, ...more });
  const append = (run: string, expectedSequence: number, act: Act, idempotencyKey: string = randomUUID()) =>
    appendAct(run, { expectedSequence, idempotencyKey, person, act });
  const check: Act = { type: 'check-answered', check: 'identity', outcome: 'yes', note: '' };

  it('starts once however often it is asked, and once per instrument', async () => {
    const run = randomUUID();
    expect(await start({ run })).toBe(run);
    expect(await start({ run })).toBe(run);
    expect(await refusalOf(start())).toMatchObject({ status: 409, details: { run } });
  });
  it('refuses an expired standard with the reason, and says what is nearly due', async () => {
    const refusal = await refusalOf(start({ instrument: 'qm-0147', standard: 'gb-old' }));
    expect(refusal.status).toBe(409);
    expect(refusal.message).toContain('ran out on');
    const choices = await standardsFor('qm-0147', today);
    expect(choices.map((c) => [c.id, c.standing])).toEqual([
      ['gb-47', 'good'],
      ['gb-m10', 'nearly-due'],
      ['gb-old', 'expired'],
    ]);
  });
  it('refuses blocks that do not reach the points', async () =>
    expect((await refusalOf(start({ instrument: 'qm-0140', standard: 'gb-m10' }))).message).toContain('no blocks that add to'));
  it('refuses an unknown instrument, standard and person', async () => {
    expect(await refusalOf(start({ instrument: 'nothing' }))).toMatchObject({ status: 404, path: ['instrument'] });
    expect(await refusalOf(start({ instrument: 'qm-0147', standard: 'nothing' }))).toMatchObject({
      status: 404,
      path: ['standard'],
    });
    expect(await refusalOf(start({ instrument: 'qm-0147', person: 'Nobody' }))).toMatchObject({ status: 422, path: ['person'] });
  });
  it('records a repeated request once, and answers a client that is behind with what it missed', async () => {
    const run = await start({ instrument: 'qm-0147' });
    const key = randomUUID();
    const first = await append(run, 1, check, key);
    expect(first).toMatchObject({ repeated: false, event: { sequence: 2, person } });
    expect(await append(run, 1, check, key)).toEqual({ event: first.event, repeated: true });
    const behind = await refusalOf(append(run, 1, { type: 'soak-started' }));
    expect(behind.status).toBe(409);
    expect(behind.details['missed']).toEqual([first.event]);
    expect((await loadRun(run)).events).toHaveLength(2);
  });
  it('refuses another act under the same key, and another instrument under the same run id', async () => {
    const run = await start({ instrument: 'qm-0132' });
    const key = randomUUID();
    await append(run, 1, check, key);
    const refused = await refusalOf(append(run, 1, { ...check, check: 'damage' }, key));
    expect(refused).toMatchObject({ status: 409, path: ['idempotencyKey'] });
    expect(await refusalOf(start({ run, instrument: 'qm-0133' }))).toMatchObject({ status: 409, path: ['run'] });
    expect((await loadRun(run)).events).toHaveLength(2);
  });
  it('marks what a clock set back records, and issues no certificate with it', async () => {
    const run = await start({ instrument: 'qm-0134' });
    const earlier = new Date(Date.now() - 7_200_000).toISOString();
    const { event } = await appendAct(run, { expectedSequence: 1, idempotencyKey: randomUUID(), person, act: check }, earlier);
    expect(event.clock!.earlierBy).toBeGreaterThan(7000);
    expect((await loadRun(run)).events[1]!.clock).toEqual(event.clock);
    expect(await nextCertificateNumber(db, '2031-12-31T23:30:00Z', 'Europe/Berlin')).toBe('C32-0001');
    expect(await nextCertificateNumber(db, '2031-12-31T23:30:00Z', 'UTC')).toBe('C31-0001');
  });
  it('of two requests at the same moment one is recorded and one is told', async () => {
    const run = await start({ instrument: 'qm-0152' });
    const outcomes = await Promise.allSettled([append(run, 1, check), append(run, 1, { ...check, check: 'damage' })]);
    expect(outcomes.map((o) => o.status).sort()).toEqual(['fulfilled', 'rejected']);
    expect((await loadRun(run)).events).toHaveLength(2);
  });
  it('writes nothing when an act is not admitted', async () => {
    const run = await start({ instrument: 'sh-mic-1' });
    expect(await refusalOf(append(run, 1, { type: 'reading-taken', pass: 'as-found', point: 'p1', text: '2.5' }))).toMatchObject({
      status: 422,
      path: ['act', 'pass'],
    });
    expect((await loadRun(run)).events).toHaveLength(1);
  });
  it('the log cannot be changed or shortened, not even by the database', async () => {
    const why = async (statement: string) =>
      db.$client.execute(statement).then(
        () => 'done',
        (e: Error) => e.message,
      );
    expect(await why("UPDATE events SET person = 'Other' WHERE sequence = 1")).toContain('never changed');
    expect(await why('DELETE FROM events')).toContain('never removed');
  });
  it('is not found under another id', async () => expect(await refusalOf(loadRun('nothing'))).toMatchObject({ status: 404 }));
});

describe('the certificate as PDF', () => {
  async function textOf(pdf: Buffer): Promise<{ text: string; pages: number; size: number[] }> {
    const document = await getDocument({ data: new Uint8Array(pdf), useSystemFonts: false, verbosity: 0 }).promise;
    const pages = await Promise.all(Array.from({ length: document.numPages }, (_, i) => document.getPage(i + 1)));
    const texts = await Promise.all(
      pages.map(async (p) => (await p.getTextContent()).items.map((item) => ('str' in item ? item.str : '')).join(' ')),
    );
    return { text: texts.join(' '), pages: pages.length, size: pages[0]!.view };
  }
  it('prints on A4 what the JSON carries, with its fonts embedded', async () => {
    const adjusted = (await db.select().from(schema.runs)).find((r) => r.summary?.adjusted)!;
    const certificate = await certificateFor(adjusted.id);
    const pdf = await certificatePdf(certificate);
    const { text, size, pages } = await textOf(pdf);
    expect(size.map(Math.round)).toEqual([0, 0, 595, 842]);
    expect(pages).toBeLessThanOrEqual(2);
    expect(pdf.toString('latin1')).toContain('/FontFile');
    for (const p of [...certificate.asFound.points, ...certificate.asLeft!.points])
      for (const number of [p.indication, p.error, p.expandedUncertainty, p.coverageFactor, p.reference])
        expect(text).toContain(number.replace('-', '−'));
    for (const word of [
      certificate.number,
      certificate.standards[0]!.certificate,
      certificate.persons.reviewedBy!,
      certificate.next.date,
      certificate.laboratory.name,
    ])
      expect(text).toContain(word);
    expect(text).toMatch(/[µμ]m/);
  });
  it('sets names that its own face lacks, and says when nobody has signed', async () => {
    const run = (await db.select().from(schema.runs)).find((r) => r.status === 'finished' && !r.isReviewed)!;
    const certificate = { ...(await certificateFor(run.id)), owner: 'Łódź Ωmega Ж' };
    const { text } = await textOf(await certificatePdf(certificate));
    expect(text).toContain('Łódź Ωmega Ж');
    expect(text).toContain('Not yet reviewed');
  });
  it('does not exist for an open run', async () =>
    expect(await refusalOf(certificateFor('00000000-0000-4000-8000-0000000a0118'))).toMatchObject({ status: 409 }));
});

describe('the register', () => {
  const instrument = instrumentEntrySchema.parse({
    identification: 'T-1',
    kind: 'outside-micrometer',
    owner: 'Works',
    rangeLower: 0,
    rangeUpper: 25,
    calibratedLower: 0,
    calibratedUpper: 25,
    resolution: 0.001,
    maximumPermissibleError: null,
    adjustmentAllowed: true,
    intervalMonths: null,
    state: 'in-use',
    nextDue: null,
  });
  const set = standardEntrySchema.parse({
    identification: 'S-1',
    kind: 'gauge-block-set',
    certificateIssuer: 'Institute',
    certificateNumber: '7',
    certificateDate: '2026-01-01',
    due: '2028-01-01',
    items: [{ nominal: 5, certified: 5.00002, expandedUncertainty: 0.00005, coverageFactor: 2, expansionCoefficient: 1.15e-5 }],
  });
  it('registers, finds by any word, and changes', async () => {
    const id = await addInstrument({ ...instrument, identification: 'ZZ%_9', designation: 'Odd name' });
    expect((await searchInstruments({ text: 'zz%_9 odd' })).rows.map((r) => r.instrument.id)).toEqual([id]);
    expect((await searchInstruments({ text: '%' })).total).toBe(1);
    await changeInstrument(id, { ...instrument, identification: 'ZZ-10', state: 'out-of-use' });
    expect((await getInstrument(id)).instrument).toMatchObject({ identification: 'ZZ-10', state: 'out-of-use' });
    expect(await refusalOf(startRun({ run: randomUUID(), instrument: id, standard: 'gb-47', person }))).toMatchObject({
      status: 409,
    });
  });
  it('of many who register the same identification at once one wins, and the others are told', async () => {
    const instruments = await Promise.allSettled(
      Array.from({ length: 10 }, () => addInstrument({ ...instrument, identification: 'RACE-1' })),
    );
    const standards = await Promise.allSettled(
      Array.from({ length: 10 }, () => addStandard({ ...set, identification: 'RACE-S' })),
    );
    for (const outcomes of [instruments, standards]) {
      expect(outcomes.filter((o) => o.status === 'fulfilled')).toHaveLength(1);
      for (const o of outcomes)
        if (o.status === 'rejected') expect(o.reason).toMatchObject({ status: 409, path: ['identification'] });
    }
    expect((await searchInstruments({ text: 'RACE-1' })).total).toBe(1);
  });
  it.each([
    ['certificateDate', '2026-02-30'],
    ['due', '2027-13-45'],
    ['due', '9999-01-01'],
  ])('refuses a standard whose %s is %s', (field, value) =>
    expect(standardEntrySchema.safeParse({ ...set, [field]: value }).error?.issues[0]?.path).toEqual([field]),
  );
  it('a name typed by mistake can be retired, and comes back when it is typed again', async () => {
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
  it('replaces the blocks of a set together with its certificate; old runs keep theirs', async () => {
    const id = await addStandard(set);
    expect((await getStandard(id)).items).toMatchObject([{ nominal: 5, certified: 5.00002 }]);
    await changeStandard(id, {
      ...set,
      certificateNumber: '8',
      items: [...set.items.map((i) => ({ ...i, certified: 5.00003 })), { ...set.items[0]!, nominal: 6, certified: 6 }],
    });
    expect((await getStandard(id)).items.map((i) => i.certified)).toEqual([5.00003, 6]);
    expect((await getStandard(id)).standard.certificateNumber).toBe('8');
    expect(await refusalOf(addStandard(set))).toMatchObject({ status: 409 });
  });
  it.each([
    [{ rangeUpper: 0 }, 'rangeUpper'],
    [{ calibratedLower: -1 }, 'calibratedLower'],
    [{ calibratedUpper: 30 }, 'calibratedUpper'],
    [{ resolution: 'fine' }, 'resolution'],
    [{ owner: ' ' }, 'owner'],
    [{ nextDue: '24.11.2026' }, 'nextDue'],
  ])('refuses an instrument with %j', (more, at) =>
    expect(instrumentEntrySchema.safeParse({ ...instrument, ...more }).error?.issues[0]?.path).toEqual([at]),
  );
  it('refuses a certified value with a slipped digit, naming the block', () => {
    const parsed = standardEntrySchema.safeParse({ ...set, items: [{ ...set.items[0]!, certified: 5.02 }] });
    expect(parsed.error?.issues[0]).toMatchObject({ path: ['items', 0, 'certified'] });
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
      lastCalibrated: null,
      nextDue: '2030-01-01',
    }));
    for (let i = 0; i < rows.length; i += 500) await db.insert(schema.instruments).values(rows.slice(i, i + 500));
    const found = await searchInstruments({ text: 'BULK', page: 200 });
    expect(found).toMatchObject({ total: 10_000, pages: 200 });
    expect(found.rows.at(-1)!.instrument.identification).toBe('BULK-09999');
  });
});

describe('start-up', () => {
  it('refuses a procedure whose revision is in use with other content', async () => {
    await shelveProcedures(db);
    const { writeFileSync, readFileSync, mkdirSync } = await import('node:fs');
    const changed = JSON.parse(readFileSync('procedures/outside-micrometer.json', 'utf8'));
    mkdirSync(join(folder, 'shelf'));
    writeFileSync(join(folder, 'shelf', 'p.json'), JSON.stringify({ ...changed, title: 'Other' }));
    await expect(shelveProcedures(db, join(folder, 'shelf'))).rejects.toThrow('Raise its revision');
    writeFileSync(
      join(folder, 'shelf', 'p.json'),
      JSON.stringify({ ...changed, revision: 3, points: { ...changed.points, repeats: 0 } }),
    );
    await expect(shelveProcedures(db, join(folder, 'shelf'))).rejects.toThrow('points.repeats');
  });
  it('reads the environment, with defaults, and names what is wrong', () => {
    expect(readConfiguration({})).toMatchObject({ DATABASE_URL: 'file:data/just-twice.db', PORT: 4600, HOST: '127.0.0.1' });
    expect(() => readConfiguration({ PORT: 'eighty' })).toThrow('PORT');
    expect(() => readConfiguration({ DATABASE_URL: 'mysql://x' })).toThrow('DATABASE_URL');
  });
});
