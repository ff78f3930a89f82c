import { withPlan } from '../core/acts/plan';
import { admit } from '../core/acts/admit';
import { runState, withEvent } from '../core/acts/fold';
import { doneAt } from '../core/state/logged';
import { kindOf, type Act, type RecordedEvent } from '../core/acts/registry';
import type { InstrumentSnapshot, StandardSnapshot } from '../core/plan/snapshots';
import { isDeepStrictEqual } from 'node:util';
import { certificateOf, type Laboratory } from '../core/certificate/certificate';
import { DocumentError } from '../core/faults';
import { dayIn } from '../core/quantity/day-in-zone';
import { caseOf } from '../core/state/run-case';
import { pairsOfRun } from '../core/run/run-pairs';
import { isQuickCheck, type RunState } from '../core/state/run-state';
import { summarizeRun } from '../core/run/run-summary';
import { database, isUniqueViolation, writing, type Database } from '../store/database';
import type * as register from '../store/register';
import { logDigest } from '../store/log-seals';
import * as log from '../store/run-log';
import { proposalsAtFinish } from './interval-service';
import { certificateHead } from './register-service';
import { clockMark, clockSetBy } from './server-clock';
import { timeAhead } from './clock-service';
import { settingsLeft } from '../core/steps/settings';
import { LeastUsed } from './least-used';
import { requirePerson } from './require-person';
import { useConfirmation } from './sign-in/sign-in-service';
import { ServiceError } from './service-error';
import type { Who } from './token-service';
import type { AppendRequest } from '../contract/requests';

export const instrumentSnapshot = (row: register.InstrumentRow): InstrumentSnapshot => {
  const { state: _state, nextDue: _nextDue, use: _use, ...snapshot } = row;
  return snapshot;
};

export const standardSnapshot = (row: register.StandardRow): StandardSnapshot => ({ id: row.id, document: row.document });

export async function loadRun(id: string): Promise<{ row: log.RunRow; events: RecordedEvent[]; state: RunState }> {
  const db = await database();
  const row = await log.runById(db, id);
  if (!row)
    throw new ServiceError(
      404,
      'There is no run with this id. It may have been mistyped: open it from the bench or from its instrument.',
    );
  const events = await log.eventsOfRun(db, id);
  return { row, events, state: runState(events) };
}

/** The runs of a set-up in its order, those that left it or are finished too. */
export async function loadSetUp(id: string): Promise<{ row: log.RunRow; events: RecordedEvent[]; state: RunState }[]> {
  const db = await database();
  const rows = await log.runsOfSetUp(db, id);
  if (rows.length === 0) throw new ServiceError(404, 'There is no set-up with this id. Open it from the bench.');
  const logs = await log.eventsOfRuns(
    db,
    rows.map((r) => r.id),
  );
  return rows
    .map((row) => {
      const events = logs.get(row.id)!;
      return { row, events, state: runState(events) };
    })
    .sort((a, b) => a.state.setUp!.place - b.state.setUp!.place);
}

/**
 * A certificate that is taken back takes its dates with it: those of the calibration before stand again; what the instrument holds
 * stays as it was left.
 * @returns nothing where a later calibration says them
 */
async function datesBefore(
  db: Database,
  runId: string,
  { instrument: { id: instrument }, startedAt }: Pick<RunState, 'instrument' | 'startedAt'>,
): Promise<log.RunChange['instrument']> {
  const before = await log.finishedBeside(db, instrument, runId);
  if (before && before.startedAt > startedAt) return undefined;
  if (!before) return { id: instrument, lastCalibrated: null, nextDue: null };
  const state = runState(await log.eventsOfRun(db, before.id));
  return { id: instrument, lastCalibrated: dayIn(before.finishedAt!, state.timeZone), nextDue: state.interval?.next ?? null };
}

const withInstrument = (change: log.RunChange, instrument: log.RunChange['instrument']): log.RunChange =>
  instrument ? { ...change, instrument } : change;

/** A correction of a calibration that a later one followed changes neither dates nor what the instrument holds. */
async function withoutOlderDates(db: Database, runId: string, state: RunState, change: log.RunChange): Promise<log.RunChange> {
  const { instrument: _instrument, ...rest } = change;
  const other = state.corrections.length > 0 ? await log.finishedBeside(db, state.instrument.id, runId) : undefined;
  return other && other.startedAt > state.startedAt ? rest : change;
}

