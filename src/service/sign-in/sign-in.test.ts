import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, it } from 'vitest';
import { actSchema } from '../../core/acts/registry';
import { isMonotonous } from '../../core/register/secrets';
import { keysOf, sessionById, sessionsOf, touchSession, withKeys } from '../../store/access';
import type { Database } from '../../store/database';
import { listPeople, retirePerson, savePeopleRules } from '../../store/register';
import { ownCopy } from '../fixtures/own-copy';
import { refusalOf } from '../fixtures/refusal-of';
import { appendAct, loadRun } from '../run-service';
import { checkSeals } from '../seal-service';
import { startRun } from '../start-service';
import type { Who } from '../token-service';
import { deedLines, deedTable, noteDeed } from './deed-service';
import { demoPeople } from './demo-people';
import {
  endBench,
  noteCompetence,
  peopleBoard,
  requireAnotherAdministrator,
  setRoles,
  signOutEverywhere,
  stopCompetence,
} from './people-service';
import * as signIn from './sign-in-service';
import { deviceOf, forgetWho, type Device } from './who-acts';

let db: Database;
ownCopy((own) => (db = own));

const password = 'three bells ring out a row';
const digits = { 'Maud Ellery': '4071', 'Tobias Wrenfield': '5926', 'Ines Calderstone': '8350' } as const;
type Name = keyof typeof digits;
let address = 0;
/** Every test comes from an address of its own: tries are counted by it. */
const from = (): signIn.From => ({ headers: new Headers({ 'user-agent': 'a test' }), address: `10.0.0.${address}` });
beforeEach(() => {
  address++;
  forgetWho();
});
const now = () => new Date().toISOString();
const idOf = async (name: string) => (await listPeople(db)).find((p) => p.name === name)!.id;
const headersOf = (cookies: readonly string[]) => new Headers({ cookie: cookies.map((c) => c.split(';')[0]).join('; ') });
const device = async (cookies: readonly string[], at = Date.now()): Promise<Device> =>
  (await deviceOf(db, headersOf(cookies), at, true))!;
const bench = (person: Name) => signIn.atDemoBench({ person, digits: digits[person] }, from(), now());
const whoAt = async (cookies: readonly string[]): Promise<Who> => (await device(cookies)).who!;

describe('a person signs in', () => {
  it('with name and password, in whatever spelling of the name; the cookie is for the server alone', async () => {
    const { person, cookies } = await signIn.signIn({ name: ' maud  ELLERY', password }, from(), now());
    expect(person).toBe('Maud Ellery');
    expect(cookies[0]).toMatch(/^just-twice\.session_token=.+; .*HttpOnly.*SameSite=Lax/i);
    expect(await device(cookies)).toMatchObject({
      isBench: false,
      who: { person: 'Maud Ellery', roles: ['technician', 'reviewer'] },
    });
  });
  it('is refused in the same words whatever was wrong', async () => {
    const said = await Promise.all(
      [
        { name: 'Maud Ellery', password: 'another password' },
        { name: 'Nobody Atall', password },
        { name: 'Demo bench', password },
      ].map((typed) => refusalOf(signIn.signIn(typed, from(), now()))),
    );
    expect(new Set(said.map((s) => JSON.stringify([s.status, s.message]))).size).toBe(1);
    expect(said[0]!.status).toBe(401);
  });
  it('not more than six times in a quarter of an hour, whether the name is known or not', async () => {
    for (const name of ['Tobias Wrenfield', 'Nobody Else']) {
      const said = [];
      for (let i = 0; i < 8; i++) {
        address++;
        said.push((await refusalOf(signIn.signIn({ name, password: `wrong ${i}` }, from(), now()))).status);
      }
      expect(said, name).toEqual([401, 401, 401, 401, 401, 401, 429, 429]);
    }
    // The right one does not help any more either.
    expect(await refusalOf(signIn.signIn({ name: 'Tobias Wrenfield', password }, from(), now()))).toMatchObject({
      status: 429,
    });
  });
  it('gets another session each time: one that was there before is worth nothing', async () => {
    const planted = new Headers({ cookie: 'just-twice.session_token=planted.AAAA' });
    expect(await deviceOf(db, planted, Date.now(), true)).toBeNull();
    const [a, b] = [await bench('Maud Ellery'), await bench('Maud Ellery')];
    expect(a.cookies[0]).not.toBe(b.cookies[0]);
    // A session whose name was touched is none.
    const touched = a.cookies[0]!.replace(/session_token=./, (t) => t.slice(0, -1) + (t.endsWith('A') ? 'B' : 'A'));
    forgetWho();
    expect(await deviceOf(db, headersOf([touched]), Date.now(), true)).toBeNull();
  });
  it('and out again: the session is gone; a bench is signed out by an administrator alone', async () => {
    const { cookies } = await signIn.signIn({ name: 'Maud Ellery', password }, from(), now());
    await signIn.signOut(await device(cookies));
    expect(await deviceOf(db, headersOf(cookies), Date.now(), true)).toBeNull();
    const { cookies: shared } = await bench('Maud Ellery');
    expect(await refusalOf(signIn.signOut(await device(shared)))).toMatchObject({ status: 403 });
    expect((await device(shared)).who?.person).toBe('Maud Ellery');
    const { cookies: administrators } = await bench('Ines Calderstone');
    await signIn.signOut(await device(administrators));
    expect(await deviceOf(db, headersOf(administrators), Date.now(), true)).toBeNull();
  });
});

