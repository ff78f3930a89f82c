import { randomInt, randomUUID } from 'node:crypto';
import { debrief as debriefOf, admittedEvent, secondsBefore } from '../bench/practice/debrief';
import { assistantsAct, displayAt, drawnFaults, type PracticeBench, type ShownLine } from '../bench/practice/practice';
import { practiceCase, practiceCases, type PracticeCase } from '../bench/practice/practice-cases';
import { practiceStart } from '../bench/practice/start-practice';
import type { AppendRequest, AssistRequest, PracticeEndRequest, PracticeRequest } from '../contract/requests';
import { admit } from '../core/acts/admit';
import { runState, withEvent } from '../core/acts/fold';
import { withPlan } from '../core/acts/plan';
import type { RecordedEvent } from '../core/acts/registry';
import { DocumentError } from '../core/faults';
import type { Debrief } from '../core/practice/debrief-shape';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { doneAt } from '../core/state/logged';
import { slotKey } from '../core/state/place-keys';
import type { RunState } from '../core/state/run-state';
import { database, isUniqueViolation, writing } from '../store/database';
import * as store from '../store/practices';
import { turns } from './interval-service';
import { procedureLibrary } from './procedure-library';
import { requirePerson } from './require-person';
import { ServiceError } from './service-error';

export type LoadedPractice = {
  row: store.PracticeRow;
  of: PracticeCase;
  events: RecordedEvent[];
  state: RunState;
};

/** Procedures of the library by their id; one that cannot be read is none. */
async function procedures(): Promise<Map<string, ProcedureDocument>> {
  const entries = await procedureLibrary();
  return new Map(entries.filter((e) => !e.fault).map((e) => [e.document.id, e.document]));
}

/** A case as it is offered, with how often a person has gone through it. */
export type OfferedCase = Pick<PracticeCase, 'id' | 'title' | 'discipline' | 'level'> & {
  procedure: string;
  solved: number;
  tried: number;
};

/** Of one person and one kind of fault: how often it was met, and found and said. */
export type Progress = { person: string; kind: string; met: number; found: number };

/** The cases, what a person has on the practice bench, and how everybody has come on. */
export async function practiceOverview(person: string): Promise<{
  cases: OfferedCase[];
  open: { id: string; title: string; startedAt: string }[];
  progress: Progress[];
  recent: { id: string; person: string; title: string; endedAt: string; isSolved: boolean }[];
}> {
  const db = await database();
  const [known, ended, open] = await Promise.all([procedures(), store.endedPractices(db), store.openPractices(db, person)]);
  const mine = ended.filter((p) => p.person === person);
  const cases = practiceCases.flatMap(({ id, title, discipline, level, procedure }): OfferedCase[] => {
    const document = known.get(procedure);
    const here = mine.filter((p) => p.caseId === id);
    return document
      ? [
          {
            id,
            title,
            discipline,
            level,
            procedure: document.title,
            tried: here.length,
            solved: here.filter((p) => p.debrief?.isSolved).length,
          },
        ]
      : [];
  });
  const counts = new Map<string, Progress>();
  for (const { person: who, debrief } of ended)
    for (const kind of debrief && debrief.faults.length === 0 ? [nothingWrong] : (debrief?.faults.map((f) => f.kind) ?? [])) {
      const told = debrief!.faults.find((f) => f.kind === kind);
      const count = counts.get(`${who}|${kind}`) ?? { person: who, kind, met: 0, found: 0 };
      count.met++;
      if (told ? told.isFound && told.isNamed : debrief!.isSolved) count.found++;
      counts.set(`${who}|${kind}`, count);
    }
  const titleOf = (id: string) => practiceCase(id)?.title ?? id;
  return {
    cases,
    open: open.map((p) => ({ id: p.id, title: titleOf(p.caseId), startedAt: p.startedAt })),
    progress: [...counts.values()],
    recent: ended.slice(0, 20).map((p) => ({
      id: p.id,
      person: p.person,
      title: titleOf(p.caseId),
      endedAt: p.endedAt!,
      isSolved: p.debrief?.isSolved ?? false,
    })),
  };
}

/** What stands for a case in which nothing was wrong, where kinds of faults are counted. */
const nothingWrong = 'nothing';

/** Puts a case on the practice bench. @throws ServiceError 404 where there is none, or its procedure is not in the library */
export async function beginPractice(
  { case: id, person, seed }: PracticeRequest,
  now = new Date().toISOString(),
): Promise<string> {
  const db = await database();
  await requirePerson(db, person);
  const of = practiceCase(id);
  const procedure = of && (await procedures()).get(of.procedure);
  if (!of || !procedure)
    throw new ServiceError(404, 'There is no such case to practise on here. Choose one from the list.', ['case']);
  const practice = randomUUID();
  await store.beginPractice(
    db,
    { id: practice, person, caseId: id, procedureId: procedure.id, seed: seed ?? randomInt(2 ** 31), startedAt: now },
    practiceStart(procedure, person, now),
  );
  return practice;
}

export async function loadPractice(id: string): Promise<LoadedPractice> {
  const db = await database();
  const row = await store.practiceById(db, id);
  const of = row && practiceCase(row.caseId);
  if (!row || !of) throw new ServiceError(404, 'There is no practice with this id. Begin one from the list.');
  const events = await store.practiceLog(db, id);
  return { row, of, events, state: runState(events) };
}

