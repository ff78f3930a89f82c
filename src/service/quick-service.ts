import { format, parseISO, subDays, subHours } from 'date-fns';
import {
  causesInOrder,
  usualCauseMinutes,
  type ChecksPage,
  type QuickBoard,
  type QuickDue,
  type QuickStart,
} from '../core/interval/checks-page';
import { checkStanding, type CheckChart } from '../core/interval/quick-checks';
import { quickRoles } from '../core/plan/quick-set';
import { codeIn } from '../core/register/label-code';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { database, type Database } from '../store/database';
import * as register from '../store/register';
import { looksForOf, openRunOf } from '../store/run-log';
import * as standings from '../store/standings';
import type { StandingLine, WantedBy } from '../store/standings';
import { deriveStandings } from './derived-service';
import { chartsOf, Histories, quickKinds, quickProcedure, rulingChart } from './interval-service';
import { benchOptions } from './start-service';
import { laboratoryZone, today } from './laboratory-time';
import { dayIn } from '../core/quantity/day-in-zone';
import { ServiceError } from './service-error';

const howOften = ({ every, unit }: NonNullable<ProcedureDocument['quick']>): string =>
  every === 1 ? (unit === 'days' ? 'each day' : 'each hour') : `every ${every} ${unit}`;

/** Up to which day, or time, the last check was made where another is wanted: no day, or as many hours, went by without one. */
const wantedBy = (kind: string, { every, unit }: NonNullable<ProcedureDocument['quick']>, now: string, day: string): WantedBy =>
  unit === 'hours'
    ? { kind, at: subHours(new Date(now), every).toISOString() }
    : { kind, day: format(subDays(parseISO(day), every), 'yyyy-MM-dd') };

/** Lines of alarms: who looks at more has other worries. */
const mostAlarms = 50;

/**
 * Quick checks that are wanted today, and those whose latest gives an alarm.
 * @param most how many lines of what is wanted
 */
export async function quickBoard(now = new Date().toISOString(), most = 200): Promise<QuickBoard> {
  const db = await database();
  const { isMore: isPending } = await deriveStandings(db);
  const day = await today(now);
  const quick = await quickKinds();
  const asked = [...quick].flatMap(([kind, often]) => (often ? [wantedBy(kind, often, now, day)] : []));
  const [alarms, wanted] = await Promise.all([
    standings.checksInAlarm(db, [...quick.keys()], mostAlarms),
    standings.wantedChecks(db, asked, most),
  ]);
  const lineOf = ({ id, identification, designation, place, kind, lastDay, standing }: StandingLine): QuickDue => {
    const often = quick.get(kind);
    const how = often ? howOften(often) : 'when asked for';
    return { id, identification, designation, place, last: lastDay, how, standing: standing ?? { state: 'none' } };
  };
  return {
    wanted: wanted.lines.map(lineOf),
    more: wanted.count - wanted.lines.length,
    alarms: alarms.map(lineOf),
    isPending,
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

/** A cause that was looked for before a check, and whether that check was quiet again. */
type Looked = { run: string; cause: string; helped: boolean };

/** What was looked for before the checks of a chart. */
async function lookedFor(db: Database, { checks, alarms }: CheckChart): Promise<Looked[]> {
  const recent = checks.slice(-mostLookedAt);
  const causes = await looksForOf(
    db,
    recent.map((c) => c.run),
  );
  return checks.flatMap((c, index): Looked[] => {
    const cause = causes.get(c.run);
    return cause === undefined ? [] : [{ run: c.run, cause, helped: !alarms.some((a) => a.index === index) }];
  });
}
const mostLookedAt = 200;

/** What a quick check of an instrument needs: its procedure, the standards that the quick set names, chosen as plainly as can be. */
export async function quickStart(instrument: register.InstrumentRow, looked: readonly Looked[] = []): Promise<QuickStart> {
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
      causes: causesInOrder(
        procedure.ruleOut.map((c) => ({
          id: c.id,
          title: c.title,
          instruction: c.instruction ?? '',
          minutes: c.minutes ?? usualCauseMinutes,
          tried: looked.filter((l) => l.cause === c.id).length,
          helped: looked.filter((l) => l.cause === c.id && l.helped).length,
          isStandards: c.whose === 'standard',
        })),
      ),
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
  const since = standing.state === 'alarm' ? (standing.lastGood?.at ?? null) : null;
  const { identification, designation, place } = row;
  const looked = await lookedFor(db, ruling);
  const start = await quickStart(row, looked);
  const latest = looked.find((l) => l.run === ruling.checks.at(-1)?.run);
  return {
    instrument: { id, identification, designation, place },
    today: day,
    charts: [...charts.values()].sort((a, b) => Number(b === ruling) - Number(a === ruling)),
    standing,
    start,
    lookedFor: latest
      ? { title: start.procedure?.causes.find((c) => c.id === latest.cause)?.title ?? latest.cause, helped: latest.helped }
      : null,
    inDoubt: standing.state === 'alarm' ? await usedSince(db, identification, since) : [],
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