describe('a bench', () => {
  it('is taken over with digits by whoever works at it, and signs as that person', async () => {
    const { cookies } = await bench('Maud Ellery');
    expect(await signIn.whoCanTake(await device(cookies))).toEqual(['Ines Calderstone', 'Maud Ellery', 'Tobias Wrenfield']);
    await signIn.takeOver(await device(cookies), { person: 'Tobias Wrenfield', digits: '5926' }, now());
    expect(await device(cookies)).toMatchObject({ isBench: true, name: 'Demo bench', who: { person: 'Tobias Wrenfield' } });
  });
  it('takes five wrong digits, from wherever they are tried, then only the password', async () => {
    const one = await bench('Maud Ellery');
    const other = await bench('Maud Ellery');
    const said = [];
    for (let i = 0; i < 7; i++) {
      const { cookies } = i % 2 ? one : other;
      const take = signIn.takeOver(await device(cookies), { person: 'Ines Calderstone', digits: `111${i}` }, now());
      said.push(await refusalOf(take));
    }
    expect(said.map((s) => s.status)).toEqual([401, 401, 401, 401, 401, 429, 429]);
    expect(said[4]!.details).toMatchObject({ needsPassword: true });
    const right = { person: 'Ines Calderstone', digits: '8350' };
    expect(await refusalOf(signIn.takeOver(await device(one.cookies), right, now()))).toMatchObject({ status: 429 });
    await signIn.takeOver(await device(one.cookies), { ...right, digits: password }, now());
    // From then on digits are good again.
    await signIn.takeOver(await device(other.cookies), right, now());
    expect((await keysOf(db, await idOf('Ines Calderstone'))).digitTries).toBe(0);
  });
  it('counts tries that come all at once', async () => {
    const { cookies } = await bench('Maud Ellery');
    const at = await device(cookies);
    const said = await Promise.all(
      Array.from({ length: 9 }, (_, i) =>
        refusalOf(signIn.takeOver(at, { person: 'Tobias Wrenfield', digits: `22${i}3` }, now())).then((r) => r.status),
      ),
    );
    expect(said.filter((s) => s === 401)).toHaveLength(5);
    expect(said.filter((s) => s === 429)).toHaveLength(4);
    await signIn.setSecrets(db, { id: await idOf('Tobias Wrenfield'), name: 'Tobias Wrenfield' }, { digits: '5926' }, new Date());
  });
  it('asks who is there after the time that the laboratory sets, and is the same for whoever was there', async () => {
    const { cookies } = await bench('Maud Ellery');
    await savePeopleRules(db, { signOffMinutes: 5, asksCompetence: false, isOfOne: false });
    const at = Date.now();
    expect((await device(cookies, at + 4.9 * 60_000)).who?.person).toBe('Maud Ellery');
    forgetWho();
    // What was done meanwhile counts from there on; that is written while nobody waits.
    await expect
      .poll(async () => (await sessionById(db, (await device(cookies, at)).session))!.activeAt)
      .toBeGreaterThan(at + 60_000);
    forgetWho();
    const later = at + 4.9 * 60_000 + 5.1 * 60_000;
    expect(await device(cookies, later)).toMatchObject({ who: null, last: 'Maud Ellery' });
    await savePeopleRules(db, { signOffMinutes: 15, asksCompetence: false, isOfOne: false });
  });
  it('sees a hand also between two looks that follow by themselves', async () => {
    const { cookies } = await bench('Maud Ellery');
    const at = Date.now();
    for (const [seconds, isByHand] of [
      [40, false],
      [41, true],
    ] as const)
      await deviceOf(db, headersOf(cookies), at + seconds * 1000, isByHand);
    const { session } = await device(cookies, at + 41_500);
    await expect.poll(async () => (await sessionById(db, session))!.activeAt).toBe(at + 41_000);
    // What comes late from another window does not undo that it was handed on.
    await signIn.handOn(await device(cookies, at + 42_000));
    await touchSession(db, session, at + 43_000);
    forgetWho();
    expect((await device(cookies, at + 44_000)).who).toBeNull();
  });
  it('of the demo lets in several at once', async () => {
    const all = await Promise.all(Array.from({ length: 5 }, () => bench('Maud Ellery')));
    expect(new Set(all.map((a) => a.cookies[0])).size).toBe(5);
    for (const { cookies } of all) expect((await whoAt(cookies)).person).toBe('Maud Ellery');
  });
  it('handed on, nobody acts until somebody takes it over', async () => {
    const { cookies } = await bench('Maud Ellery');
    await signIn.handOn(await device(cookies));
    expect(await device(cookies)).toMatchObject({ who: null, last: 'Maud Ellery' });
  });
  it('that was lost is signed out from elsewhere', async () => {
    const made = await signIn.makeBench('Bench by the door', from(), now(), null);
    expect(await device(made)).toMatchObject({ name: 'Bench by the door', who: null });
    const { benches } = await peopleBoard();
    await endBench(benches.find((b) => b.name === 'Bench by the door')!.id);
    expect(await deviceOf(db, headersOf(made), Date.now(), true)).toBeNull();
    expect(await refusalOf(endBench(await idOf('Maud Ellery')))).toMatchObject({ status: 404 });
  });
  it('a device of one’s own is taken over by nobody else', async () => {
    await signIn.setSecrets(db, { id: await idOf('Maud Ellery'), name: 'Maud Ellery' }, { password }, new Date());
    const { cookies } = await signIn.signIn({ name: 'Maud Ellery', password }, from(), now());
    await signIn.handOn(await device(cookies));
    const at = await device(cookies);
    expect(await signIn.whoCanTake(at)).toEqual(['Maud Ellery']);
    expect(await refusalOf(signIn.takeOver(at, { person: 'Tobias Wrenfield', digits: '5926' }, now()))).toMatchObject({
      status: 422,
    });
    await signIn.takeOver(at, { person: 'Maud Ellery', digits: '4071' }, now());
    expect((await device(cookies)).who?.person).toBe('Maud Ellery');
  });
  it('of no demo is not entered by digits alone', async () => {
    await db.$client.execute(`UPDATE facts SET value = 'other' WHERE key = 'demo'`);
    expect(await refusalOf(bench('Maud Ellery'))).toMatchObject({ status: 401 });
    expect(await demoPeople()).toBeNull();
    await db.$client.execute(`UPDATE facts SET value = 'whole' WHERE key = 'demo'`);
    expect((await demoPeople())!.people.map((p) => p.name)).toEqual(Object.keys(digits));
  });
});

