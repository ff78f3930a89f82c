import { appendCard } from '../src/store/cards';
import { cardOfModel } from './model-cards';
import type { RecordedEvent } from '../src/core/acts/registry';
import { runState } from '../src/core/acts/fold';
import { addDays, differenceInCalendarDays, format, parseISO, subMonths } from 'date-fns';
import type { ProcedureDocument } from '../src/core/procedure/document-schema';
import { readDocument } from '../src/core/document/read-document';
import { caseOf } from '../src/core/state/run-case';
import { pairsOfRun } from '../src/core/run/run-pairs';
import { dayIn } from '../src/core/quantity/day-in-zone';
import { isQuickCheck, type RunState } from '../src/core/state/run-state';
import { summarizeRun } from '../src/core/run/run-summary';
import { instrumentSnapshot, withIssued } from '../src/service/run-service';
import { saveBudget } from '../src/store/budget-store';
import type { Database } from '../src/store/database';
import {
  addFormerCertificate,
  listProcedures,
  saveInstrument,
  saveLaboratory,
  savePerson,
  saveStandard,
  type InstrumentRow,
} from '../src/store/register';
import { digestOfNew } from '../src/store/log-seals';
import { insertWholeRun, type RunStandard } from '../src/store/run-log';
import { appendCount, appendOuting, appendPolicy } from '../src/store/intervals';
import { checkDays, outNow, policies, quickStories, shownOff, strokesInAMonth } from './between';
import { families } from '../src/bench/works/families';
import { instruments, type DemoInstrument } from '../src/bench/works/instruments';
import { seededRandom } from '../src/bench/random';
import { instrumentRow, standardsOn } from '../src/bench/works/register-rows';
import { simulateRun, simulateSetUp, type SimulationOptions } from '../src/bench/simulated-run';
import { documentOn, standards } from '../src/bench/works/standards';
import { windChests } from '../src/bench/works/wind-chests';
import type { Truth } from '../src/bench/truths';
import { letIn } from '../src/service/sign-in/demo-people';
import { access, budgets, demoPassword, laboratory, people } from './works';

const day = (date: Date): string => format(date, 'yyyy-MM-dd');

/** Days on which the past runs were made, oldest first, so that the last one leads to the wanted due date. */
function pastDays(demo: DemoInstrument, months: number, today: string, random: () => number): string[] {
  const last = subMonths(addDays(parseISO(today), demo.dueInDays), months);
  return Array.from({ length: demo.runs }, (_, i) =>
    day(addDays(subMonths(last, months * (demo.runs - 1 - i)), i === demo.runs - 1 ? 0 : Math.round(20 * (random() - 0.3)))),
  );
}

const usedBy = (demo: DemoInstrument): RunStandard[] =>
  Object.entries(demo.standards).flatMap(([role, ids]) => ids.map((standardId) => ({ role, standardId })));

/** The id of the run on the bench of an instrument: its own, as far as it can be written in hexadecimal digits. */
const runOf = (instrument: string): string =>
  `00000000-0000-4000-8000-${instrument
    .replace(/[^a-z0-9]/g, '')
    .replace(/[g-z]/g, 'a')
    .padStart(12, '0')}`;

/** A run that took longer than was thought began earlier. */
function notLaterThan(events: RecordedEvent[], latest: number): RecordedEvent[] {
  const over = Math.max(0, Date.parse(events.at(-1)!.at) - latest);
  return events.map((e) => ({ ...e, at: new Date(Date.parse(e.at) - over).toISOString() }));
}

/** What the works have written of their models, each once. */
async function seedCards(db: Database, today: string): Promise<void> {
  const written = new Set<string>();
  for (const { kind, procedure, row } of instruments) {
    const lines = cardOfModel(procedure, row.designation);
    if (lines.length === 0 || written.has(`${kind}|${row.designation}`)) continue;
    written.add(`${kind}|${row.designation}`);
    await appendCard(db, { kind, model: row.designation, lines, at: `${today}T06:00:00.000Z`, person: people[0]! });
  }
}

/** Makes the demo of a day the same each time. */
const seed = 1758;

type Played = { demo: DemoInstrument; date: string; play: (certificate: string) => ReturnType<typeof simulateRun> };

/**
 * Fills an empty database with the invented works: the same for the same day and seed.
 * @param today ISO day the demo is made on @param onRun told after each of the finished calibrations how many there are, of how many
 */
