import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { actSchema, type NewAct } from '../core/acts/registry';
import { readHead } from '../core/seal/seal';
import { nextItem } from '../core/run/next-step';
import type { Database } from '../store/database';
import { instrumentById } from '../store/register';
import { runById } from '../store/run-log';
import { certificateFor } from './certificate-service';
import { certificatePdf } from './certificate-pdf/certificate-pdf';
import { ownCopy, person } from './fixtures/own-copy';
import { refusalOf } from './fixtures/refusal-of';
import { work } from './fixtures/work';
import { appendAct, loadRun } from './run-service';
import { checkSeals, sealText } from './seal-service';

let db: Database;
ownCopy((own) => (db = own));

/** The latest and the one before of an instrument that was calibrated by somebody and signed by another. */
async function calibrationsOf(instrument: string): Promise<string[]> {
  const { rows } = await db.$client.execute({
    sql: `SELECT id FROM runs WHERE instrument_id = ? AND status = 'finished' AND purpose = 'calibration' ORDER BY started_at DESC`,
    args: [instrument],
  });
  return rows.map((r) => String(r[0]));
}
async function send(run: string, act: NewAct, by: string) {
  const { state } = await loadRun(run);
  return appendAct(run, {
    expectedSequence: state.sequence,
    idempotencyKey: randomUUID(),
    person: by,
    act: actSchema.parse(act),
  });
}
async function sign(run: string): Promise<void> {
  const { state } = await loadRun(run);
  if (!state.reviewed) await send(run, { type: 'run-reviewed', remark: '' }, 'Ines Calderstone');
}
/** An instrument with at least two calibrations that is not on the bench. */
const candidates = async (most: number): Promise<string[]> =>
  (
    await db.$client.execute(
      `SELECT instrument_id FROM runs WHERE status = 'finished' AND purpose = 'calibration' AND procedure_id = 'outside-micrometer'
       AND instrument_id NOT IN (SELECT instrument_id FROM runs WHERE status = 'open') GROUP BY instrument_id HAVING count(*) > 1 ORDER BY 1 LIMIT ${most}`,
    )
  ).rows.map((r) => String(r[0]));

describe('a certificate that is withdrawn', () => {
  it('takes its dates with it, counts for nothing any more, and says so wherever it is shown', async () => {
    const [instrument] = await candidates(1);
    const [latest, before] = await calibrationsOf(instrument!);
    await sign(latest!);
    const due = (await loadRun(before!)).state.interval!.next;
    await send(latest!, { type: 'certificate-withdrawn', reason: 'Another one was measured' }, 'Ines Calderstone');
    expect(await runById(db, latest!)).toMatchObject({ status: 'abandoned' });
    expect(await instrumentById(db, instrument!)).toMatchObject({
      nextDue: due,
      lastCalibrated: (await runById(db, before!))!.finishedAt!.slice(0, 10),
    });
    expect(await certificateFor(latest!)).toMatchObject({
      withdrawn: { by: 'Ines Calderstone', reason: 'Another one was measured' },
    });
    expect((await certificatePdf(await certificateFor(latest!))).byteLength).toBeGreaterThan(10_000);
    expect(await refusalOf(send(latest!, { type: 'note-added', text: 'Later' }, person))).toMatchObject({ status: 422 });
  });
  it('leaves the dates alone where a later calibration says them', async () => {
    const [, instrument] = await candidates(2);
    const [, before] = await calibrationsOf(instrument!);
    const stands = await instrumentById(db, instrument!);
    await sign(before!);
    await send(before!, { type: 'certificate-withdrawn', reason: 'Another one was measured' }, 'Ines Calderstone');
    expect(await instrumentById(db, instrument!)).toEqual(stands);
  });
});

describe('a correction', () => {
  it('gives another issue that names what it replaces; what was issued stays to be seen; the calibration stays where it was', async () => {
    const [, , instrument] = await candidates(3);
    const [latest] = await calibrationsOf(instrument!);
    await sign(latest!);
    const row = (await runById(db, latest!))!;
    const issued = await certificateFor(latest!);
    const sealed = await sealText(latest!, issued.number);
    await send(latest!, { type: 'correction-begun', reason: 'Owner mistyped' }, person);
    expect(await runById(db, latest!)).toMatchObject({ status: 'open', isReviewed: false });
    await send(latest!, { type: 'amended', member: 'owner', value: 'Quillmere Bells', reason: 'Owner mistyped' }, person);
    const identification = (await instrumentById(db, instrument!))!.identification.toLowerCase();
    await work(latest!, identification, () => false);
    const { state } = await loadRun(latest!);
    expect([nextItem(state), state.completed?.certificate === issued.number]).toEqual([null, false]);
    expect(await certificateFor(latest!)).toMatchObject({
      owner: 'Quillmere Bells',
      replaces: {
        number: issued.number,
        reason: 'Owner mistyped',
        changes: expect.arrayContaining([expect.objectContaining({ what: 'Owner' })]),
      },
    });
    // The former issue as it was, with its own signature and its own seal.
    const number = state.completed!.certificate;
    expect(issued.persons.reviewedBy).not.toBeNull();
    expect(await certificateFor(latest!, issued.number)).toEqual({ ...issued, replacedBy: number });
    expect(await sealText(latest!, issued.number)).toBe(sealed);
    const heads = [sealed, await sealText(latest!, number)].map((text) => readHead(text!)!.sequence);
    expect(heads[1]).toBeGreaterThan(heads[0]!);
    expect(await sealText(latest!, 'C00-0000')).toBeNull();
    expect(await refusalOf(certificateFor(latest!, 'C00-0000'))).toMatchObject({ status: 404 });
    expect(await runById(db, latest!)).toMatchObject({ status: 'finished', finishedAt: row.finishedAt });
    expect((await checkSeals(db)).faults).toEqual([]);
  }, 60_000);
});