describe('secrets', () => {
  it('a code is good once, for a day, for its person; what was signed in before is signed out', async () => {
    const { cookies: own } = await bench('Tobias Wrenfield');
    const { code } = await signIn.makeCode('Tobias Wrenfield', Date.now());
    expect(code).toMatch(/^[A-Z2-9]{4}-[A-Z2-9]{4}-[A-Z2-9]{4}$/);
    const taken = { name: 'Tobias Wrenfield', code: code.toLowerCase(), password: 'a heap of pewter pipes', digits: '6042' };
    const late = new Date(Date.now() + 25 * 60 * 60_000).toISOString();
    expect(await refusalOf(signIn.takeCode(taken, from(), late))).toMatchObject({ status: 401 });
    expect(await refusalOf(signIn.takeCode({ ...taken, name: 'Maud Ellery' }, from(), now()))).toMatchObject({ status: 401 });
    const { cookies } = await signIn.takeCode(taken, from(), now());
    expect((await whoAt(cookies)).person).toBe('Tobias Wrenfield');
    expect((await device(own)).who).toBeNull();
    expect(await refusalOf(signIn.takeCode(taken, from(), now()))).toMatchObject({ status: 401 });
    await signIn.changeOwn(await whoAt(cookies), { current: taken.password, password, digits: '5926' }, now());
    // The device at which it was changed stays signed in.
    expect((await whoAt(cookies)).person).toBe('Tobias Wrenfield');
  });
  it('are changed by whoever knows the password as it is', async () => {
    const { cookies } = await bench('Maud Ellery');
    const who = await whoAt(cookies);
    const refusal = await refusalOf(signIn.changeOwn(who, { current: 'something else', digits: '9157' }, now()));
    expect(refusal).toMatchObject({ status: 401, path: ['current'] });
    expect(await refusalOf(signIn.changeOwn(who, { current: password, password: 'maud ellery likes it' }, now()))).toMatchObject({
      status: 422,
      path: ['password'],
    });
    await signIn.changeOwn(who, { current: password, digits: '9157' }, now());
    await signIn.takeOver(await device(cookies), { person: 'Maud Ellery', digits: '9157' }, now());
    await signIn.changeOwn(who, { current: password, digits: '4071' }, now());
  });
  it('stand nowhere as they were typed', async () => {
    const { rows } = await db.$client.execute('SELECT digits, (SELECT group_concat(password) FROM credentials) FROM keys');
    for (const row of rows) {
      expect(String(row[0])).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
      expect(String(row[1])).not.toContain('bells');
    }
    expect(rows.length).toBeGreaterThanOrEqual(3);
  });
  it.each([
    ['1111', true],
    ['1234', true],
    ['98765', true],
    ['123123', true],
    ['4071', false],
    ['2718', false],
  ])('%s is guessed first: %s', (typed, isFirst) => expect(isMonotonous(typed)).toBe(isFirst));
  it('one’s own sessions are listed and ended, those of others are not', async () => {
    const one = await signIn.signIn({ name: 'Ines Calderstone', password }, from(), now());
    const two = await signIn.signIn({ name: 'Ines Calderstone', password }, from(), now());
    const who = await whoAt(one.cookies);
    const listed = await signIn.ownSessions(who);
    const other = listed.find((s) => !s.isThis)!;
    expect(listed.filter((s) => s.isThis)).toHaveLength(1);
    expect(other).toMatchObject({ device: 'a test', address: `10.0.0.${address}` });
    const foreign = (await sessionsOf(db, (await peopleBoard()).benches[0]!.id))[0]!;
    expect(await refusalOf(signIn.endOwn(who, foreign.id))).toMatchObject({ status: 404 });
    for (const { id } of listed.filter((s) => !s.isThis)) await signIn.endOwn(who, id);
    expect(await deviceOf(db, headersOf(two.cookies), Date.now(), true)).toBeNull();
    expect((await whoAt(one.cookies)).person).toBe('Ines Calderstone');
  });
});

