import { coversRange } from '../core/standard/covers-range';
import { statesProperties } from '../core/standard/states-properties';
import { isDeepStrictEqual } from 'node:util';
import { certificateOf, type Laboratory } from '../core/certificate/certificate';
import { DocumentError } from '../core/evaluate/faults';
import { dayIn } from '../core/quantity/day-in-zone';
import { withPlan } from '../core/run/act-plan';
import { admit } from '../core/run/admit';
import { caseOf } from '../core/run/run-case';
import { runState, withEvent, type RunState } from '../core/run/run-state';
import { startAct } from '../core/run/start-run';
import { summarizeRun } from '../core/run/run-summary';
import { doneAt } from '../core/log/acts';
import type { Act, ActOf, InstrumentSnapshot, RecordedEvent, StandardSnapshot } from '../core/log/event-schema';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { dueInWords, dueStanding } from '../core/traceability/standing';
import { database, writing, type Database } from '../store/database';
import * as register from '../store/register';
import * as log from '../store/run-log';
import { laboratoryZone } from './laboratory-time';
import { proceduresFor } from './procedure-library';
import { certificateHead } from './register-service';
import { clockMark, clockSetBy, isClockBehind } from './server-clock';
import { ServiceError } from './service-error';
import type { AppendRequest, StartRequest } from './run-request-schema';

