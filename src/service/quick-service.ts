import { addDays, addHours, parseISO } from 'date-fns';
import type { ChecksPage, QuickBoard, QuickStart } from '../core/interval/checks-page';
import { checkStanding } from '../core/interval/quick-checks';
import { quickRoles } from '../core/plan/quick-set';
import { codeIn } from '../core/register/label-code';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { database, type Database } from '../store/database';
import * as intervals from '../store/intervals';
import * as register from '../store/register';
import { openRunOf, openRuns } from '../store/run-log';
import { chartsOf, Histories, quickProcedure, rulingChart } from './interval-service';
import { benchOptions } from './start-service';
import { laboratoryZone, today } from './laboratory-time';
import { dayIn } from '../core/quantity/day-in-zone';
import { ServiceError } from './service-error';

const howOften = ({ every, unit }: NonNullable<ProcedureDocument['quick']>): string =>
  every === 1 ? (unit === 'days' ? 'each day' : 'each hour') : `every ${every} ${unit}`;

/** Whether a check is wanted: no day, or as many hours, went by without one. */
function isWanted(
  { every, unit }: NonNullable<ProcedureDocument['quick']>,
  last: string | null,
  now: string,
  zone: string,
): boolean {
  if (last === null) return true;
  if (unit === 'hours') return addHours(new Date(last), every) <= new Date(now);
  return addDays(parseISO(dayIn(last, zone)), every) <= parseISO(dayIn(now, zone));
}

/** Quick checks that are wanted today, and those whose latest rings. */
export async function quickBoard(now = new Date().toISOString()): Promise<QuickBoard> {
  const db = await database();
  const [inUse, latest, zone, open] = await Promise.all([
    intervals.instrumentsInUse(db),
    intervals.latestQuickRuns(db),
    laboratoryZone(),
    openRuns(db),
  ]);
  const kinds = new Map<string, ProcedureDocument | undefined>();
  for (const kind of new Set(inUse.map((i) => i.kind))) kinds.set(kind, await quickProcedure(kind));
  // What lies on the bench is being looked at anyway.
  const onBench = new Set(open.map((r) => r.instrumentId));
  const checked = inUse.filter((i) => kinds.get(i.kind) && !onBench.has(i.id));
  const withChecks = checked.filter((i) => latest.has(i.id));
  const renewed = new Map<string, string>();
  for (const row of await intervals.calibrationsOf(
    db,
    withChecks.map((i) => i.id),
  ))
    if (row.summary?.adjusted) renewed.set(row.instrumentId, dayIn(row.finishedAt, zone));
  const charts = await chartsOf(db, withChecks, (id) => renewed.get(id));
  const lines = checked.map((i) => {
    const often = kinds.get(i.kind)!.quick;
    const last = latest.get(i.id) ?? null;
    const { id, identification, designation, place } = i;
    const standing = checkStanding(rulingChart(charts.get(id) ?? new Map()));
    // A calibration since then has answered what rang.
    const isAnswered = last !== null && (i.lastCalibrated ?? '') > dayIn(last, zone);
    return {
      // Where it was never calibrated there is nothing yet to be watched.
      wanted: often !== undefined && i.lastCalibrated !== null && isWanted(often, last, now, zone),
      line: {
        id,
        identification,
        designation,
        place,
        last: last && dayIn(last, zone),
        how: often ? howOften(often) : 'when asked for',
        standing,
      },
      rings: standing.state === 'rings' && !isAnswered,
    };
  });
  return {
    wanted: lines.filter((l) => l.wanted && !l.rings).map((l) => l.line),
    ringing: lines.filter((l) => l.rings).map((l) => l.line),
  };
}

/** The instrument that a label is on. @throws ServiceError when there is none */
export async function instrumentByCode(text: string): Promise<register.InstrumentRow> {
  const code = codeIn(text.slice(0, 300));
  const db = await database();
  const instrument =
    (await register.instrumentByIdentification(db, code)) ?? (await register.instrumentByIdentification(db, code.toUpperCase()));
  if (!instrument)
    throw new ServiceError(404, `No instrument is called “${code}”. Look at its label, and type it as it stands there.`, [
      'code',
    ]);
  return instrument;
}

/** What a quick check of an instrument needs: its procedure, the standards that the quick set names, chosen as plainly as can be. */
export async function quickStart(instrument: register.InstrumentRow): Promise<QuickStart> {
  const db = await database();
  const open = await openRunOf(db, instrument.id);
  const procedure = await quickProcedure(instrument.kind);
  if (!procedure) return { open: open?.id ?? null, purpose: open?.purpose ?? null, procedure: null, standards: [] };
  const wanted = quickRoles(procedure);
  const option = (await benchOptions(instrument.id, await today())).find((o) => o.id === procedure.id);
  const roles = (option?.roles ?? []).filter((r) => wanted.has(r.role));
  const standards = roles.map((r) => {
    const first = r.standards.find((s) => s.refusal === null && s.suits) ?? r.standards.find((s) => s.refusal === null);
    return {
      role: r.role,
      title: r.title,
      standard: first ? { id: first.id, identification: first.identification, designation: first.designation } : null,
      refusal: first ? null : (r.standards[0]?.refusal ?? 'None is registered.'),
    };
  });
  return {
    open: open?.id ?? null,
    purpose: open?.purpose ?? null,
    procedure: {
      id: procedure.id,
      title: procedure.title,
      statement: procedure.quick?.statement ?? null,
      how: procedure.quick ? howOften(procedure.quick) : null,
      causes: [...procedure.ruleOut]
        .sort((a, b) => Number(b.whose === 'standard') - Number(a.whose === 'standard'))
        .map((c) => ({ title: c.title, instruction: c.instruction ?? '' })),
    },
    standards,
  };
}

/** Everything that the page of an instrument's quick checks says. */
export async function checksOf(id: string): Promise<ChecksPage> {
  const db = await database();
  const { histories, instrument: row } = await Histories.of(id);
  const day = await today();
  const charts = (await chartsOf(db, [row], histories.renewedOn)).get(id)!;
  const ruling = rulingChart(charts);
  const standing = checkStanding(ruling);
  const since = standing.state === 'rings' ? (standing.lastGood?.at ?? null) : null;
  const { identification, designation, place } = row;
  return {
    instrument: { id, identification, designation, place },
    today: day,
    charts: [...charts.values()].sort((a, b) => Number(b === ruling) - Number(a === ruling)),
    standing,
    start: await quickStart(row),
    inDoubt: standing.state === 'rings' ? await usedSince(db, identification, since) : [],
  };
}

/** Calibrations that used an instrument as a standard since a time. */
async function usedSince(db: Database, identification: string, since: string | null) {
  const standard = await register.standardByIdentification(db, identification);
  if (!standard) return [];
  const zone = await laboratoryZone();
  const runs = await register.runsWithStandard(db, standard.id);
  return runs
    .filter((r) => since === null || r.startedAt >= since)
    .map((r) => ({ run: r.id, certificate: r.certificate, identification: r.identification, day: dayIn(r.startedAt, zone) }));
}