describe('a signature', () => {
  const unsigned = async (): Promise<string> =>
    String(
      (
        await db.$client.execute(
          `SELECT id FROM runs WHERE status = 'finished' AND purpose = 'calibration' AND is_reviewed = 0 ORDER BY started_at LIMIT 1`,
        )
      ).rows[0]![0],
    );
  const review = async (run: string, who: Who) =>
    appendAct(
      run,
      {
        expectedSequence: (await loadRun(run)).state.sequence,
        idempotencyKey: randomUUID(),
        person: who.person,
        act: actSchema.parse({ type: 'run-reviewed', remark: '' }),
      },
      now(),
      who,
    );
  it('asks for digits or password again, each time, and what is refused uses none up', async () => {
    const run = await unsigned();
    const { cookies } = await bench('Ines Calderstone');
    expect(await refusalOf(review(run, await whoAt(cookies)))).toMatchObject({
      status: 403,
      details: { signs: expect.stringMatching(/is reviewed, and its certificate .* released/) as never },
    });
    const wrong = signIn.confirm(await whoAt(cookies), '1112', now());
    expect(await refusalOf(wrong)).toMatchObject({ status: 401 });
    const long = new Date(Date.now() - 3 * 60_000).toISOString();
    await signIn.confirm(await whoAt(cookies), '8350', long);
    expect(await refusalOf(review(run, await whoAt(cookies)))).toMatchObject({ status: 403 });
    await signIn.confirm(await whoAt(cookies), '8350', now());
    // Whoever took part is refused, and the confirmation stands for what may be signed.
    const { cookies: tobias } = await bench('Tobias Wrenfield');
    expect(await refusalOf(review(run, await whoAt(tobias)))).toMatchObject({ status: 422 });
    expect((await review(run, await whoAt(cookies))).event.person).toBe('Ines Calderstone');
    const who = await whoAt(cookies);
    expect((await sessionById(db, who.session!))!.confirmedAt).toBe(0);
    expect(await refusalOf(signIn.useConfirmation(who, 'It is approved.'))).toMatchObject({ status: 403 });
  });
  it('is good for one thing, also where two are asked for at once', async () => {
    const { cookies } = await bench('Ines Calderstone');
    await signIn.confirm(await whoAt(cookies), '8350', now());
    const who = await whoAt(cookies);
    const both = await Promise.allSettled([signIn.useConfirmation(who, 'This.'), signIn.useConfirmation(who, 'That.')]);
    expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected']);
  });
  it('of two reviewers who sign at once one is told', async () => {
    const run = await unsigned();
    const [ines, maud] = [await bench('Ines Calderstone'), await bench('Ines Calderstone')];
    for (const { cookies } of [ines, maud]) await signIn.confirm(await whoAt(cookies), '8350', now());
    const both = await Promise.allSettled([review(run, await whoAt(ines.cookies)), review(run, await whoAt(maud.cookies))]);
    expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected']);
  });
});

