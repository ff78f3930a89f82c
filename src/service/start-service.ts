import type { ActOf } from '../core/acts/registry';
import type { StandardSnapshot } from '../core/plan/snapshots';
import { coversRange } from '../core/standard/covers-range';
import { statesProperties } from '../core/standard/states-properties';
import { DocumentError } from '../core/faults';
import { dayIn } from '../core/quantity/day-in-zone';
import { runState } from '../core/acts/fold';
import { pooledScatter, scatterIn } from '../core/run/errors-together';
import { startAct, startCaution } from '../core/run/start-run';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { dueInWords, dueStanding } from '../core/traceability/standing';
import { database, writing, type Database } from '../store/database';
import * as register from '../store/register';
import * as log from '../store/run-log';
import { laboratoryZone } from './laboratory-time';
import { proceduresFor } from './procedure-library';
import { instrumentSnapshot, standardSnapshot } from './run-service';
import { requirePerson } from './require-person';
import { clockMark, clockSetBy } from './server-clock';
import { mayWork } from '../core/acts/actor';
import { ServiceError } from './service-error';
import type { Who } from './token-service';
import type { StartRequest } from '../contract/requests';

/** A sentence about a thing, which names it once. */
const naming = (thing: string, sentence: string): string => (sentence.includes(thing) ? sentence : `${thing}: ${sentence}`);

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

/** What stands first for one role does not stand first for another: each takes its own. */
function eachItsOwn<R extends { standards: readonly { id: string; refusal: string | null }[] }>(roles: readonly R[]): R[] {
  const taken = new Set<string>();
  return roles.map((role) => {
    const first = role.standards.find((s) => s.refusal === null && !taken.has(s.id));
    if (!first) return role;
    taken.add(first.id);
    return { ...role, standards: [first, ...role.standards.filter((s) => s !== first)] };
  });
}

/** What an instrument was calibrated with last: its standards by role, its choices; nothing where it never was. */
async function lastUsed(
  db: Database,
  instrumentId: string,
): Promise<{ standards: ReadonlySet<string>; choices: Record<string, string> }> {
  const run = (await log.latestFinishedRuns(db, [instrumentId])).get(instrumentId);
  const begun = run && (await log.eventsOfRun(db, run.id))[0]?.act;
  if (begun?.type !== 'run-started') return { standards: new Set(), choices: {} };
  const used = Object.entries(begun.standards).flatMap(([role, all]) => all.map((s) => `${role}|${s.id}`));
  return { standards: new Set(used), choices: begun.choices };
}

/** What is read with the standard of a role, in words. */
function readOnlyWith({ series }: ProcedureDocument, role: string): string[] {
  const reading = series.filter((s) => Object.entries(s.uses).some(([use, u]) => (u.role ?? use) === role));
  const titles = reading.map((s) =>
    s.sets.every((set) => set === 'check' || set === 'quick') ? 'the independent check' : s.title,
  );
  return [...new Set(titles)];
}

/**
 * The standards that could fill each role of each procedure that serves an instrument, each with what speaks against it. What was used
 * last time is proposed.
 */