/** When a run counts as finished: a correction for which nothing was read again leaves the calibration where it was. */
function calibratedAt(state: RunState, now: string): string {
  const [first] = state.corrections;
  const last = state.corrections.at(-1);
  return first && last && state.readings.every((r) => r.at <= last.at) ? first.finishedAt : now;
}

/** What the index over the logs says after an event; derived from the log alone. */
function changeFor(state: RunState, act: Act, now: string): log.RunChange {
  if (act.type === 'run-broken-off')
    return {
      run: { status: 'abandoned', finishedAt: now },
      ...(act.outOfUse ? { instrument: { id: state.instrument.id, state: 'out-of-use' as const } } : {}),
    };
  if (act.type === 'run-reviewed') return { run: { isReviewed: true } };
  if (act.type === 'certificate-withdrawn')
    return { run: { status: 'abandoned', isReviewed: true }, check: { instrument: state.instrument.id, at: null } };
  if (act.type === 'run-returned' || act.type === 'correction-begun')
    return { run: { status: 'open', finishedAt: null, isReviewed: false }, check: { instrument: state.instrument.id, at: null } };
  if (act.type !== 'run-completed') return {};
  const finishedAt = calibratedAt(state, now);
  const ended = { status: 'finished' as const, finishedAt, summary: summarizeRun(state), pairs: pairsOfRun(state) };
  // A quick check says how things are: it changes no date, and has no certificate to be signed.
  if (isQuickCheck(state)) return { run: { ...ended, isReviewed: true }, check: { instrument: state.instrument.id, at: now } };
  return {
    run: { ...ended, certificate: act.certificate },
    check: { instrument: state.instrument.id, at: null },
    instrument: {
      id: state.instrument.id,
      lastCalibrated: dayIn(finishedAt, state.timeZone),
      nextDue: state.interval!.next,
      stored: caseOf(state, state.sets.at(-1)!.id).stored,
      settings: settingsLeft(state),
    },
  };
}

/** What a run was finished with, as its seal has it. @param event the one that finished it */
export const finishedWith = ({ procedure, standards }: RunState, { act }: RecordedEvent): log.FinishedWith => ({
  procedure,
  standards,
  certificate: act.type === 'run-completed' ? (act.issued?.content ?? null) : null,
});

/** The event that finished a run, with its certificate as issued and the digest of it. @param state after the event */
export function withIssued(state: RunState, event: RecordedEvent, head: Laboratory, digestOfLog?: string): RecordedEvent {
  if (event.act.type !== 'run-completed' || isQuickCheck(state)) return event;
  const content = JSON.parse(JSON.stringify(certificateOf(state, head))) as Record<string, unknown>;
  return {
    ...event,
    act: {
      ...event.act,
      issued: { content, digest: log.certificateDigest(content), ...(digestOfLog ? { log: digestOfLog } : {}) },
    },
  };
}

export type Appended = { event: RecordedEvent; repeated: boolean };

/**
 * Appends one act to a run's log.
 * @param who who acts, where that is known by a session or a token
 * @throws ServiceError 409 with the events the client has not seen when it is behind, 422 when the act is not admitted
 */
export async function appendAct(
  runId: string,
  request: AppendRequest,
  now = new Date().toISOString(),
  who?: Who,
): Promise<Appended> {
  const db = await database();
  return writing(db, () => appendAlone(db, runId, request, who ?? null, now));
}

