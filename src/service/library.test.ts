import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import type { Database } from '../store/database';
import { readConfiguration } from '../store/configuration';
import { takeInProcedures } from './procedure-folder';
import { addInstrument, addStandard } from './register-service';
import { instrumentEntrySchema } from '../core/register/entry-schemas';
import {
  declarations,
  importProcedure,
  procedureLibrary,
  procedureOf,
  proceduresFor,
  retiredProcedures,
  retireProcedure,
} from './procedure-library';
import { addProcedure } from '../store/register';
import { loadRun } from './run-service';
import { startRun } from './start-service';
import { refusalOf } from './fixtures/refusal-of';
import { ownCopy, person } from './fixtures/own-copy';

let db: Database;
ownCopy((opened) => (db = opened));

describe('the library of procedures', () => {
  const plain = {
    format: 'just-twice/procedure',
    version: 2,
    id: 'sundial',
    revision: 1,
    title: 'Sundial by the clock',
    instrument: { kinds: ['sundial'], characteristics: [{ id: 'latitude', title: 'Latitude', unit: 'deg' }] },
    standards: [
      { role: 'clock', title: 'Clock', kinds: ['clock'], properties: [{ id: 'drift', title: 'Drift a day', unit: 's' }] },
    ],
    series: [{ id: 'noon', title: 'At noon', observe: [{ id: 'T', of: 'instrument', unit: 'min' }] }],
  };
  it('retired, are not begun any more; a newer revision is', async () => {
    const [before] = await proceduresFor('calliper');
    const id = before!.document.id;
    expect((await refusalOf(retireProcedure(id, { person: 'Nobody', reason: 'Too long' }))).status).toBe(422);
    expect((await refusalOf(retireProcedure('none', { person, reason: 'Too long' }))).status).toBe(404);
    await retireProcedure(id, { person, reason: 'Another takes its place' });
    expect((await proceduresFor('calliper')).map((p) => p.document.id)).not.toContain(id);
    expect((await procedureLibrary()).map((p) => p.document.id)).not.toContain(id);
    expect(await retiredProcedures()).toMatchObject([{ id, person, reason: 'Another takes its place' }]);
    // Its instruments are still known for what they are, and its text can be read.
    expect((await declarations()).instruments.map((d) => d.kind)).toContain('calliper');
    expect((await procedureOf(id)).document.revision).toBe(before!.document.revision);
    const source = JSON.parse(before!.source) as Record<string, unknown>;
    await importProcedure({ ...source, revision: before!.document.revision + 1 });
    expect((await proceduresFor('calliper')).map((p) => p.document.id)).toContain(id);
    expect(await retiredProcedures()).toEqual([]);
  });
  it('are imported once, each revision, and serve the kind that they name', async () => {
    expect(await importProcedure(plain)).toEqual({ id: 'sundial', revision: 1 });
    expect(await refusalOf(importProcedure(plain))).toMatchObject({ status: 409, path: ['revision'] });
    await importProcedure({ ...plain, revision: 2, title: 'Sundial, again' });
    expect((await proceduresFor('sundial')).map((p) => p.document.title)).toEqual(['Sundial, again']);
    expect(await proceduresFor('hourglass')).toEqual([]);
  });
  it('are refused with the place of a fault, and with an example that does not agree', async () => {
    await expect(
      importProcedure({ ...plain, id: 'other', series: [{ ...plain.series[0], computed: [{ id: 'd', is: 'T - X' }] }] }),
    ).rejects.toMatchObject({
      path: ['series', 0, 'computed', 0, 'is'],
    });
    const example = { source: 'Invented', input: { observations: [] }, expect: [{ path: 'complete', value: true }] };
    expect(await refusalOf(importProcedure({ ...plain, id: 'other', example }))).toMatchObject({
      status: 422,
      path: ['example'],
    });
  });
  it('are refused where they could not be planned, and one that is there all the same keeps nobody from the others', async () => {
    const many = { id: 'noon', title: 'At noon', observe: [{ id: 'T', of: 'instrument', unit: 'min' }] };
    const points = (to: number) => [{ ...many, points: { unit: 'min', from: 0, to, step: 1 } }];
    await expect(importProcedure({ ...plain, id: 'endless', series: points(1e9) })).rejects.toMatchObject({
      message: expect.stringContaining('a series has at most 2000'),
      path: ['series', 0, 'points', 'step'],
    });
    // As an earlier version would have taken it in: one that cannot be read, and one that cannot be planned.
    const shelved = (id: string, document: object) =>
      addProcedure(db, { id, revision: 1, document: { ...plain, ...document, id } as never });
    await shelved('endless', { series: points(1e9) });
    await shelved('crowded', { series: [{ ...many, points: { unit: 'min', from: 0, to: { is: '1e9' }, step: 1 } }] });
    const library = await procedureLibrary();
    expect(library.map((e) => e.document.id)).not.toContain('endless');
    expect(library.find((e) => e.document.id === 'crowded')!.fault).toContain('a series has at most 2000');
    expect(library.find((e) => e.document.id === 'balance')!.fault).toBeUndefined();
    expect((await proceduresFor('balance')).length).toBeGreaterThan(0);
  });
  it('say what forms ask for: characteristics of a kind, properties of a standard', async () => {
    const { instruments, standards } = await declarations();
    expect(instruments.find((d) => d.kind === 'sundial')!.characteristics.map((c) => c.id)).toEqual(['latitude']);
    expect(standards.find((d) => d.kind === 'clock')!.properties.map((p) => p.id)).toEqual(['drift']);
    expect(instruments.find((d) => d.kind === 'thermometer')!.parts.map((p) => p.id)).toEqual(['probe']);
  });
  it('a run by one can be started, with nothing but what it asks for', async () => {
    const id = await addInstrument(
      instrumentEntrySchema.parse({
        identification: 'SUN-1',
        kind: 'sundial',
        owner: 'Works',
        unit: 'min',
        lower: 0,
        upper: 720,
        usedLower: 0,
        usedUpper: 720,
        resolution: 1,
        adjustmentAllowed: false,
        intervalMonths: null,
        state: 'in-use',
        nextDue: null,
      }),
    );
    const clock = await addStandard({
      place: '',
      document: {
        format: 'just-twice/standard',
        version: 1,
        identification: 'CLOCK',
        kind: 'clock',
        designation: '',
        certificate: { issuer: 'I', number: '1', date: '2026-01-01' },
      },
    });
    const run = await startRun({
      run: randomUUID(),
      instrument: id,
      procedure: 'sundial',
      standards: { clock: [clock] },
      choices: {},
      person,
    });
    const { state } = await loadRun(run);
    expect(state.plan.map((i) => i.type)).toEqual(['reading', 'judge', 'interval', 'complete']);
  });
});