export async function seedDemo(db: Database, today: string, onRun?: (done: number, of: number) => Promise<void>): Promise<void> {
  const procedures = new Map(
    (await listProcedures(db)).reverse().map((row): [string, ProcedureDocument] => [row.id, readDocument(row.document)]),
  );
  if (procedures.size === 0) throw new Error('The procedures must be in the library before the demo is made.');
  await saveLaboratory(db, { ...laboratory, timeZone: null });
  for (const [i, name] of people.entries()) await savePerson(db, { id: `person-${i + 1}`, name });
  await letIn(db, access, demoPassword, `${today}T06:00:00.000Z`);
  await seedStandards(db, today);
  for (const [i, document] of budgets.entries())
    await saveBudget(db, { id: `budget-${i + 1}`, document, changedAt: `${today}T06:00:00.000Z` });

  const rows = new Map<string, InstrumentRow>();
  const truths = new Map<string, Truth>();
  const past: Played[] = [];
  for (const [index, demo] of instruments.entries()) {
    const random = seededRandom(seed + index * 7919 + (demo.draw ?? 0));
    const truth = demo.truth(random);
    const row = instrumentRow(demo);
    rows.set(row.id, row);
    truths.set(row.id, truth);
    const procedure = procedures.get(demo.procedure)!;
    const months = row.intervalMonths ?? procedure.interval?.months ?? 12;
    for (const [i, date] of pastDays(demo, months, today, random).entries())
      past.push({ demo, date, play: (certificate) => played(demo, i, date, certificate, random) });
  }

  function played(demo: DemoInstrument, index: number, date: string, certificate: string, random: () => number) {
    const row = rows.get(demo.row.identification.toLowerCase())!;
    const truth = truths.get(row.id)!;
    truth.ages(random);
    if (index === demo.spoilsBefore) truth.spoil();
    const hour = String(7 + Math.floor(3 * random())).padStart(2, '0');
    const minute = String(Math.floor(60 * random())).padStart(2, '0');
    return play(demo, row, truth, date, {
      start: `${date}T${hour}:${minute}:00.000Z`,
      technician: people[Math.floor(2 * random())]!,
      reviewer: differenceInCalendarDays(parseISO(today), parseISO(date)) > 60 ? people[2]! : null,
      certificate,
      random,
    });
  }

  const startOf = (demo: DemoInstrument, row: InstrumentRow, date: string) => ({
    instrument: instrumentSnapshot(row),
    standards: standardsOn(demo, today, date),
    procedure: procedures.get(demo.procedure)!,
    choices: demo.choices,
    timeZone: 'UTC',
  });

  function play(
    demo: DemoInstrument,
    row: InstrumentRow,
    truth: Truth,
    date: string,
    options: Omit<SimulationOptions, 'issued'>,
  ) {
    return simulateRun(startOf(demo, row, date), truth, {
      ...options,
      issued: (state, event, before) => withIssued(state, event, laboratory, digestOfNew(before)),
    });
  }

  // Certificates are numbered in the order of their days, whatever instrument they are for; one instrument's runs stay in order.
  // The wind chests came into the works' care with their papers: they are numbered after the rest.
  const isLate = (p: Played) => Number(windChests.includes(p.demo));
  past.sort((a, b) => isLate(a) - isLate(b) || a.date.localeCompare(b.date));
  for (const row of rows.values()) await saveInstrument(db, row);
  await seedCards(db, today);
  const numbers = new Map<string, number>();
  for (const [i, { demo, date, play: playOne }] of past.entries()) {
    const year = date.slice(2, 4);
    numbers.set(year, (numbers.get(year) ?? 0) + 1);
    const { events, state } = playOne(`C${year}-${String(numbers.get(year)).padStart(4, '0')}`);
    await storeRun(db, demo, events, state, `00000000-0000-4000-8000-${String(i + 1).padStart(12, '0')}`);
    const row = rows.get(state.instrument.id)!;
    row.lastCalibrated = dayIn(state.completed!.at, state.timeZone);
    row.nextDue = state.interval!.next;
    row.stored = caseOf(state, state.sets.at(-1)!.id).stored;
    await onRun?.(i + 1, past.length);
  }
  for (const row of rows.values()) await saveInstrument(db, row);

  // On the bench: each shape at another place of its work.
  const random = seededRandom(seed + 1);
  const taken = (state: RunState) => [...state.live.values()].length;
  const open = async (
    id: string,
    minutesAgo: number,
    isEnough: (state: RunState) => boolean,
    { spoils = false, run = runOf(id) } = {},
  ) => {
    const demo = instruments.find((d) => d.row.identification.toLowerCase() === id)!;
    const truth = truths.get(id)!;
    if (spoils) truth.spoil();
    const start = new Date(Date.now() - minutesAgo * 60_000).toISOString();
    const { events } = play(demo, rows.get(id)!, truth, today, {
      start,
      technician: people[0]!,
      reviewer: null,
      certificate: 'later',
      random,
      isEnough,
    });
    const moved = notLaterThan(events, Date.now() - 60_000);
    await storeRun(db, demo, moved, runState(moved), run);
  };
  await open('qm-0118', 125, (s) => taken(s) >= 13, { spoils: true });
  await open('qm-0131', 31, (s) => [...s.waits.values()].some((w) => !w.ended));
  await open('qt-11', 150, (s) => taken(s) >= 23);
  await open('qb-02', 70, (s) => taken(s) >= 20, { spoils: true });
  await open('qp-21', 55, (s) => taken(s) >= 13, { spoils: true });
  await open('qc-31', 95, (s) => taken(s) >= 9);
  await open('qr-05', 80, (s) => taken(s) >= 11);
  await open('ha-st-1', 90, (s) => taken(s) >= 10);
  await open('qh-08', 400, (s) => [...s.waits.values()].some((w) => !w.ended));
  await open('qw-01', 345, (s) => taken(s) >= 26);
  await open('qs-03', 88, (s) => taken(s) >= 4);
  await open('qe-12', 135, (s) => taken(s) >= 14);
  await open('qg-02', 62, (s) => taken(s) >= 5);
  for (const [i, { open: now }] of families.entries())
    await open(now.instrument, now.minutesAgo, (s) => taken(s) >= now.readings, {
      run: `00000000-0000-4000-8001-${String(i + 1).padStart(12, '0')}`,
    });

  // Three thermometers in one bath, the first of its temperatures half read.
  const inOneBath = ['qt-21', 'qt-22', 'qt-23'].map((id) => instruments.find((d) => d.row.identification.toLowerCase() === id)!);
  const logs = simulateSetUp(
    inOneBath.map((demo, i) => ({
      start: {
        ...startOf(demo, rows.get(demo.row.identification.toLowerCase())!, today),
        setUp: { id: '00000000-0000-4000-8002-000000000001', place: i + 1, of: inOneBath.length },
      },
      truth: truths.get(demo.row.identification.toLowerCase())!,
    })),
    {
      start: new Date(Date.now() - 150 * 60_000).toISOString(),
      technician: people[0]!,
      reviewer: null,
      certificate: 'later',
      random,
      isEnough: (s) => [...s.live.values()].filter((r) => r.slot.series === 'error').length >= 15,
      issued: (_state, event) => event,
    },
  );
  const latest = Math.max(...logs.map((events) => Date.parse(events.at(-1)!.at)));
  for (const [i, demo] of inOneBath.entries()) {
    const events = notLaterThan(logs[i]!, Date.now() - 60_000 - (latest - Date.parse(logs[i]!.at(-1)!.at)));
    await storeRun(db, demo, events, runState(events), `00000000-0000-4000-8002-00000000000${i + 2}`);
  }

  await seedBetween(db, today);
  for (const [s, story] of quickStories.entries()) {
    const demo = instruments.find((d) => d.row.identification.toLowerCase() === story.instrument)!;
    for (const [i, date] of checkDays(story, today).entries()) {
      const { events, state } = play(
        demo,
        rows.get(story.instrument)!,
        shownOff(truths.get(story.instrument)!, story.off(i)),
        date,
        {
          start: `${date}T06:40:00.000Z`,
          technician: people[i % 2]!,
          reviewer: null,
          certificate: 'quick check',
          random,
          purpose: 'quick',
        },
      );
      await storeRun(db, demo, events, state, `00000000-0000-4000-8003-${String(100 * s + i + 1).padStart(12, '0')}`);
    }
  }
}

