import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { actSchema } from '../core/acts/registry';
import type { Role } from '../core/register/roles';
import type { Database } from '../store/database';
import { retirePerson } from '../store/register';
import { allTokens } from '../store/tokens';
import { ownCopy, person } from './fixtures/own-copy';
import { refusalOf } from './fixtures/refusal-of';
import { listPeople } from './register-service';
import { startRun } from './start-service';
import { appendAct, loadRun } from './run-service';
import { checkSeals } from './seal-service';
import { endToken, makeToken, whoBears } from './token-service';

let db: Database;
ownCopy((own) => (db = own));

const now = new Date().toISOString();
const later = (days: number) => new Date(Date.parse(now) + days * 86_400_000).toISOString();
const make = (name: string, roles: Role[] = ['technician'], days = 30) => makeToken(db, { person: name, roles, days }, now);
const bears = (token: string, at = now) => whoBears(db, `Bearer ${token}`, at);
const idOf = async (status: string): Promise<string> =>
  String(
    (
      await db.$client.execute(
        `SELECT id FROM runs WHERE status = '${status}' AND purpose = 'calibration' AND is_reviewed = 0 ORDER BY started_at LIMIT 1`,
      )
    ).rows[0]![0],
  );
const request = async (run: string, act: unknown, by = person) => ({
  expectedSequence: (await loadRun(run)).state.sequence,
  idempotencyKey: randomUUID(),
  person: by,
  act: actSchema.parse(act),
});

describe('a token', () => {
  it('acts as its person, who is added where nobody has that name; only its digest is kept', async () => {
    const { token, id } = await make('Robot Ringer', ['technician', 'reviewer']);
    expect(await bears(token)).toEqual({
      person: 'Robot Ringer',
      roles: ['technician', 'reviewer'],
      token: id,
      owner: null,
      competence: null,
      isOfOne: false,
    });
    expect((await listPeople()).map((p) => p.name)).toContain('Robot Ringer');
    expect(token.length).toBeGreaterThan(40);
    expect(JSON.stringify(await allTokens(db))).not.toContain(token);
    // A name that is known in another spelling is that person.
    expect((await bears((await make('maud  ellery')).token)).person).toBe(person);
  });
  it.each([
    ['nothing', ''],
    ['another scheme', 'Basic abc'],
    ['one that nobody made', 'Bearer jt_AAAA'],
    ['two in one', 'Bearer a b'],
    ['one that is too long', `Bearer ${'x'.repeat(5000)}`],
  ])('is refused where it is %s', async (_, header) =>
    expect(await refusalOf(whoBears(db, header, now))).toMatchObject({ status: 401 }),
  );
  it('ends when its time has come, when it is ended, and with its person; all in the same words', async () => {
    const { token } = await make(person, ['technician'], 2);
    expect((await bears(token, later(1.9))).person).toBe(person);
    const said = [await refusalOf(bears(token, later(2)))];
    const ended = await make(person);
    await endToken(db, ended.id, now);
    await endToken(db, ended.id, later(3));
    expect((await allTokens(db)).find((t) => t.id === ended.id)!.endedAt).toBe(now);
    said.push(await refusalOf(bears(ended.token)));
    const gone = await make('Passing Through');
    await retirePerson(db, 'Passing Through', now);
    said.push(await refusalOf(bears(gone.token)), await refusalOf(bears('jt_none')));
    expect(said.map((s) => (s as { status: number }).status)).toEqual([401, 401, 401, 401]);
    expect(new Set(said.map((s) => (s as { message: string }).message)).size).toBe(1);
    expect(await refusalOf(endToken(db, 'none', now))).toMatchObject({ status: 404 });
  });
});

describe('what is done by a token', () => {
  it('is recorded as its person’s, by that token, and sealed', async () => {
    const who = await bears((await make('Robot Ringer')).token);
    const run = await idOf('open');
    const { event } = await appendAct(
      run,
      await request(run, { type: 'note-added', text: 'By wire' }, who.person),
      undefined,
      who,
    );
    expect(event).toMatchObject({ person: 'Robot Ringer', token: who.token });
    expect((await loadRun(run)).events.at(-1)).toMatchObject({ token: who.token });
    expect((await checkSeals(db)).faults).toEqual([]);
  }, 60_000);
  it('names it from the first entry of a run on', async () => {
    const who = await bears((await make('Robot Ringer')).token);
    const run = randomUUID();
    const blocks = { blocks: ['gb-47'] };
    await startRun(
      { run, instrument: 'qm-0152', procedure: 'outside-micrometer', standards: blocks, choices: {}, person: who.person },
      now,
      who,
    );
    expect((await loadRun(run)).events[0]).toMatchObject({ person: 'Robot Ringer', token: who.token });
  });
  it('is only what its roles allow', async () => {
    const [technician, reviewer] = [
      await bears((await make('Robot Ringer')).token),
      await bears((await make('Robot Reader', ['reviewer'])).token),
    ];
    const [open, finished] = [await idOf('open'), await idOf('finished')];
    const note = await request(open, { type: 'note-added', text: 'No technician' }, reviewer.person);
    expect(await refusalOf(appendAct(open, note, undefined, reviewer))).toMatchObject({
      status: 422,
      message: expect.stringContaining('Only a technician'),
      path: ['act', 'person'],
    });
    const review = { type: 'run-reviewed', remark: '' };
    expect(
      await refusalOf(appendAct(finished, await request(finished, review, technician.person), undefined, technician)),
    ).toMatchObject({
      status: 422,
      message: expect.stringContaining('Only a reviewer'),
    });
    await appendAct(finished, await request(finished, review, reviewer.person), undefined, reviewer);
    expect((await loadRun(finished)).state.reviewed!.person).toBe('Robot Reader');
  });
});