describe('start-up', () => {
  it('refuses a procedure whose revision is in use with other content', async () => {
    await takeInProcedures(db);
    const folder = mkdtempSync(join(tmpdir(), 'just-twice-'));
    const changed = JSON.parse(readFileSync('procedures/outside-micrometer.json', 'utf8')) as {
      series: Record<string, unknown>[];
    };
    writeFileSync(join(folder, 'p.json'), JSON.stringify({ ...changed, title: 'Other' }));
    await expect(takeInProcedures(db, folder)).rejects.toThrow('Raise its revision');
    const series = changed.series.map((s) => ({ ...s, repeats: { is: 'nothing.here' } }));
    writeFileSync(join(folder, 'p.json'), JSON.stringify({ ...changed, revision: 4, series }));
    await expect(takeInProcedures(db, folder)).rejects.toThrow('series.0.repeats');
    rmSync(folder, { recursive: true });
  });
  it('reads the environment, with defaults, and names what is wrong', () => {
    expect(readConfiguration({})).toMatchObject({ DATABASE_URL: 'file:data/just-twice.db', PORT: 4600, HOST: '127.0.0.1' });
    expect(() => readConfiguration({ PORT: 'eighty' })).toThrow('PORT');
    expect(() => readConfiguration({ DATABASE_URL: 'mysql://x' })).toThrow('DATABASE_URL');
  });
});