const benchOf = ({ row, of, state }: LoadedPractice): PracticeBench => ({
  procedure: row.procedureId,
  seed: row.seed,
  faults: drawnFaults(of, state.procedure, row.seed),
});

/** So far ahead of what came before an entry may be, in ms: a practice lets time pass. */
const mostPassed = 40 * 86_400_000;

/** When an entry was made by the clock of its practice: after what came before it. */
function practiceTime(request: Pick<AppendRequest, 'done'>, last: RecordedEvent, now: string): string {
  const said = request.done ? Date.parse(doneAt({ at: now, done: request.done })) : Date.parse(now);
  const before = Date.parse(doneAt(last));
  return new Date(Math.min(Math.max(said, before), before + mostPassed)).toISOString();
}

const requireOpen = ({ row }: LoadedPractice): void => {
  if (row.endedAt !== null) throw new ServiceError(409, 'This practice is over. Begin another one.');
};

/**
 * Records one act of a practice.
 * @throws ServiceError 409 with the entries the client has not seen when it is behind, 422 when the act is not admitted
 */
export async function appendToPractice(
  id: string,
  request: AppendRequest,
  now = new Date().toISOString(),
): Promise<{ event: RecordedEvent; repeated: boolean }> {
  const db = await database();
  return writing(db, async () => {
    const practice = await loadPractice(id);
    const { events, state } = practice;
    const known = await store.practiceEntryByKey(db, id, request.idempotencyKey);
    if (known !== null) return { event: events.find((e) => e.sequence === known)!, repeated: true };
    requireOpen(practice);
    requireNewest(events, request.expectedSequence);
    const at = practiceTime(request, events.at(-1)!, now);
    const event = admittedHere(state, request, at);
    await keep(id, [{ ...event, idempotencyKey: request.idempotencyKey }]);
    return { event, repeated: false };
  });
}

function requireNewest(events: readonly RecordedEvent[], expected: number): void {
  if (events.at(-1)!.sequence !== expected)
    throw new ServiceError(
      409,
      'This practice has moved on in another window. Here it is as it stands now.',
      ['expectedSequence'],
      {
        missed: events.filter((e) => e.sequence > expected),
      },
    );
}

function admittedHere(state: RunState, request: AppendRequest, at: string): RecordedEvent {
  try {
    const act = withPlan(state, request.act);
    const refusal = admit(state, act, request.person, at);
    if (refusal)
      throw new ServiceError(422, refusal.message, ['act', ...refusal.path], {
        ...(refusal.suggestion ? { suggestion: refusal.suggestion } : {}),
        ...(refusal.keepable ? { keepable: true } : {}),
      });
    return { sequence: state.sequence + 1, at, person: request.person, act };
  } catch (error) {
    if (error instanceof DocumentError) throw new ServiceError(422, error.message, ['act']);
    throw error;
  }
}

async function keep(id: string, events: (RecordedEvent & { idempotencyKey: string })[]): Promise<void> {
  try {
    await store.appendPracticeEvents(await database(), id, events);
  } catch (error) {
    if (isUniqueViolation(error)) throw new ServiceError(409, 'Something else was recorded at the same moment. Do it again.');
    throw error;
  }
}

/** What is to be seen at the bench now. @param slot the reading that is looked at, where it is not the next one */
export async function shownInPractice(id: string, slot?: string): Promise<{ sequence: number; lines: ShownLine[] }> {
  const practice = await loadPractice(id);
  const { state, events } = practice;
  const at = slot === undefined ? undefined : [...state.live.values()].find((r) => slotKey(r.slot) === slot)?.slot;
  return { sequence: state.sequence, lines: displayAt(benchOf(practice), state, doneAt(events.at(-1)!), at) };
}

/** What an assistant does: the next thing, or everything up to the next decision. It never decides. */
export async function assistInPractice(
  id: string,
  { person, expectedSequence, until }: AssistRequest,
): Promise<{ events: RecordedEvent[] }> {
  const db = await database();
  return writing(db, async () => {
    const practice = await loadPractice(id);
    requireOpen(practice);
    requireNewest(practice.events, expectedSequence);
    const bench = benchOf(practice);
    const made: RecordedEvent[] = [];
    let { state } = practice;
    let clock = Date.parse(doneAt(practice.events.at(-1)!));
    while (made.length < mostAtOnce) {
      clock += handsTake;
      const entry = assistantsAct(bench, state, new Date(clock).toISOString());
      if (!entry) break;
      clock += 1000 * secondsBefore(state, entry);
      const event = admittedEvent(state, state.sequence + 1, entry, person, new Date(clock).toISOString());
      made.push(event);
      state = withEvent(state, event);
      if (until === 'next') break;
    }
    await keep(
      id,
      made.map((event) => ({ ...event, idempotencyKey: randomUUID() })),
    );
    return { events: made };
  });
}
const mostAtOnce = 600;
/** What the hands of an assistant need for anything, in ms. */
const handsTake = 30_000;

/** Ends a practice and tells how it went. What was told once stays told. */
export async function endPractice(id: string, { named }: PracticeEndRequest, now = new Date().toISOString()): Promise<Debrief> {
  const practice = await loadPractice(id);
  if (practice.row.debrief) return practice.row.debrief;
  const debrief = await debriefOf(benchOf(practice), practice.events, named, turns());
  await store.endPractice(await database(), id, now, debrief);
  return debrief;
}