export const instrumentSnapshot = (row: register.InstrumentRow): InstrumentSnapshot => {
  const { state: _state, nextDue: _nextDue, ...snapshot } = row;
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

/** Why a standard cannot be used at all today; null when it can. */
function standingRefusal(
  standard: register.StandardRow,
  role: ProcedureDocument['standards'][number],
  today: string,
): string | null {
  const { certificate } = standard.document;
  if (role.auxiliary) return null;
  if (!certificate) return `${standard.identification} has no certificate.`;
  const standing = dueStanding(standard.due, today);
  return standing.standing === 'expired'
    ? `${standard.identification} cannot be used: its certificate ${certificate.number} ran out on ${standard.due} (${dueInWords(standing)}). Choose another standard, or enter its new certificate.`
    : null;
}

/** So many sets of standards are tried together before a standard is said not to go with the instrument. */
const mostSets = 50;

type Chosen = Record<string, StandardSnapshot[]>;

/** Each way to take one standard for each role, the first of each first; a role that nothing can fill stays empty. */
function* combinations(roles: readonly (readonly [string, readonly StandardSnapshot[]])[], set: Chosen = {}): Generator<Chosen> {
  const [first, ...rest] = roles;
  if (!first) yield set;
  else if (first[1].length === 0) yield* combinations(rest, set);
  else for (const standard of first[1]) yield* combinations(rest, { ...set, [first[0]]: [standard] });
}

/** The standards that could fill each role of each procedure that serves an instrument, each with what speaks against it. */
export async function benchOptions(instrumentId: string, today: string) {
  const db = await database();
  const instrument = await register.instrumentById(db, instrumentId);
  if (!instrument) return [];
  const [procedures, standards] = await Promise.all([proceduresFor(instrument.kind), register.listStandards(db)]);
  const timeZone = await laboratoryZone();
  return procedures.map(({ document }) => {
    const roles = document.standards.map((role) => ({
      role,
      standards: standards.filter((s) => role.kinds?.includes(s.kind) ?? true),
    }));
    const usable = (role: (typeof roles)[number]) => role.standards.filter((s) => standingRefusal(s, role.role, today) === null);
    /** Whether instrument and standards go together is asked of the plan itself, beside whatever else could be chosen. */
    const planRefusal = (role: string, standard: register.StandardRow): string | null => {
      const sets = combinations(
        roles.map((r) => [r.role.role, (r.role.role === role ? [standard] : usable(r)).map(standardSnapshot)] as const),
      );
      let refusal: string | null = null;
      let tried = 0;
      for (const standards of sets) {
        try {
          startAct({ instrument: instrumentSnapshot(instrument), standards, procedure: document, choices: {}, timeZone }, today);
          return null;
        } catch (error) {
          if (!(error instanceof DocumentError)) throw error;
          const isOfAnother = error.path[0] === 'standards' && error.path[1] !== role;
          if (!isOfAnother) refusal ??= `${standard.identification}: ${error.message}`;
        }
        if (++tried === mostSets) break;
      }
      return refusal;
    };
    return {
      id: document.id,
      revision: document.revision,
      title: document.title,
      choices: document.choices,
      roles: roles.map((r) => ({
        ...r.role,
        standards: r.standards
          .map((s) => ({
            id: s.id,
            identification: s.identification,
            designation: s.designation,
            due: s.due,
            ...dueStanding(s.due, today),
            refusal: standingRefusal(s, r.role, today) ?? planRefusal(r.role.role, s),
            suits:
              coversRange(s.document, instrument) &&
              statesProperties(
                s.document,
                r.role.properties.map((p) => p.id),
              ),
          }))
          // The plainest choice first: usable, spanning the range and stating what is asked, and with the longest time left.
          .sort(
            (a, b) =>
              Number(a.refusal !== null) - Number(b.refusal !== null) ||
              Number(b.suits) - Number(a.suits) ||
              (b.due ?? '').localeCompare(a.due ?? ''),
          ),
      })),
    };
  });
}

async function requirePerson(db: Database, person: string): Promise<void> {
  if (!(await register.listPeople(db)).some((p) => p.name === person))
    throw new ServiceError(422, 'Say who is at the bench: choose your name at the top of the page.', ['person']);
}

/**
 * Starts a run. The client chooses the id, so that a repeated request starts one run.
 * @throws ServiceError when the instrument is on the bench already or a standard cannot be used
 */
export async function startRun(request: StartRequest, now = new Date().toISOString()): Promise<string> {
  const db = await database();
  return writing(db, () => startAlone(db, request, now));
}

async function startAlone(db: Database, request: StartRequest, now: string): Promise<string> {
  const begun = await log.runById(db, request.run);
  if (begun) {
    if (begun.instrumentId === request.instrument && begun.procedureId === request.procedure) return request.run;
    throw new ServiceError(409, 'A run with this id was started for another instrument or procedure. Start a new run.', ['run']);
  }
  await requirePerson(db, request.person);
  const instrument = await register.instrumentById(db, request.instrument);
  if (!instrument) throw new ServiceError(404, 'There is no instrument with this id.', ['instrument']);
  if (instrument.state !== 'in-use')
    throw new ServiceError(409, `${instrument.identification} is marked out of use. Mark it in use before it is calibrated.`, [
      'instrument',
    ]);
  const fitting = await proceduresFor(instrument.kind);
  if (fitting.length === 0) throw new ServiceError(409, 'There is no procedure for this kind of instrument.', ['instrument']);
  const procedure = fitting.find((p) => p.document.id === request.procedure)?.document;
  if (!procedure) throw new ServiceError(409, 'This procedure is not one for this kind of instrument.', ['procedure']);
  const timeZone = await laboratoryZone();
  const today = dayIn(now, timeZone);
  const used: log.RunStandard[] = [];
  const standards: Record<string, StandardSnapshot[]> = {};
  for (const [role, ids] of Object.entries(request.standards)) {
    const declared = procedure.standards.find((r) => r.role === role);
    if (!declared) throw new ServiceError(422, `"${role}" is not a role of this procedure.`, ['standards', role]);
    for (const id of new Set(ids)) {
      const standard = await register.standardById(db, id);
      if (!standard) throw new ServiceError(404, 'There is no standard with this id.', ['standards', role]);
      const refusal = standingRefusal(standard, declared, today);
      if (refusal) throw new ServiceError(409, refusal, ['standards', role]);
      (standards[role] ??= []).push(standardSnapshot(standard));
      used.push({ role, standardId: id });
    }
  }
  const open = await log.openRunOf(db, instrument.id);
  if (open)
    throw new ServiceError(
      409,
      `${instrument.identification} is already on the bench. Carry on with its open run.`,
      ['instrument'],
      { run: open.id },
    );
  const act = startOf(
    {
      instrument: instrumentSnapshot(instrument),
      standards,
      procedure,
      choices: request.choices,
      ...(request.received ? { received: request.received } : {}),
      timeZone,
    },
    today,
  );
  const clock = clockMark(undefined, now, clockSetBy());
  await log.insertRun(
    db,
    {
      id: request.run,
      instrumentId: instrument.id,
      procedureId: procedure.id,
      procedureRevision: procedure.revision,
      status: 'open',
      startedAt: now,
      finishedAt: null,
      certificate: null,
      isReviewed: false,
      summary: null,
    },
    used,
    { sequence: 1, at: now, person: request.person, act, idempotencyKey: request.run, ...(clock ? { clock } : {}) },
  );
  return request.run;
}

/** The first act, or the refusal in words. */
function startOf(start: Parameters<typeof startAct>[0], today: string): ActOf<'run-started'> {
  try {
    return startAct(start, today);
  } catch (error) {
    if (error instanceof DocumentError) throw new ServiceError(409, error.message, error.path);
    throw error;
  }
}

/** What the index over the logs says after an event; derived from the log alone. */
function changeFor(state: RunState, act: Act, now: string): log.RunChange {
  if (act.type === 'run-broken-off') return { run: { status: 'abandoned', finishedAt: now } };
  if (act.type === 'run-reviewed') return { run: { isReviewed: true } };
  if (act.type === 'run-returned') return { run: { status: 'open', finishedAt: null } };
  if (act.type !== 'run-completed') return {};
  return {
    run: { status: 'finished', finishedAt: now, certificate: act.certificate, summary: summarizeRun(state) },
    instrument: {
      id: state.instrument.id,
      lastCalibrated: dayIn(now, state.timeZone),
      nextDue: state.interval!.next,
      stored: caseOf(state, state.sets.at(-1)!.id).stored,
    },
  };
}

/** The event that finishes a run, with its certificate as issued and the digest of it. The state that is given must not be used again. */
export function withIssued(state: RunState, event: RecordedEvent, head: Laboratory): RecordedEvent {
  if (event.act.type !== 'run-completed') return event;
  const content = JSON.parse(JSON.stringify(certificateOf(withEvent(state, event), head))) as Record<string, unknown>;
  return { ...event, act: { ...event.act, issued: { content, digest: log.certificateDigest(content) } } };
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
  const done = honestDone(request.done, now);
  const at = doneAt({ at: now, ...(done ? { done } : {}) });
  const wanted = asked(request.act, await nextCertificateNumber(db, now, state.timeZone));
  const act = planned(state, wanted);
  const refusal = admit(state, act, request.person, at);
  if (refusal)
    throw new ServiceError(422, refusal.message, ['act', ...refusal.path], {
      ...(refusal.suggestion ? { suggestion: refusal.suggestion } : {}),
      ...(refusal.keepable ? { keepable: true } : {}),
    });
  if (act.type === 'run-completed') await requireClock(db, now);
  if (act.type === 'run-returned' && (await log.openRunOf(db, state.instrument.id)))
    throw new ServiceError(
      409,
      `${state.instrument.identification} is on the bench again. Finish that run before this one goes back.`,
      ['act'],
    );
  const clock = clockMark(events.at(-1), now, clockSetBy());
  const bare: RecordedEvent = {
    sequence: state.sequence + 1,
    at: now,
    person: request.person,
    act,
    ...(done ? { done } : {}),
    ...(clock ? { clock } : {}),
  };
  const event = act.type === 'run-completed' ? withIssued(runState(events), bare, await certificateHead()) : bare;
  await log.appendEvent(
    db,
    runId,
    { ...event, idempotencyKey: request.idempotencyKey },
    changeFor(withEvent(state, event), act, now),
  );
  return { event, repeated: false };
}

/** What is the server's part of an act is not taken from a request: the number and content of a certificate. Two benches cannot choose the same number. */
function asked(act: Act, certificate: string): Act {
  if (act.type !== 'run-completed') return act;
  const { issued: _issued, ...rest } = act;
  return { ...rest, certificate };
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

/** The bench's word on when something was done, unless it says that it was done after it came here. */
const honestDone = (done: AppendRequest['done'], now: string): AppendRequest['done'] =>
  done && Date.parse(done.at) - 1000 * done.ahead > Date.parse(now) + 5000 ? undefined : done;

/** Whether a request repeats what is recorded under its key; what the server adds to an act is not the client's. */
function isSameAct(known: RecordedEvent, request: AppendRequest): boolean {
  const plain = (act: Act): unknown => {
    const { plan: _plan, issued: _issued, certificate: _certificate, ...rest } = act as Act & Record<string, unknown>;
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