/** What is kept beside the runs: policies, what counters showed, and what is out. */
async function seedBetween(db: Database, today: string): Promise<void> {
  for (const set of policies) await appendPolicy(db, { ...set, at: `${today}T06:00:00.000Z`, person: people[2]! });
  for (const [instrumentId, strokes] of Object.entries(strokesInAMonth))
    for (let month = 12; month >= 0; month--)
      await appendCount(db, {
        instrumentId,
        day: day(subMonths(parseISO(today), month)),
        count: 100 * Math.round((strokes * (14 - month)) / 100),
        at: `${today}T06:00:00.000Z`,
        person: people[1]!,
      });
  const at = new Date(Date.now() - 5.5 * 3_600_000).toISOString();
  for (const [instrumentId, place] of Object.entries(outNow))
    await appendOuting(db, { instrumentId, what: 'out', place, at, person: people[1]! }, null);
}

async function seedStandards(db: Database, today: string): Promise<void> {
  for (const standard of standards) {
    const document = documentOn(standard, today, today);
    const { id, place } = standard;
    const { identification, kind, designation } = document;
    await saveStandard(
      db,
      { id, identification, kind, designation, place, due: document.certificate?.due ?? null, document },
      today,
    );
    if (!standard.certificate) continue;
    const before = day(addDays(parseISO(document.certificate!.date), -1));
    await addFormerCertificate(db, id, document.certificate!.date, documentOn(standard, today, before));
  }
}

async function storeRun(db: Database, demo: DemoInstrument, events: RecordedEvent[], state: RunState, id: string): Promise<void> {
  await insertWholeRun(
    db,
    {
      id,
      instrumentId: state.instrument.id,
      procedureId: state.procedure.id,
      procedureRevision: state.procedure.revision,
      status: state.completed ? 'finished' : 'open',
      startedAt: state.startedAt,
      finishedAt: state.completed?.at ?? null,
      certificate: isQuickCheck(state) ? null : (state.completed?.certificate ?? null),
      isReviewed: state.reviewed !== null || isQuickCheck(state),
      summary: state.completed ? summarizeRun(state) : null,
      setUp: state.setUp?.id ?? null,
      purpose: isQuickCheck(state) ? 'quick' : 'calibration',
      pairs: state.completed ? pairsOfRun(state) : null,
    },
    usedBy(demo),
    events.map((e) => ({ ...e, idempotencyKey: `${id}:${e.sequence}` })),
  );
}