export async function benchOptions(instrumentId: string, today: string) {
  const db = await database();
  const instrument = await register.instrumentById(db, instrumentId);
  if (!instrument) return [];
  const [procedures, standards] = await Promise.all([proceduresFor(instrument.kind), register.listStandards(db)]);
  const [timeZone, last] = await Promise.all([laboratoryZone(), lastUsed(db, instrumentId)]);
  return procedures.map(({ document }) => {
    const roles = document.standards.map((role) => ({
      role,
      standards: standards.filter((s) => role.kinds?.includes(s.kind) ?? true),
    }));
    const usable = (role: (typeof roles)[number]) => role.standards.filter((s) => standingRefusal(s, role.role, today) === null);
    /** Whether instrument and standards go together is asked of the plan itself, beside whatever else could be chosen. */
    const beside = (role: string, own: register.StandardRow[]): { refusal: string | null; caution: string | null } => {
      const others = roles.filter((r) => r.role.role !== role);
      const sets = combinations(others.map((r) => [r.role.role, usable(r).map(standardSnapshot)] as const));
      let refusal: string | null = null;
      let tried = 0;
      for (const set of sets) {
        try {
          const standards = { ...set, [role]: own.map(standardSnapshot) };
          const start = { instrument: instrumentSnapshot(instrument), standards, procedure: document, choices: {}, timeZone };
          startAct(start, today);
          return { refusal: null, caution: startCaution(start, role, today) };
        } catch (error) {
          if (!(error instanceof DocumentError)) throw error;
          const isOfAnother = error.path[0] === 'standards' && error.path[1] !== role;
          if (!isOfAnother) refusal ??= naming(own[0]!.identification, error.message);
        }
        if (++tried === mostSets) break;
      }
      return { refusal, caution: null };
    };
    const planStanding = (role: (typeof roles)[number], standard: register.StandardRow) => {
      const alone = beside(role.role.role, [standard]);
      // Where several may fill a role together, it need not serve every point alone.
      const serves = alone.refusal === null || (role.role.several && beside(role.role.role, usable(role)).refusal === null);
      return serves ? { ...alone, refusal: null } : alone;
    };
    const standingOf = (role: (typeof roles)[number], standard: register.StandardRow) => {
      const refusal = standingRefusal(standard, role.role, today);
      return refusal === null ? planStanding(role, standard) : { refusal, caution: null };
    };
    return {
      id: document.id,
      revision: document.revision,
      title: document.title,
      choices: document.choices.map((c) =>
        c.options.some((o) => o.id === last.choices[c.id]) ? { ...c, default: last.choices[c.id] } : c,
      ),
      /** How many instruments one set-up takes. */ most: document.setUp?.most ?? 1,
      roles: eachItsOwn(
        roles.map((r) => ({
          ...r.role,
          only: readOnlyWith(document, r.role.role),
          standards: r.standards
            .map((s) => ({
              id: s.id,
              identification: s.identification,
              designation: s.designation,
              due: s.due,
              ...dueStanding(s.due, today),
              ...standingOf(r, s),
              wasUsed: last.standards.has(`${r.role.role}|${s.id}`),
              rank: r.role.kinds?.indexOf(s.kind) ?? 0,
              suits:
                coversRange(s.document, instrument) &&
                statesProperties(
                  s.document,
                  r.role.properties.map((p) => p.id),
                ),
            }))
            // The plainest choice first: usable, used last time, spanning the range and stating what is asked, of the kind that the
            // procedure names first, and with the longest time left.
            .sort(
              (a, b) =>
                Number(a.refusal !== null) - Number(b.refusal !== null) ||
                Number(b.wasUsed) - Number(a.wasUsed) ||
                Number(b.suits) - Number(a.suits) ||
                a.rank - b.rank ||
                (b.due ?? '').localeCompare(a.due ?? ''),
            ),
        })),
      ),
    };
  });
}

/** Other instruments of the same kind that could be put into one set-up with this one: in use, and not on the bench. */
export async function companionsOf(instrumentId: string) {
  const db = await database();
  const instrument = await register.instrumentById(db, instrumentId);
  if (!instrument) return [];
  const [alike, open] = await Promise.all([register.instrumentsOfKind(db, instrument.kind), log.openRuns(db)]);
  const busy = new Set(open.map((r) => r.instrumentId));
  return alike
    .filter((i) => i.id !== instrumentId && i.state === 'in-use' && !busy.has(i.id))
    .map(({ id, identification, designation, nextDue }) => ({ id, identification, designation, nextDue }));
}

/**
 * Starts a run, or one for each of several instruments in one set-up: all of them or none. The client chooses the ids, so that a
 * repeated request starts them once.
 * @param who who acts, where that is known by a session or a token
 * @throws ServiceError when an instrument is on the bench already or a standard cannot be used
 */
export async function startRun(request: StartRequest, now = new Date().toISOString(), who?: Who): Promise<string> {
  const db = await database();
  return writing(db, async () => {
    const members = [{ run: request.run, instrument: request.instrument }, ...(request.setUp?.with ?? [])];
    for (const key of ['run', 'instrument'] as const)
      if (new Set(members.map((m) => m[key])).size !== members.length)
        throw new ServiceError(422, `The same ${key} stands twice in the set-up.`, ['setUp', 'with']);
    const begun: log.BegunRun[] = [];
    for (const [i, member] of members.entries()) {
      const setUp = request.setUp ? { id: request.setUp.id, place: i + 1, of: members.length } : undefined;
      const run = await begunRun(db, request, member, setUp, now, who ?? null);
      if (run) begun.push(who?.token ? { ...run, first: { ...run.first, token: who.token } } : run);
    }
    if (begun.length > 0) await log.insertRuns(db, begun);
    return request.run;
  });
}

type Member = { run: string; instrument: string };