describe('who may', () => {
  const start = (who: Who, instrument: string) =>
    startRun(
      {
        run: randomUUID(),
        instrument,
        procedure: 'outside-micrometer',
        standards: { blocks: ['gb-47'] },
        person: who.person,
        purpose: 'calibration',
        choices: {},
      } as never,
      now(),
      who,
    );
  it('competence is asked where the laboratory says so, by family and by day', async () => {
    const { cookies } = await bench('Tobias Wrenfield');
    await savePeopleRules(db, { signOffMinutes: 15, asksCompetence: true, isOfOne: false });
    forgetWho();
    const all = (await peopleBoard()).competences.filter((c) => c.person === 'Tobias Wrenfield');
    for (const { id } of all) await stopCompetence(id);
    await db.$client.execute(`UPDATE competences SET until = '2020-01-01' WHERE person = 'Tobias Wrenfield'`);
    forgetWho();
    expect(await refusalOf(start(await whoAt(cookies), 'qm-0140'))).toMatchObject({ status: 403 });
    const noted = { name: 'Tobias Wrenfield', from: '2026-01-01', until: null, ground: 'seen at work', may: ['run' as const] };
    await noteCompetence({ ...noted, kind: 'balance' }, 'Ines Calderstone', now());
    expect(await refusalOf(start(await whoAt(cookies), 'qm-0140'))).toMatchObject({ status: 403 });
    const [id] = await noteCompetence({ ...noted, kind: 'outside-micrometer' }, 'Ines Calderstone', now());
    expect(id).toMatch(/^[0-9a-f-]{36}$/);
    expect(await start(await whoAt(cookies), 'qm-0140')).toMatch(/^[0-9a-f-]{36}$/);
    await savePeopleRules(db, { signOffMinutes: 15, asksCompetence: false, isOfOne: false });
  });
  it('the last administrator stays one', async () => {
    expect(await refusalOf(setRoles({ name: 'Ines Calderstone', roles: ['reviewer'], owner: null }))).toMatchObject({
      status: 409,
    });
    expect(await refusalOf(requireAnotherAdministrator('Ines Calderstone'))).toMatchObject({ status: 409 });
    await setRoles({ name: 'Maud Ellery', roles: ['technician', 'reviewer', 'administrator'], owner: null });
    await requireAnotherAdministrator('Ines Calderstone');
    await setRoles({ name: 'Maud Ellery', roles: ['technician', 'reviewer'], owner: null });
  });
  it('what a person may do changes at once for a session that is open', async () => {
    const { cookies } = await bench('Maud Ellery');
    await setRoles({ name: 'Maud Ellery', roles: ['technician'], owner: null });
    expect((await whoAt(cookies)).roles).toEqual(['technician']);
    await setRoles({ name: 'Maud Ellery', roles: ['technician', 'reviewer'], owner: null });
  });
  it('in a laboratory of one whoever measured may sign', async () => {
    const { cookies } = await bench('Ines Calderstone');
    await savePeopleRules(db, { signOffMinutes: 15, asksCompetence: false, isOfOne: true });
    forgetWho();
    expect((await whoAt(cookies)).isOfOne).toBe(true);
    await savePeopleRules(db, { signOffMinutes: 15, asksCompetence: false, isOfOne: false });
  });
  it('a name that retires is signed out everywhere', async () => {
    const { cookies } = await bench('Tobias Wrenfield');
    await retirePerson(db, 'Tobias Wrenfield', now());
    await signOutEverywhere('Tobias Wrenfield');
    expect((await device(cookies)).who).toBeNull();
    expect(await signIn.whoCanTake(await device(cookies))).not.toContain('Tobias Wrenfield');
    expect(
      await refusalOf(signIn.takeOver(await device(cookies), { person: 'Tobias Wrenfield', digits: '5926' }, now())),
    ).toMatchObject({
      status: 422,
    });
  });
});

