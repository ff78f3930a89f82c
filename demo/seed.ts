import { addDays, addMonths, differenceInCalendarDays, format, parseISO, subMonths } from 'date-fns';
import { certificateOf } from '../src/core/certificate/certificate';
import type { RecordedEvent } from '../src/core/run/event-schema';
import { runState } from '../src/core/run/run-state';
import { summarizeRun } from '../src/core/run/run-summary';
import type { Procedure } from '../src/core/procedure/procedure-schema';
import { instrumentSnapshot, standardSnapshot } from '../src/service/run-service';
import type { Database } from '../src/store/database';
import {
  newestProcedureFor,
  saveInstrument,
  saveLaboratory,
  savePerson,
  saveStandard,
  type InstrumentRow,
  type StandardRow,
} from '../src/store/register';
import { saveBudget } from '../src/store/budget-shelf';
import { insertWholeRun } from '../src/store/run-log';
import { normalDeviate, seededRandom } from './random';
import { simulateRun, type Truth } from './simulated-run';
import { budgets, certifiedBlocks, instruments, laboratory, people, standards, type DemoInstrument } from './works';

const day = (date: Date): string => format(date, 'yyyy-MM-dd');

function instrumentRow(demo: DemoInstrument): InstrumentRow {
  return {
    id: demo.identification.toLowerCase(),
    identification: demo.identification,
    kind: 'outside-micrometer',
    designation: demo.designation,
    owner: demo.owner,
    place: demo.place,
    rangeLower: demo.lower,
    rangeUpper: demo.lower + 25,
    calibratedLower: demo.lower,
    calibratedUpper: demo.lower + 25,
    resolution: 0.001,
    maximumPermissibleError: demo.mpe,
    adjustmentAllowed: demo.adjustable,
    intervalMonths: demo.months,
    state: 'in-use',
    lastCalibrated: null,
    nextDue: null,
  };
}

/** Days on which the past runs were made, oldest first, so that the last one leads to the wanted due date. */
function pastDays(demo: DemoInstrument, today: string, random: () => number): string[] {
  const months = demo.months ?? 12;
  const last = subMonths(addDays(parseISO(today), demo.dueInDays), months);
  return Array.from({ length: demo.runs }, (_, i) =>
    day(addDays(subMonths(last, months * (demo.runs - 1 - i)), i === demo.runs - 1 ? 0 : Math.round(20 * (random() - 0.3)))),
  );
}

/** The certificate a standard had on a day in the past: each set has been recertified every two years. */
function standardOn(row: StandardRow, date: string): StandardRow {
  if (date >= row.certificateDate) return row;
  let issued = parseISO(row.certificateDate);
  while (day(issued) > date) issued = subMonths(issued, 24);
  return {
    ...row,
    certificateDate: day(issued),
    due: day(addMonths(issued, 24)),
    certificateNumber: `${row.certificateNumber.split(/[ /-]/)[0]} ${format(issued, 'yy')}-${format(issued, 'MMdd')}`,
  };
}

type PastRun = { instrument: InstrumentRow; events: RecordedEvent[]; standard: StandardRow };

/**
 * Fills an empty database with the invented works: the same for the same day and seed.
 * @param today ISO day the demo is made on
 */
