import Papa from 'papaparse';
import { historyPoints, type InstrumentHistory } from '../core/interval/history';
import { hoursBetween } from '../core/interval/use';
import { dayIn, momentIn } from '../core/quantity/day-in-zone';
import { plainDecimal } from '../core/quantity/rounding';
import { database } from '../store/database';
import * as intervals from '../store/intervals';
import type * as register from '../store/register';
import { chartsOf, Histories } from './interval-service';
import { today } from './laboratory-time';
import { LeastUsed } from './least-used';
import { proceduresFor } from './procedure-library';

const outSince = ({ at, person, place }: intervals.Outing, zone: string, now: string): InstrumentHistory['out'] => ({
  since: momentIn(at, zone).slice(0, -3),
  hours: hoursBetween(at, now),
  person,
  place,
});

type Told = Pick<InstrumentHistory, 'proposals'> & ReturnType<typeof historyPoints>;

/** What was worked out of histories, as long as nothing of their kind has changed. */
const told = new WeakMap<Histories, LeastUsed<Told>>();
const mostTold = 200;

/** What is worked out of a history: the dates that are proposed, and where each value is expected. */
async function toldOf(histories: Histories, instrument: register.InstrumentRow, day: string): Promise<Told> {
  const db = await database();
  const { id, kind } = instrument;
  const [counts, procedures] = await Promise.all([intervals.countsOf(db, [id]), proceduresFor(kind)]);
  const kept = told.get(histories) ?? new LeastUsed<Told>(mostTold);
  told.set(histories, kept);
  const key = JSON.stringify([id, day, counts, procedures.map(({ document: d }) => [d.id, d.revision])]);
  const known = kept.get(key);
  if (known) return known;
  const [proposals, visits, charts] = await Promise.all([
    histories.proposals([instrument], day),
    histories.fullVisits([id]),
    chartsOf(db, [instrument], histories.renewedOn),
  ]);
  const proposed = proposals.get(id)!;
  const dates = proposed.all.flatMap((p) => (p.date === null ? [] : [p.date]));
  const until = [...dates, day].sort().at(-1)!;
  const checks = new Map([...charts.get(id)!].map(([series, chart]) => [series, chart.checks]));
  const { policy } = histories.policyOf(instrument);
  const made = { proposals: proposed, ...historyPoints(visits.get(id)!, policy, until, checks) };
  kept.set(key, made);
  return made;
}

/** Everything that the page of an instrument says of its history. */
export async function historyOf(id: string, now = new Date().toISOString()): Promise<InstrumentHistory> {
  const db = await database();
  const { histories, instrument } = await Histories.of(id);
  const day = await today(now);
  const { policy } = histories.policyOf(instrument);
  const [worked, counts, moves, outing] = await Promise.all([
    toldOf(histories, instrument, day),
    intervals.countsOf(db, [id]),
    intervals.movesOf(db, id),
    intervals.latestOuting(db, id),
  ]);
  return {
    today: day,
    target: policy.target,
    kin: histories.kinOf(instrument),
    ...worked,
    counts: counts.map(({ day: on, count }) => ({ day: on, count })),
    useUnit: policy.use?.unit ?? null,
    out: outing?.what === 'out' ? outSince(outing, histories.zone, now) : null,
    moves: moves.map(({ before, after, reason, at, person }) => ({
      before,
      after,
      reason,
      day: dayIn(at, histories.zone),
      person,
    })),
  };
}

/** Text of a person is never read as a formula by whatever opens the table. */
const plainCell = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

/** The whole history of an instrument as a table: a line for each value of each calibration. */
export async function historyTable(id: string): Promise<{ identification: string; csv: string }> {
  const { histories, instrument } = await Histories.of(id);
  const visits = (await histories.fullVisits([id])).get(id)!;
  const number = (n: number | null | undefined) => (n === null || n === undefined ? '' : plainDecimal(Number(n.toPrecision(12))));
  const rows = visits.flatMap((v) =>
    v.pairs.map((p) => ({
      instrument: plainCell(instrument.identification),
      day: v.day,
      run: v.run,
      result: plainCell(p.what),
      point: plainCell(p.point),
      unit: plainCell(p.unit),
      found: number(p.found?.value),
      'found U': number(p.found?.expandedUncertainty),
      left: number((p.left ?? p.found)?.value),
      'left U': number((p.left ?? p.found)?.expandedUncertainty),
      adjusted: p.found && p.left ? 'yes' : 'no',
      'lower limit': number((p.left ?? p.found)?.lower),
      'upper limit': number((p.left ?? p.found)?.upper),
      standards: plainCell(v.certificates.join('; ')),
    })),
  );
  return { identification: instrument.identification, csv: Papa.unparse(rows, { newline: '\r\n' }) };
}