async function appendAlone(db: Database, runId: string, request: AppendRequest, who: Who | null, now: string): Promise<Appended> {
  const { state, last } = await keptOrRead(db, runId);
  const known = await log.eventByKey(db, runId, request.idempotencyKey);
  if (known) {
    if (isSameAct(known, request)) return { event: known, repeated: true };
    throw new ServiceError(
      409,
      'Something else was recorded under the key of this request. Nothing was recorded now: load the page again.',
      ['idempotencyKey'],
      { recorded: known },
    );
  }
  if (request.expectedSequence !== state.sequence)
    throw conflict(await log.eventsAfterEntry(db, runId, request.expectedSequence));
  await requirePerson(db, request.person);
  const done = isServersDate(request.act) ? undefined : honestDone(request.done, last, now);
  const at = doneAt({ at: now, ...(done ? { done } : {}) });
  const wanted =
    request.act.type === 'run-completed' ? asked(request.act, await nextCertificateNumber(db, now, state.timeZone)) : request.act;
  const act = await advised(state, planned(state, wanted), dayIn(at, state.timeZone));
  const refusal = admit(state, act, request.person, at, who);
  if (refusal)
    throw new ServiceError(422, refusal.message, ['act', ...refusal.path], {
      ...(refusal.suggestion ? { suggestion: refusal.suggestion } : {}),
      ...(refusal.keepable ? { keepable: true } : {}),
    });
  const signs = kindOf(act).signs?.(state);
  if (who && signs) await useConfirmation(who, signs, Date.parse(now));
  if (act.type === 'run-completed') await requireClock(db, now);
  const goesBack = act.type === 'run-returned' || act.type === 'correction-begun';
  if (goesBack && (await log.openRunOf(db, state.instrument.id)))
    throw new ServiceError(
      409,
      `${state.instrument.identification} is on the bench again. Finish that run before this one goes back.`,
      ['act'],
    );
  const clock = clockMark(last, now, clockSetBy());
  const bare: RecordedEvent = {
    sequence: state.sequence + 1,
    at: now,
    person: request.person,
    act,
    ...(done ? { done } : {}),
    ...(clock ? { clock } : {}),
    ...(who?.token ? { token: who.token } : {}),
  };
  // The state is carried on by the event: should it not be recorded, it is read again.
  const carried = keptStates(db);
  carried.delete(runId);
  const after = withEvent(state, bare);
  const event =
    act.type === 'run-completed'
      ? withIssued(after, bare, await certificateHead(), await logDigest(db, runId, last.sequence))
      : bare;
  const change = changeFor(after, act, now);
  const whole =
    goesBack || act.type === 'certificate-withdrawn'
      ? withInstrument(change, await datesBefore(db, runId, state))
      : act.type === 'run-completed'
        ? { ...(await withoutOlderDates(db, runId, after, change)), finishedWith: finishedWith(after, event) }
        : change;
  try {
    await log.appendEvent(db, runId, { ...event, idempotencyKey: request.idempotencyKey }, whole);
  } catch (error) {
    if (isUniqueViolation(error)) throw await collision(db, runId, last.sequence);
    throw error;
  }
  if (!change.run) carried.set(runId, { state: after, last: event });
  return { event, repeated: false };
}

/** A run as the last entry left it. */
type Carried = { state: RunState; last: RecordedEvent };

/** States of runs that are being worked on, so that an entry costs the same however long the log is. */
const carriedIn = new WeakMap<Database, LeastUsed<Carried>>();
const mostCarried = 64;

function keptStates(db: Database): LeastUsed<Carried> {
  const known = carriedIn.get(db) ?? new LeastUsed<Carried>(mostCarried);
  carriedIn.set(db, known);
  return known;
}

/**
 * Runs as they stand, for lists. The next entry carries a state on: what is wanted of these is to be taken at once, before anything else
 * is waited for.
 */
export async function statesNow(db: Database, runIds: readonly string[]): Promise<Map<string, RunState>> {
  const last = await log.lastSequences(db, runIds);
  const kept = keptStates(db);
  for (const id of runIds)
    if (kept.get(id)?.last.sequence !== last.get(id)) {
      const events = await log.eventsOfRun(db, id);
      if (events.length) kept.set(id, { state: runState(events), last: events.at(-1)! });
    }
  return new Map(
    runIds.flatMap((id): [string, RunState][] => {
      const carried = kept.get(id);
      return carried ? [[id, carried.state]] : [];
    }),
  );
}

/** A run as it stands: carried on from the entry before, where the store has no later one; else folded from its log. */
async function keptOrRead(db: Database, runId: string): Promise<Carried> {
  const carried = keptStates(db).get(runId);
  if (carried && (await log.lastSequence(db, runId)) === carried.last.sequence) return carried;
  const { events, state } = await loadRun(runId);
  return { state, last: events.at(-1)! };
}

/** What is the server's part of an act is not taken from a request: the number and content of a certificate. Two benches cannot choose the same number. */
function asked(act: Extract<Act, { type: 'run-completed' }>, certificate: string): Act {
  const { issued: _issued, ...rest } = act;
  return { ...rest, certificate };
}