export async function seedDemo(db: Database, today: string, seed = 1758): Promise<void> {
  const procedure = (await newestProcedureFor(db, 'outside-micrometer'))?.document;
  if (!procedure) throw new Error('The procedures must be on the shelf before the demo is made.');
  await saveLaboratory(db, { ...laboratory, timeZone: null });
  for (const [i, name] of people.entries()) await savePerson(db, { id: `person-${i + 1}`, name });

  const standardRows = standards.map((s): StandardRow => ({
    id: s.id,
    identification: s.identification,
    kind: 'gauge-block-set',
    designation: s.designation,
    place: s.place,
    certificateIssuer: s.issuer,
    certificateNumber: s.number,
    certificateDate: day(addDays(parseISO(today), -s.issuedDaysAgo)),
    due: day(addDays(parseISO(today), s.dueInDays)),
  }));
  const blocks = standards.map((s) => certifiedBlocks(s.nominals, s.seed, s.id));
  for (const [i, row] of standardRows.entries()) await saveStandard(db, row, blocks[i]!);

  for (const [i, document] of budgets.entries())
    await saveBudget(db, { id: `budget-${i + 1}`, document, changedAt: `${today}T06:00:00.000Z` });

  const past: PastRun[] = [];
  const truths = new Map<string, Truth>();
  const rows = new Map<string, InstrumentRow>();
  for (const [index, demo] of instruments.entries()) {
    const random = seededRandom(seed + index * 7919);
    const row = instrumentRow(demo);
    rows.set(row.id, row);
    let truth: Truth = {
      zero: 0.0007 * normalDeviate(random),
      slope: 0.00004 * normalDeviate(random),
      periodic: 0.0004 + 0.0005 * random(),
      phase: 6 * random(),
      repeatability: 0.0002 + 0.0003 * random(),
    };
    const drift = 0.00045 * normalDeviate(random);
    for (const date of pastDays(demo, today, random)) {
      truth = {
        ...truth,
        zero: truth.zero + drift + 0.0008 * normalDeviate(random),
        slope: truth.slope + 0.00001 * normalDeviate(random),
      };
      const standard = standardOn(standardRows[0]!, date);
      const start = `${date}T${String(7 + Math.floor(5 * random())).padStart(2, '0')}:${String(Math.floor(60 * random())).padStart(2, '0')}:00.000Z`;
      const reviewed = {
        technician: people[Math.floor(2 * random())]!,
        reviewer: differenceInCalendarDays(parseISO(today), parseISO(date)) > 60 ? people[2]! : null,
      };
      const run = simulateRun(instrumentSnapshot(row), standardSnapshot(standard, blocks[0]!), procedure, truth, {
        start,
        ...reviewed,
        certificate: 'later',
        random,
      });
      truth = run.truth;
      past.push({ instrument: { ...row }, events: run.events, standard });
      row.lastCalibrated = date;
      row.nextDue = runState(run.events).interval!.next;
    }
    truths.set(row.id, truth);
  }
  for (const row of rows.values()) await saveInstrument(db, row);

  past.sort((a, b) => a.events[0]!.at.localeCompare(b.events[0]!.at));
  const numbers = new Map<string, number>();
  for (const [i, run] of past.entries()) {
    const year = run.events[0]!.at.slice(2, 4);
    numbers.set(year, (numbers.get(year) ?? 0) + 1);
    await storeRun(
      db,
      run,
      procedure,
      `C${year}-${String(numbers.get(year)).padStart(4, '0')}`,
      `00000000-0000-4000-8000-${String(i + 1).padStart(12, '0')}`,
    );
  }
  await seedOpenRuns(db, rows, truths, standardRows, blocks, procedure, seed);
}

async function storeRun(db: Database, run: PastRun, procedure: Procedure, certificate: string | null, id: string): Promise<void> {
  const events = run.events.map((e): RecordedEvent =>
    e.act.type === 'run-completed' && certificate ? { ...e, act: { ...e.act, certificate } } : e,
  );
  const state = runState(events);
  await insertWholeRun(
    db,
    {
      id,
      instrumentId: run.instrument.id,
      standardId: run.standard.id,
      procedureId: procedure.id,
      procedureRevision: procedure.revision,
      status: state.completed ? 'finished' : 'open',
      startedAt: state.startedAt,
      finishedAt: state.completed?.at ?? null,
      certificate: state.completed ? certificate : null,
      isReviewed: state.reviewed !== null,
      summary: state.completed ? summarizeRun(state) : null,
    },
    events.map((e) => ({ ...e, idempotencyKey: `${id}:${e.sequence}` })),
    state.completed ? certificateOf(state, laboratory) : undefined,
  );
}

/** One run half-way through its as-found readings, and one whose instrument lies soaking. */
async function seedOpenRuns(
  db: Database,
  rows: Map<string, InstrumentRow>,
  truths: Map<string, Truth>,
  standardRows: StandardRow[],
  blocks: ReturnType<typeof certifiedBlocks>[],
  procedure: Procedure,
  seed: number,
): Promise<void> {
  const random = seededRandom(seed + 1);
  const open = (id: string, minutesAgo: number, cut: (events: RecordedEvent[]) => RecordedEvent[], runId: string) => {
    const instrument = rows.get(id)!;
    const start = new Date(Date.now() - minutesAgo * 60_000).toISOString();
    const { events } = simulateRun(
      instrumentSnapshot(instrument),
      standardSnapshot(standardRows[0]!, blocks[0]!),
      procedure,
      { ...truths.get(id)!, zero: -0.0031 },
      { start, technician: people[0]!, reviewer: null, certificate: 'later', random, stopAfterReadings: 13 },
    );
    return storeRun(db, { instrument, events: cut(events), standard: standardRows[0]! }, procedure, null, runId);
  };
  await open('qm-0118', 125, (events) => events, '00000000-0000-4000-8000-0000000a0118');
  await open(
    'qm-0131',
    31,
    (events) => events.slice(0, events.findIndex((e) => e.act.type === 'soak-started') + 1),
    '00000000-0000-4000-8000-0000000a0131',
  );
}
