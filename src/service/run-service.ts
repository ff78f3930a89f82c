import { isDeepStrictEqual } from 'node:util';
import { certificateOf, type Laboratory } from '../core/certificate/certificate';
import { dayIn } from '../core/quantity/calendar-day';
import { pointsOf, runState, type RunState } from '../core/run/run-state';
import { admit } from '../core/run/admit';
import type { Act, InstrumentSnapshot, RecordedEvent, StandardSnapshot } from '../core/run/event-schema';
import { summarizeRun } from '../core/run/run-summary';
import { dueInWords, dueStanding } from '../core/traceability/standing';
import { database, writing, type Database } from '../store/database';
import * as register from '../store/register';
import * as log from '../store/run-log';
import { laboratoryZone } from './laboratory-time';
import { certificateHead } from './register-service';
import { clockMark, clockSetBy, isClockBehind } from './server-clock';
import { ServiceError } from './service-error';
import type { AppendRequest, StartRequest } from './run-request-schema';

export const instrumentSnapshot = (row: register.InstrumentRow): InstrumentSnapshot => {
  const { state: _state, nextDue: _nextDue, ...snapshot } = row;
  return snapshot;
};

export const standardSnapshot = (row: register.StandardRow, items: StandardSnapshot['items']): StandardSnapshot => ({
  id: row.id,
  identification: row.identification,
  kind: row.kind,
  designation: row.designation,
  certificate: { issuer: row.certificateIssuer, number: row.certificateNumber, date: row.certificateDate, due: row.due },
  items,
});

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

/** What stands in the way of using a standard for an instrument; null when nothing does. */
function standardRefusal(
  standard: register.StandardRow,
  snapshot: StandardSnapshot,
  instrument: InstrumentSnapshot,
  procedure: register.ProcedureRow,
  today: string,
): string | null {
  const standing = dueStanding(standard.due, today);
  if (standing.standing === 'expired')
    return `${standard.identification} cannot be used: its certificate ${standard.certificateNumber} ran out on ${standard.due} (${dueInWords(standing)}). Choose another standard, or enter its new certificate.`;
  const points = pointsOf(procedure.document, instrument, snapshot);
  if (points.length === 0) return 'The range to be calibrated holds none of the points of the procedure.';
  const missing = points.filter((p) => p.stack.length === 0).map((p) => p.nominal.toFixed(1));
  return missing.length ? `${standard.identification} has no blocks that add to ${missing.join(', ')} mm.` : null;
}

/** The standards that could serve an instrument, each with what speaks against it. */
export async function standardsFor(instrumentId: string, today: string) {
  const db = await database();
  const instrument = await register.instrumentById(db, instrumentId);
  if (!instrument) return [];
  const procedure = await register.newestProcedureFor(db, instrument.kind);
  if (!procedure) return [];
  const standards = (await register.listStandards(db)).filter((s) => s.kind === procedure.document.standardKind);
  const choices = await Promise.all(
    standards.map(async (standard) => {
      const snapshot = standardSnapshot(standard, await register.itemsOfStandard(db, standard.id));
      return {
        id: standard.id,
        identification: standard.identification,
        designation: standard.designation,
        due: standard.due,
        ...dueStanding(standard.due, today),
        refusal: standardRefusal(standard, snapshot, instrumentSnapshot(instrument), procedure, today),
      };
    }),
  );
  // The plainest choice first: usable, and with the longest time left.
  return choices.sort((a, b) => Number(a.refusal !== null) - Number(b.refusal !== null) || b.due.localeCompare(a.due));
}

async function requirePerson(db: Database, person: string): Promise<void> {
  if (!(await register.listPeople(db)).some((p) => p.name === person))
    throw new ServiceError(422, 'Say who is at the bench: choose your name at the top of the page.', ['person']);
}

/**
 * Starts a run. The client chooses the id, so that a repeated request starts one run.
 * @throws ServiceError when the instrument is on the bench already or the standard cannot be used
 */
export async function startRun(request: StartRequest, now = new Date().toISOString()): Promise<string> {
  const db = await database();
  return writing(db, () => startAlone(db, request, now));
}