/** A run as it begins; null where it has begun already. */
async function begunRun(
  db: Database,
  request: StartRequest,
  member: Member,
  setUp: ActOf<'run-started'>['setUp'],
  now: string,
  who: Who | null,
): Promise<log.BegunRun | null> {
  const known = await log.runById(db, member.run);
  if (known) {
    const isSame = known.instrumentId === member.instrument && known.procedureId === request.procedure;
    if (isSame && known.setUp === (setUp?.id ?? null)) return null;
    throw new ServiceError(409, 'A run with this id was started for something else. Start a new run.', ['run']);
  }
  await requirePerson(db, request.person);
  const instrument = await instrumentToStart(db, member.instrument);
  const procedure = await procedureToStart(instrument, request.procedure);
  const timeZone = await laboratoryZone();
  const today = dayIn(now, timeZone);
  const mayNot = mayWork(who, request.person, ['technician'], instrument.kind, today);
  if (mayNot) throw new ServiceError(403, mayNot.message, mayNot.path);
  const { standards, used } = await standardsToStart(db, procedure, request.standards, today);
  const act = startOf(
    {
      instrument: instrumentSnapshot(instrument),
      standards,
      procedure,
      choices: request.choices,
      ...(request.received ? { received: request.received } : {}),
      timeZone,
      ...(setUp ? { setUp } : {}),
      ...(request.looksFor === undefined ? {} : { looksFor: request.looksFor }),
      ...(request.purpose === 'quick' ? {} : await scatterBefore(db, instrument, procedure.id)),
    },
    today,
    setUp ? instrument.identification : null,
    request.purpose,
  );
  const clock = clockMark(undefined, now, clockSetBy());
  return {
    row: {
      id: member.run,
      instrumentId: instrument.id,
      procedureId: procedure.id,
      procedureRevision: procedure.revision,
      status: 'open',
      startedAt: now,
      finishedAt: null,
      certificate: null,
      isReviewed: false,
      summary: null,
      setUp: setUp?.id ?? null,
      purpose: request.purpose ?? 'calibration',
      pairs: null,
    },
    used,
    first: { sequence: 1, at: now, person: request.person, act, idempotencyKey: member.run, ...(clock ? { clock } : {}) },
  };
}

/** An instrument that may be put on the bench. */
async function instrumentToStart(db: Database, id: string): Promise<register.InstrumentRow> {
  const instrument = await register.instrumentById(db, id);
  if (!instrument) throw new ServiceError(404, 'There is no instrument with this id.', ['instrument']);
  if (instrument.state !== 'in-use')
    throw new ServiceError(409, `${instrument.identification} is marked out of use. Mark it in use before it is calibrated.`, [
      'instrument',
    ]);
  const open = await log.openRunOf(db, instrument.id);
  if (open)
    throw new ServiceError(
      409,
      `${instrument.identification} is already on the bench. Carry on with its open run.`,
      ['instrument'],
      { run: open.id },
    );
  return instrument;
}

async function procedureToStart(instrument: register.InstrumentRow, id: string): Promise<ProcedureDocument> {
  const fitting = await proceduresFor(instrument.kind);
  if (fitting.length === 0) throw new ServiceError(409, 'There is no procedure for this kind of instrument.', ['instrument']);
  const procedure = fitting.find((p) => p.document.id === id)?.document;
  if (!procedure) throw new ServiceError(409, 'This procedure is not one for this kind of instrument.', ['procedure']);
  return procedure;
}

/** The standards that were chosen, by role, as they are today. */
async function standardsToStart(db: Database, procedure: ProcedureDocument, chosen: StartRequest['standards'], today: string) {
  const used: log.RunStandard[] = [];
  const standards: Record<string, StandardSnapshot[]> = {};
  for (const [role, ids] of Object.entries(chosen)) {
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
  return { standards, used };
}

/** So many former runs tell how repeats scatter. */
const mostFormer = 3;

/** How repeats scattered as found in former runs of an instrument, else of its make and type; nothing where none were read. */
async function scatterBefore(
  db: Database,
  instrument: register.InstrumentRow,
  procedureId: string,
): Promise<Pick<Parameters<typeof startAct>[0], 'formerScatter'>> {
  const logs = await log.eventsOfRuns(db, await log.formerRuns(db, instrument, procedureId, mostFormer));
  const formerScatter = pooledScatter([...logs.values()].map((events) => scatterIn(runState(events), 'as-found')));
  return Object.keys(formerScatter).length > 0 ? { formerScatter } : {};
}

/** The first act, or the refusal in words. @param named the instrument that is meant, where there are several */
function startOf(
  start: Parameters<typeof startAct>[0],
  today: string,
  named: string | null,
  purpose: StartRequest['purpose'],
): ActOf<'run-started'> {
  try {
    return startAct(start, today, purpose);
  } catch (error) {
    if (!(error instanceof DocumentError)) throw error;
    throw new ServiceError(409, named === null ? error.message : `${named}: ${error.message}`, error.path);
  }
}
