import { describe, expect, it } from 'vitest';
import type { StandardDocument } from '../core/standard/standard-schema';
import type { Database } from '../store/database';
import { saveStandard, standardById } from '../store/register';
import { calibrationsWith } from '../store/run-log';
import { ownCopy } from './fixtures/own-copy';
import { refusalOf } from './fixtures/refusal-of';
import { impactOfStandard } from './impact-service';
import { checkSeals } from './seal-service';

let db: Database;
ownCopy((own) => (db = own));

const never = new AbortController().signal;
const blocks = 'gb-47';
const anyDay = '2000-01-01';

/** The same with every block longer by so many mm. */
const moved = (document: StandardDocument, by: number): StandardDocument => ({
  ...document,
  items: document.items!.map((i) => ({ ...i, certified: Number(i.certified) + by })),
});

describe('what used a standard', () => {
  it('is worked out anew with the certificate that it has now, those judged otherwise first; nothing is rewritten', async () => {
    const runs = await calibrationsWith(db, blocks);
    const row = (await standardById(db, blocks))!;
    // Retyped: the number stays, the values do not.
    await saveStandard(db, { ...row, document: moved(row.document, 0.0021) }, anyDay);
    const seen: [number, number][] = [];
    const impact = await impactOfStandard(blocks, anyDay, (done, of) => seen.push([done, of]), never);
    expect(seen.at(-1)).toEqual([runs.length, runs.length]);
    expect(impact.looked).toBe(runs.length);
    expect(impact.same + impact.affected.length + impact.failed.length).toBe(impact.looked);
    const judged = impact.affected.map((a) => a.isJudgedOtherwise);
    expect(judged).toContain(true);
    expect(judged).toEqual([...judged].sort((a, b) => Number(b) - Number(a)));
    const since = runs[2]!.finishedAt!.slice(0, 10);
    expect((await impactOfStandard(blocks, since, () => {}, never)).looked).toBeLessThan(impact.looked);
    expect((await checkSeals(db)).faults).toEqual([]);
  }, 60_000);
  it('tells what rests on it in turn: standards whose certificates these runs were, step by step', async () => {
    const [first] = await calibrationsWith(db, blocks);
    const other = (await standardById(db, 'gb-83')) ?? (await standardById(db, blocks))!;
    const certificate = { ...other.document.certificate!, number: first!.certificate! };
    await saveStandard(
      db,
      { ...other, id: 'own', identification: 'OWN-1', document: { ...other.document, identification: 'OWN-1', certificate } },
      anyDay,
    );
    const { chain } = await impactOfStandard(blocks, anyDay, () => {}, never);
    expect(chain).toEqual([{ standard: 'own', identification: 'OWN-1', certificate: first!.certificate, runs: 0, step: 1 }]);
  }, 60_000);
  it('is refused for a standard that is not there, and given up when asked', async () => {
    expect(await refusalOf(impactOfStandard('none', anyDay, () => {}, never))).toMatchObject({ status: 404 });
    const gone = new AbortController();
    gone.abort();
    await expect(impactOfStandard(blocks, anyDay, () => {}, gone.signal)).rejects.toThrow();
  });
});
