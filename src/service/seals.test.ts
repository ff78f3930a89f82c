import { createHash } from 'node:crypto';
import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setImmediate } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { recordSchema, recordText, type ExportedRecord } from '../core/seal/record';
import { headText, readHead, type Head } from '../core/seal/seal';
import { checkpoint, forgetDatabase, openDatabase, type Database } from '../store/database';
import { listBudgets, removeBudget, saveBudget } from '../store/budget-store';
import { savePerson } from '../store/register';
import { headOfChain, sha256 } from '../store/seals';
import { about, smallLaboratory } from './fixtures/small-laboratory';
import { ownCopy } from './fixtures/own-copy';
import { checkRecord, exportRecord } from './record-service';
import { checkSeals, sealWhatIsThere } from './seal-service';
import { verifyDatabase } from './verify-service';

let demo: Database;
ownCopy((own) => (demo = own));

const folder = mkdtempSync(join(tmpdir(), 'just-twice-seals-'));
const whole = join(folder, 'whole.db');
const ids = { run: '', quick: '', signed: '', standard: '' };
let head: Head;

beforeAll(async () => {
  await smallLaboratory(demo, whole);
  const db = await opened(whole);
  const one = async (sql: string) => String((await db.$client.execute(sql)).rows[0]![0]);
  ids.run = await one(`SELECT id FROM runs WHERE purpose = 'calibration' ORDER BY started_at LIMIT 1`);
  ids.quick = await one(`SELECT id FROM runs WHERE purpose = 'quick' LIMIT 1`);
  ids.standard = await one('SELECT standard_id FROM former_certificates');
  head = (await headOfChain(db))!;
  db.$client.close();
}, 300_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const opened = (file: string) => openDatabase({ DATABASE_URL: `file:${file}` });

let copies = 0;
/** A copy to which something was done by a hand that knows how to get past the triggers, and puts them back. */
async function forged<T>(statements: readonly string[], look: (db: Database) => Promise<T>, keepsTriggers = true): Promise<T> {
  const copy = join(folder, `forged-${++copies}.db`);
  copyFileSync(whole, copy);
  const db = await opened(copy);
  try {
    const run = (sql: string) => db.$client.execute(sql);
    await run('PRAGMA foreign_keys = OFF');
    const triggers = (await run(`SELECT name, sql FROM sqlite_master WHERE type = 'trigger'`)).rows;
    if (keepsTriggers) for (const t of triggers) await run(`DROP TRIGGER ${String(t['name'])}`);
    for (const sql of statements)
      await run(
        sql
          .replaceAll(':run', `'${ids.run}'`)
          .replaceAll(':quick', `'${ids.quick}'`)
          .replaceAll(':standard', `'${ids.standard}'`),
      );
    if (keepsTriggers) for (const t of triggers) await run(String(t['sql']));
    return await look(db);
  } finally {
    db.$client.close();
  }
}

const entry = (type: string, of = 'min') =>
  `run_id = :run AND sequence = (SELECT ${of}(sequence) FROM events WHERE run_id = :run AND json_extract(act, '$.type') = '${type}')`;
const reading = entry('observed');
const [instrument, other] = [`'${about.instrument}'`, `'${about.other}'`];

/** What was done, how, and what is said of it: table, row, column. */
const forgeries: [string, string[], RegExp][] = [
  [
    'the last digit of a reading',
    [`UPDATE events SET act = json_set(act, '$.text', json_extract(act, '$.text') || '1') WHERE ${reading}`],
    /^events, \S+ entry \d+, act:/,
  ],
  [
    'two readings, exchanged',
    [
      `UPDATE events SET sequence = -1 WHERE ${reading}`,
      `UPDATE events SET sequence = sequence - 1 WHERE ${entry('observed')}`,
      `UPDATE events SET sequence = (SELECT max(sequence) + 1 FROM events e WHERE e.run_id = :run AND e.sequence < (SELECT min(sequence) FROM events f WHERE f.run_id = :run AND json_extract(f.act, '$.type') = 'observed' AND f.sequence > 0)) + 1 WHERE run_id = :run AND sequence = -1`,
    ],
    /^events, \S+ entry/,
  ],
  ['an entry, taken out', [`DELETE FROM events WHERE ${reading}`], /^events, \S+ entry \d+, (sequence|at)/],
  [
    'the last entry, taken out',
    ['DELETE FROM events WHERE run_id = :run AND sequence = (SELECT max(sequence) FROM events WHERE run_id = :run)'],
    /^events, \S+ entry \d+, sequence: the log does not end/,
  ],
  [
    'an entry, put in at the end',
    [
      `INSERT INTO events (run_id, sequence, at, person, idempotency_key, act) SELECT run_id, (SELECT max(sequence) + 1 FROM events WHERE run_id = :run), at, person, 'x', act FROM events WHERE ${reading}`,
    ],
    /^events, \S+ entry \d+, seal/,
  ],
  [
    'an entry, given to another run',
    [`UPDATE events SET run_id = :quick, sequence = 900 WHERE ${entry('observed', 'max')}`],
    /^events, /,
  ],
  [
    'an entry of a run that is not there',
    [`UPDATE events SET run_id = 'nowhere' WHERE ${entry('observed', 'max')}`],
    /^events, \S+ entry/,
  ],
  ['when a reading was taken', [`UPDATE events SET at = '2020-01-01T00:00:00.000Z' WHERE ${reading}`], /entry \d+, at:/],
  [
    'when it was done',
    [`UPDATE events SET done = '{"at":"2020-01-01T00:00:00.000Z","ahead":0}' WHERE ${reading}`],
    /entry \d+, done:/,
  ],
  ['what was odd about the clock', [`UPDATE events SET clock = '{"backBy":9}' WHERE ${reading}`], /entry \d+, clock:/],
  ['who took it', [`UPDATE events SET person = 'Nobody' WHERE ${reading}`], /entry \d+, person:/],
  ['the key of its request', [`UPDATE events SET idempotency_key = 'other' WHERE ${reading}`], /entry \d+, idempotencyKey:/],
  ['its seal, taken away', [`UPDATE events SET seal = NULL WHERE ${reading}`], /entry \d+, seal:/],
  ['its seal, another', [`UPDATE events SET seal = json_set(seal, '$.hash', 'x') WHERE ${reading}`], /entry \d+, seal:/],
  ['all seals of a log, taken away', ['UPDATE events SET seal = NULL WHERE run_id = :run'], /entry 1, seal:/],
  [
    'a signature, deleted',
    [`DELETE FROM events WHERE ${entry('run-reviewed')}`, 'UPDATE runs SET is_reviewed = 0 WHERE id = :run'],
    /^events, \S+ entry \d+, sequence/,
  ],
  ['a reviewer, another', [`UPDATE events SET person = 'Somebody Else' WHERE ${entry('run-reviewed')}`], /entry \d+, person:/],
  [
    'a reviewer, made the technician',
    [
      `UPDATE events SET person = (SELECT person FROM events e WHERE e.run_id = :run AND e.sequence = 1) WHERE ${entry('run-reviewed')}`,
    ],
    /entry \d+, person:/,
  ],
  [
    'the certificate as issued, taken away',
    [`UPDATE events SET act = json_remove(act, '$.issued') WHERE ${entry('run-completed')}`],
    /entry \d+, act:/,
  ],
  [
    'a text of a certificate',
    [`UPDATE events SET act = json_set(act, '$.issued.content.owner', 'Other') WHERE ${entry('run-completed')}`],
    /entry \d+, act:/,
  ],
  [
    'the digest of a certificate',
    [`UPDATE events SET act = json_set(act, '$.issued.digest', 'x') WHERE ${entry('run-completed')}`],
    /entry \d+, act:/,
  ],
  [
    'a limit in the procedure of a run',
    [`UPDATE events SET act = json_set(act, '$.procedure.title', 'Another') WHERE ${entry('run-started')}`],
    /entry 1, act:/,
  ],
  [
    'a certificate of a standard in a run',
    [`UPDATE events SET act = json_set(act, '$.standards', json('{}')) WHERE ${entry('run-started')}`],
    /entry 1, act:/,
  ],
  [
    'a run, deleted',
    [
      'DELETE FROM events WHERE run_id = :run',
      'DELETE FROM run_standards WHERE run_id = :run',
      'DELETE FROM runs WHERE id = :run',
    ],
    /^runs, \S+: it is gone/,
  ],
  [
    'a run, put in',
    [
      `INSERT INTO runs (id, instrument_id, procedure_id, procedure_revision, status, started_at) VALUES ('new', ${instrument}, 'p', 1, 'abandoned', '2026-01-01T00:00:00.000Z')`,
    ],
    /^runs, new: it was put in/,
  ],
  [
    'a run, given to another instrument',
    [`UPDATE runs SET instrument_id = ${other} WHERE id = :run`],
    /^runs, \S+, instrumentId:/,
  ],
  ['a calibration, made a quick check', [`UPDATE runs SET purpose = 'quick' WHERE id = :run`], /^runs, \S+, purpose:/],
  ['the number of a certificate', [`UPDATE runs SET certificate = 'C99-0001' WHERE id = :run`], /^runs, \S+, certificate:/],
  [
    'when a run was finished',
    [`UPDATE runs SET finished_at = '2020-01-01T00:00:00.000Z' WHERE id = :run`],
    /^runs, \S+, finishedAt:/,
  ],
  ['when a run was begun', [`UPDATE runs SET started_at = '2020-01-01T00:00:00.000Z' WHERE id = :run`], /^runs, \S+, startedAt:/],
  ['a finished run, opened', [`UPDATE runs SET status = 'open' WHERE id = :run`], /^runs, \S+, status:/],
  ['a run, said to be reviewed', ['UPDATE runs SET is_reviewed = 1 - is_reviewed WHERE id = :run'], /^runs, \S+, isReviewed:/],
  ['the procedure of a run', [`UPDATE runs SET procedure_revision = 99 WHERE id = :run`], /^runs, \S+, procedureRevision:/],
  ['a standard of a run', [`UPDATE run_standards SET role = 'other' WHERE run_id = :run`], /^run_standards, \S+, standard_id:/],
  ['the standards of a run, taken away', ['DELETE FROM run_standards WHERE run_id = :run'], /^run_standards, /],
  [
    'a last calibration',
    [`UPDATE instruments SET last_calibrated = '2031-01-01' WHERE id = ${instrument}`],
    /^instruments, \S+, lastCalibrated:/,
  ],
  ['a next date', [`UPDATE instruments SET next_due = '2032-01-01' WHERE id = ${instrument}`], /^instruments, \S+, nextDue:/],
  ['an owner', [`UPDATE instruments SET owner = 'Other' WHERE id = ${instrument}`], /^instruments, \S+, owner:/],
  [
    'the number on an instrument',
    [`UPDATE instruments SET identification = 'X-1' WHERE id = ${instrument}`],
    /^instruments, \S+, identification:/,
  ],
  [
    'the range of an instrument',
    [`UPDATE instruments SET upper = upper + 1e-9 WHERE id = ${instrument}`],
    /^instruments, \S+, upper:/,
  ],
  [
    'what an instrument has stored',
    [`UPDATE instruments SET stored = '{"a":1}' WHERE id = ${instrument}`],
    /^instruments, \S+, stored:/,
  ],
  [
    'the rule of an instrument',
    [`UPDATE instruments SET decision_rule = '{"kind":"simple"}' WHERE id = ${instrument}`],
    /^instruments, \S+, decisionRule:/,
  ],
  ['an instrument, deleted', [`DELETE FROM instruments WHERE id = ${other}`], /^instruments, \S+: it is gone/],
  ['the due date of a standard', [`UPDATE standards SET due = '2040-01-01' WHERE id = :standard`], /^standards, \S+, due:/],
  [
    'a value in the certificate of a standard',
    [`UPDATE standards SET document = json_set(document, '$.certificate.number', 'X') WHERE id = :standard`],
    /^standards, \S+, document:/,
  ],
  [
    'a standard, put in',
    [`INSERT INTO standards SELECT 'new', 'N-1', kind, designation, place, due, document FROM standards LIMIT 1`],
    /^standards, new: it was put in/,
  ],
  [
    'a former certificate',
    [`UPDATE former_certificates SET document = json_set(document, '$.certificate.number', 'X')`],
    /^former_certificates, \S.*, document:/,
  ],
  ['a former certificate, deleted', ['DELETE FROM former_certificates'], /^former_certificates, \S.*: it is gone/],
  [
    'a limit in a procedure',
    [`UPDATE procedures SET document = json_set(document, '$.title', 'X')`],
    /^procedures, \S+, document:/,
  ],
  ['a procedure, deleted', ['DELETE FROM procedures'], /^procedures, \S+: it is gone/],
  ['a policy', [`UPDATE policies SET policy = json_set(policy, '$.months', 99)`], /^policies, 1, policy:/],
  ['who set a policy', [`UPDATE policies SET person = 'Nobody'`], /^policies, 1, person:/],
  ['a count of use', ['UPDATE use_counts SET count = 1 WHERE sequence = 1'], /^use_counts, 1, count:/],
  ['a count, deleted', ['DELETE FROM use_counts WHERE sequence = 2'], /^use_counts, 2: it is gone/],
  ['where an instrument was taken', [`UPDATE outings SET place = 'Cellar'`], /^outings, 1, place:/],
  ['a moved date', [`UPDATE moved_dates SET after = '2040-01-01'`], /^moved_dates, 1, after:/],
  ['the reason of a moved date', [`UPDATE moved_dates SET reason = 'None'`], /^moved_dates, 1, reason:/],
  ['a finding', [`UPDATE findings SET outcome = 'repair'`], /^findings, 1, outcome:/],
  ['a card of make and type', [`UPDATE model_cards SET lines = '[]'`], /^model_cards, \S.*, lines:/],
  ['a budget', [`UPDATE budgets SET document = json_set(document, '$.name', 'X')`], /^budgets, kept, document:/],
  ['the name of a person', [`UPDATE people SET name = 'Nobody' WHERE name = '${about.person}'`], /^people, \S+, name:/],
  [
    'a person, put in',
    [`INSERT INTO people (id, name, retired_at) VALUES ('new', 'New Person', NULL)`],
    /^people, new: it was put in/,
  ],
  ['a person, deleted', [`DELETE FROM people WHERE name = '${about.person}'`], /^people, \S+: it is gone/],
  ['a role, given', [`UPDATE people SET roles = '["administrator"]' WHERE name = '${about.person}'`], /^people, \S+, roles:/],
  ['what was noted of somebody', [`UPDATE competences SET may = 'review'`], /^competences, able, may:/],
  ['what was noted of somebody, taken out', ['DELETE FROM competences'], /^competences, able: it is gone/],
  [
    'what was noted of somebody, put in',
    [
      `INSERT INTO competences SELECT 'more', person, kind, 'approve', "from", until, ground, noted_by, noted_at FROM competences`,
    ],
    /^competences, more: it was put in/,
  ],
  ['who did something', [`UPDATE deeds SET person = 'Nobody' WHERE sequence = 1`], /^deeds, 1, person:/],
  ['a deed, taken out', ['DELETE FROM deeds WHERE sequence = 1'], /^deeds, 1: it is gone/],
  [
    'that it is a laboratory of one',
    ['UPDATE laboratory SET is_of_one = 1'],
    /^laboratory, 1, is_of_one|^laboratory, 1, isOfOne/,
  ],
  ['the name of the laboratory', [`UPDATE laboratory SET name = 'Another'`], /^laboratory, 1, name:/],
  ['a fact', [`UPDATE facts SET value = '{"x":1}'`], /^facts, \S+, value:/],
  ['a line of the chain, deleted', ['DELETE FROM seals WHERE sequence = 5'], /^seals, 5, of_row: this line of the chain is gone/],
  [
    'a line of the chain, changed',
    [`UPDATE seals SET parts = json_set(parts, '$.name', 'x') WHERE sequence = 3`],
    /^seals, 3, hash: this line of the chain is not what was written/,
  ],
  [
    'a line of the chain with its hash',
    [`UPDATE seals SET at = '2020-01-01T00:00:00.000Z', hash = 'x' WHERE sequence = 3`],
    /^seals, 3, hash/,
  ],
  ['all of the chain', ['DELETE FROM seals'], /^seals: nothing in this database is sealed/],
];

describe('what was changed behind the back of the application', () => {
  it.each(forgeries)('is found: %s', async (_, statements, said) => {
    const { faults } = await forged(statements, (db) => checkSeals(db));
    expect(faults[0] === undefined ? '' : faults.find((f) => said.test(f))).toMatch(said);
  });
  it.each([
    [
      'gone',
      ['DROP TRIGGER events_never_changed'],
      'events_never_changed: the trigger that keeps this table from being changed is gone',
    ],
    [
      'another',
      ['DROP TRIGGER events_never_changed', 'CREATE TRIGGER events_never_changed BEFORE UPDATE ON events BEGIN SELECT 1; END'],
      'is another',
    ],
    [
      'one more',
      ['CREATE TRIGGER helpful AFTER INSERT ON people BEGIN SELECT 1; END'],
      'helpful: a trigger that nobody made here',
    ],
  ])('is found: a trigger that is %s', async (_, statements, said) => {
    expect((await forged(statements, (db) => checkSeals(db), false)).faults.join()).toContain(said);
  });
  it('is found by a head that was kept outside, where everything was made anew to agree', async () => {
    const anew = async (db: Database) => {
      await sealWhatIsThere(db);
      for (let i = 0; i < 400; i++) await savePerson(db, { id: `p${i}`, name: `Somebody ${i}` });
      return { alone: await checkSeals(db), held: await checkSeals(db, [head]) };
    };
    const { alone, held } = await forged(
      [`UPDATE instruments SET owner = 'Other' WHERE id = ${instrument}`, 'DELETE FROM seals', 'UPDATE events SET seal = NULL'],
      anew,
    );
    expect(alone.faults).toEqual([]);
    expect(held.faults).toEqual([
      `seals, ${head.sequence}, hash: it is not the head that was kept outside. What stands before it was made anew.`,
    ]);
  }, 30_000);
  it('is found by a head where the chain was cut off', async () => {
    const { faults } = await forged([`DELETE FROM seals WHERE sequence > ${head.sequence - 1}`], (db) => checkSeals(db, [head]));
    expect(faults.join()).toContain(`the chain ends at ${head.sequence - 1}, before the head that was kept outside`);
  });
});

describe('what nobody changed', () => {
  it('agrees with its seals, its logs and a head that was kept; the chain goes on', async () => {
    const { faults, since, lines } = await forged(
      [],
      async (db) => {
        await savePerson(db, { id: 'later', name: 'Somebody Later' });
        return verifyDatabase(db, () => {}, [readHead(`On paper: ${headText(head)}.`)!]);
      },
      false,
    );
    expect(faults).toEqual([]);
    expect(lines).toBe(head.sequence + 1);
    expect(Date.parse(since!)).toBeGreaterThan(0);
  });
  it('is no break where it is written while the check goes on', async () => {
    const { faults, written } = await forged(
      [],
      async (db) => {
        let [isChecked, written] = [false, 0];
        const writer = (async () => {
          while (!isChecked) {
            await saveBudget(db, { ...(await listBudgets(db))[0]!, id: 'passing' });
            await savePerson(db, { id: `w${written}`, name: `Writer ${written}` });
            await removeBudget(db, 'passing');
            written++;
            await setImmediate();
          }
        })();
        const found: string[] = [];
        try {
          for (let i = 0; i < 5; i++) found.push(...(await checkSeals(db)).faults);
        } finally {
          isChecked = true;
          await writer;
        }
        return { faults: found, written };
      },
      false,
    );
    expect(written).toBeGreaterThan(5);
    expect(faults).toEqual([]);
  });
  it('from before there were seals is sealed where it is found, and once', async () => {
    await forged(['DELETE FROM seals', 'UPDATE events SET seal = NULL'], async (db) => {
      expect((await checkSeals(db)).faults.join()).toContain('nothing in this database is sealed');
      expect(await sealWhatIsThere(db, () => true)).toBe(0);
      expect(await sealWhatIsThere(db)).toBe(head.sequence - 1 - 1);
      expect(await sealWhatIsThere(db)).toBe(0);
      expect((await checkSeals(db)).faults).toEqual([]);
      await db.$client.execute(`INSERT INTO people (id, name, retired_at) VALUES ('new', 'New Person', NULL)`);
      expect(await sealWhatIsThere(db)).toBe(0);
      expect((await checkSeals(db)).faults).toEqual([expect.stringContaining('people, new: it was put in')]);
      await checkpoint(db);
    });
  });
});

describe('one exported record', () => {
  let text: string;
  beforeAll(async () => {
    process.env['DATABASE_URL'] = `file:${whole}`;
    forgetDatabase();
    text = await exportRecord(ids.run);
    forgetDatabase();
  });
  it('is checked with nothing but its file', () => {
    expect(checkRecord(text)).toEqual({ faults: [], words: expect.stringContaining(`entries of the run ${ids.run}`) });
    expect(recordSchema.parse(JSON.parse(text)).head).toEqual(head);
  });
  it('with one byte flipped is found out, wherever that is', () => {
    const bytes = Buffer.from(text);
    // Every position by the digest of the whole; where the checks name the place, a sample is taken through all of them.
    const digest = createHash('sha256').update(bytes).digest('hex');
    for (let i = 0; i < 60; i++) {
      const at = Math.floor((bytes.length * (i + 0.5)) / 60);
      const flipped = Buffer.from(bytes);
      flipped[at]! ^= 1;
      expect(createHash('sha256').update(flipped).digest('hex')).not.toBe(digest);
      expect(checkRecord(flipped.toString('utf8')).faults, `at ${at}`).not.toEqual([]);
    }
  });
  it.each<[string, (record: ExportedRecord) => void, RegExp]>([
    ['a reading', (r) => void (r.entries.find((e) => e.act.type === 'observed')!.act['text'] = '9.99'), /^entries, \d+, act:/],
    ['who took it', (r) => void (r.entries[5]!.person = 'Nobody'), /^entries, 6, person:/],
    ['an entry taken out', (r) => void r.entries.splice(7, 1), /^entries, 9, sequence:/],
    ['the last entry taken out', (r) => void r.entries.pop(), /the log does not end where it was sealed/],
    ['whose instrument it is', (r) => void (r.run.instrumentId = 'other'), /^run, \S+, instrumentId:/],
    ['a standard', (r) => void (r.standards[0]!.standardId = 'other'), /^standards, /],
    ['a line of the chain', (r) => void (r.lines[0]!.at = '2020-01-01T00:00:00.000Z'), /^lines, \d+, hash:/],
  ])('says where it was changed: %s', (_, change, said) => {
    const record = JSON.parse(text) as ExportedRecord;
    change(record);
    const { digest: _digest, ...rest } = record;
    // Written as it would be, with a digest of its own.
    expect(checkRecord(recordText(rest, sha256)).faults.join('\n')).toMatch(new RegExp(said.source, 'm'));
  });
  it('of version 1, which was written with its members in order of the alphabet, is checked as it was', () => {
    const { digest: _digest, ...rest } = JSON.parse(text) as ExportedRecord;
    const former = recordText({ ...rest, version: 1 }, sha256);
    expect(former.startsWith('{"digest":')).toBe(true);
    expect(checkRecord(former).faults).toEqual([]);
    expect(checkRecord(`${JSON.stringify(JSON.parse(former), null, 1)}\n`).faults).toEqual([
      'record, file: it is not written as it was exported.',
    ]);
  });
  it('says so of what is no record', () => {
    expect(checkRecord('{').faults.join()).toContain('not JSON');
    expect(checkRecord('{"format":"just-twice-record"}').faults.join()).toContain('record, version');
  });
});