describe('who did what', () => {
  it('lists signatures and changes, finds them, and is a table without formulas', async () => {
    const { cookies } = await bench('Ines Calderstone');
    await noteDeed('POST /api/people', '', { name: '=SUM(1+1)' }, await whoAt(cookies));
    const lines = await deedLines({ person: 'Ines Calderstone' }, 400);
    expect(lines[0]).toMatchObject({
      person: 'Ines Calderstone',
      what: 'Adds somebody who can sign',
      about: '=SUM(1+1)',
      by: 'Demo bench',
    });
    expect(new Set(lines.map((l) => l.person))).toEqual(new Set(['Ines Calderstone']));
    expect(lines.some((l) => l.what === 'Reviewed, and released it' && l.href?.startsWith('/runs/'))).toBe(true);
    expect([...lines].sort((a, b) => (a.at < b.at ? 1 : -1)).map((l) => l.at)).toEqual(lines.map((l) => l.at));
    expect(await deedTable({ text: 'SUM' })).toContain(`'=SUM(1+1)`);
    const vain = await deedLines({ text: 'in vain' }, 50);
    expect(vain.length).toBeGreaterThan(5);
    expect(await deedLines({ to: '2001-01-01' }, 50)).toEqual([]);
  });
  it('is appended to, never changed; and everything of it is sealed', async () => {
    for (const statement of [`UPDATE deeds SET person = 'Ada'`, 'DELETE FROM deeds'])
      await expect(db.$client.execute(statement)).rejects.toThrow(/appended, never/);
    await db.$client.execute(`UPDATE competences SET person = 'Ada Forger' WHERE id = 'competence-1-run'`);
    const { faults } = await checkSeals(db);
    expect(faults.filter((f) => f.includes('competence-1-run'))).not.toEqual([]);
    await db.$client.execute(`UPDATE competences SET person = 'Maud Ellery' WHERE id = 'competence-1-run'`);
  });
});

describe('the first administrator', () => {
  it('is made once, where nobody can sign in, and of two at once one', async () => {
    for (const table of ['sessions', 'credentials', 'accounts', 'keys']) await db.$client.execute(`DELETE FROM ${table}`);
    const make = (name: string) =>
      signIn.makeFirst({ name, password: 'seven brass weights in a box', digits: '2718' }, from(), now());
    expect(
      await refusalOf(signIn.makeFirst({ name: 'Orla Brandt', password: 'orla brandt again', digits: '2718' }, from(), now())),
    ).toMatchObject({
      status: 422,
    });
    const both = await Promise.allSettled([make('Orla Brandt'), make('Ada Second')]);
    const [first, ...others] = both.flatMap((b) => (b.status === 'fulfilled' ? [b.value] : []));
    expect(others).toEqual([]);
    expect(await whoAt(first!.cookies)).toMatchObject({
      person: first!.person,
      roles: expect.arrayContaining(['administrator']) as never,
    });
    expect(await refusalOf(make('Ada Third'))).toMatchObject({ status: 409 });
    expect((await withKeys(db)).length).toBe(1);
  });
});