/** A decided date with what every school said; the one it says was proposed has to be the one that is. */
async function advised(state: RunState, act: Act, day: string): Promise<Act> {
  if (act.type !== 'interval-decided') return act;
  const { advice: _advice, ...decided } = act;
  if (decided.school === undefined) return decided;
  const { all, chosen } = await proposalsAtFinish(state, day);
  if (chosen.school !== decided.school || chosen.date !== decided.proposed)
    throw new ServiceError(422, 'The proposed date has changed since this was shown. Read it again.', ['act', 'proposed']);
  return { ...decided, advice: all };
}

/** An act with the part of the plan that it brings, or the refusal in words. */
function planned(state: RunState, act: Act): Act {
  try {
    return withPlan(state, act);
  } catch (error) {
    if (error instanceof DocumentError) throw new ServiceError(422, error.message, ['act']);
    throw error;
  }
}

/** Acts that carry a date to the outside: theirs is the server's own. */
const isServersDate = (act: Act): boolean =>
  ['run-completed', 'run-reviewed', 'run-returned', 'correction-begun', 'certificate-withdrawn'].includes(act.type);

/**
 * The bench's word on when something was done, kept within what can be: after what came before it in the log and after the last answer
 * that it had, not after now.
 */
function honestDone(done: AppendRequest['done'], last: RecordedEvent, now: string): AppendRequest['done'] {
  if (!done) return undefined;
  const said = Date.parse(done.at) - 1000 * done.ahead;
  const earliest = Math.max(Date.parse(doneAt(last)), done.contact ? Date.parse(done.contact) : -Infinity);
  const within = Math.min(Math.max(said, Math.min(earliest, Date.parse(now))), Date.parse(now));
  return within === said ? done : { ...done, ahead: (Date.parse(done.at) - within) / 1000 };
}

/** What was recorded in a run after an entry. @throws ServiceError 422 for a number that is none */
export async function eventsAfter(runId: string, after: string): Promise<RecordedEvent[]> {
  if (!/^\d{1,9}$/.test(after)) throw new ServiceError(422, 'Say after which entry: a whole number.', ['after']);
  return log.eventsAfterEntry(await database(), runId, Number(after));
}

/** Whether a request repeats what is recorded under its key; what the server adds to an act is not the client's. */
function isSameAct(known: RecordedEvent, request: AppendRequest): boolean {
  const plain = (act: Act): unknown => {
    const {
      plan: _plan,
      issued: _issued,
      advice: _advice,
      certificate: _certificate,
      ...rest
    } = act as Act & Record<string, unknown>;
    return JSON.parse(JSON.stringify(rest));
  };
  return known.person === request.person && isDeepStrictEqual(plain(request.act), plain(known.act));
}

function conflict(missed: RecordedEvent[]): ServiceError {
  return new ServiceError(
    409,
    'This run has moved on in another window. What you typed was not recorded; here is the run as it stands now.',
    ['expectedSequence'],
    { missed },
  );
}

/** Where another process, on the same remote database, was first with a number. */
async function collision(db: Database, runId: string, after: number): Promise<ServiceError> {
  const missed = await log.eventsAfterEntry(db, runId, after);
  return missed.length
    ? conflict(missed)
    : new ServiceError(409, 'Another program recorded something at the same moment. Nothing was recorded here: do it again.', [
        'expectedSequence',
      ]);
}

/** A certificate carries the server's date: a clock that is behind what has been recorded already may not give one. */
async function requireClock(db: Database, now: string): Promise<void> {
  const latest = await timeAhead(db, now);
  if (latest)
    throw new ServiceError(
      409,
      `The server's clock says ${now.slice(0, 16).replace('T', ' ')} UTC, but something was recorded at ${latest.slice(0, 16).replace('T', ' ')} UTC already. No certificate is issued with a clock that is behind: have it set, then finish the run. Was the later time the wrong one, say so under Laboratory.`,
      ['act'],
    );
}

/** The next number of the laboratory's year. */
export async function nextCertificateNumber(db: Database, now: string, timeZone: string): Promise<string> {
  const prefix = `C${dayIn(now, timeZone).slice(2, 4)}-`;
  return `${prefix}${String((await log.lastCertificateNumber(db, prefix)) + 1).padStart(4, '0')}`;
}