async function startAlone(db: Database, request: StartRequest, now: string): Promise<string> {
  const begun = await log.runById(db, request.run);
  if (begun) {
    if (begun.instrumentId === request.instrument && begun.standardId === request.standard) return request.run;
    throw new ServiceError(409, 'A run with this id was started for another instrument or standard. Start a new run.', ['run']);
  }
  await requirePerson(db, request.person);
  const [instrument, standard] = await Promise.all([
    register.instrumentById(db, request.instrument),
    register.standardById(db, request.standard),
  ]);
  if (!instrument) throw new ServiceError(404, 'There is no instrument with this id.', ['instrument']);
  if (!standard) throw new ServiceError(404, 'There is no standard with this id.', ['standard']);
  if (instrument.state !== 'in-use')
    throw new ServiceError(409, `${instrument.identification} is marked out of use. Mark it in use before it is calibrated.`, [
      'instrument',
    ]);
  const procedure = await register.newestProcedureFor(db, instrument.kind);
  if (!procedure) throw new ServiceError(409, 'There is no procedure for this kind of instrument.', ['instrument']);
  const snapshots = {
    instrument: instrumentSnapshot(instrument),
    standard: standardSnapshot(standard, await register.itemsOfStandard(db, standard.id)),
  };
  const timeZone = await laboratoryZone();
  const refusal = standardRefusal(standard, snapshots.standard, snapshots.instrument, procedure, dayIn(now, timeZone));
  if (refusal) throw new ServiceError(409, refusal, ['standard']);
  const open = await log.openRunOf(db, instrument.id);
  if (open)
    throw new ServiceError(
      409,
      `${instrument.identification} is already on the bench. Carry on with its open run.`,
      ['instrument'],
      { run: open.id },
    );
  const act: Act = { type: 'run-started', ...snapshots, procedure: procedure.document, timeZone };
  const clock = clockMark(undefined, now, clockSetBy());
  await log.insertRun(
    db,
    {
      id: request.run,
      instrumentId: instrument.id,
      standardId: standard.id,
      procedureId: procedure.id,
      procedureRevision: procedure.revision,
      status: 'open',
      startedAt: now,
      finishedAt: null,
      certificate: null,
      isReviewed: false,
      summary: null,
    },
    { sequence: 1, at: now, person: request.person, act, idempotencyKey: request.run, ...(clock ? { clock } : {}) },
  );
  return request.run;
}

/** What the index over the logs says after an event; derived from the log alone. */
function changeFor(events: RecordedEvent[], act: Act, now: string, head: Laboratory): log.RunChange {
  if (act.type === 'run-abandoned') return { run: { status: 'abandoned', finishedAt: now } };
  if (act.type === 'run-reviewed') return { run: { isReviewed: true } };
  if (act.type !== 'run-completed') return {};
  const state = runState(events);
  return {
    run: { status: 'finished', finishedAt: now, certificate: act.certificate, summary: summarizeRun(state) },
    instrument: { id: state.instrument.id, lastCalibrated: dayIn(now, state.timeZone), nextDue: state.interval!.next },
    certificate: certificateOf(state, head),
  };
}

export type Appended = { event: RecordedEvent; repeated: boolean };

/**
 * Appends one act to a run's log.
 * @throws ServiceError 409 with the events the client has not seen when it is behind, 422 when the act is not admitted
 */
export async function appendAct(runId: string, request: AppendRequest, now = new Date().toISOString()): Promise<Appended> {
  const db = await database();
  return writing(db, () => appendAlone(db, runId, request, now));
}

async function appendAlone(db: Database, runId: string, request: AppendRequest, now: string): Promise<Appended> {
  const { events, state } = await loadRun(runId);
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
  if (request.expectedSequence !== state.sequence) throw conflict(events.filter((e) => e.sequence > request.expectedSequence));
  await requirePerson(db, request.person);
  // The server names the certificate, so that two benches cannot choose the same number.
  const act: Act =
    request.act.type === 'run-completed'
      ? { ...request.act, certificate: await nextCertificateNumber(db, now, state.timeZone) }
      : request.act;
  const refusal = admit(state, act, request.person, now);
  if (refusal)
    throw new ServiceError(
      422,
      refusal.message,
      ['act', ...refusal.path],
      refusal.suggestion ? { suggestion: refusal.suggestion } : {},
    );
  if (act.type === 'run-completed') await requireClock(db, now);
  const clock = clockMark(events.at(-1), now, clockSetBy());
  const event: RecordedEvent = {
    sequence: state.sequence + 1,
    at: now,
    person: request.person,
    act,
    ...(clock ? { clock } : {}),
  };
  await log.appendEvent(
    db,
    runId,
    { ...event, idempotencyKey: request.idempotencyKey },
    changeFor([...events, event], act, now, await certificateHead()),
  );
  return { event, repeated: false };
}

/** Whether a request repeats what is recorded under its key. The number of a certificate is the server's, not the client's. */
function isSameAct(known: RecordedEvent, request: AppendRequest): boolean {
  const plain = (act: Act) => (act.type === 'run-completed' ? { ...act, certificate: '' } : act);
  return known.person === request.person && isDeepStrictEqual(JSON.parse(JSON.stringify(plain(request.act))), plain(known.act));
}

function conflict(missed: RecordedEvent[]): ServiceError {
  return new ServiceError(
    409,
    'This run has moved on in another window. What you typed was not recorded; here is the run as it stands now.',
    ['expectedSequence'],
    { missed },
  );
}

/** A certificate carries the server's date: a clock that is behind what has been recorded already may not give one. */
async function requireClock(db: Database, now: string): Promise<void> {
  const latest = await log.latestEventTime(db);
  if (isClockBehind(latest, now))
    throw new ServiceError(
      409,
      `The server's clock says ${now.slice(0, 16).replace('T', ' ')} UTC, but something was recorded at ${latest!.slice(0, 16).replace('T', ' ')} UTC already. No certificate is issued with a clock that is behind: have it set, then finish the run.`,
      ['act'],
    );
}

/** The next number of the laboratory's year. */
export async function nextCertificateNumber(db: Database, now: string, timeZone: string): Promise<string> {
  const prefix = `C${dayIn(now, timeZone).slice(2, 4)}-`;
  return `${prefix}${String((await log.lastCertificateNumber(db, prefix)) + 1).padStart(4, '0')}`;
}
