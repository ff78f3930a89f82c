import { describe, expect, it } from 'vitest';
import { runState } from '../core/acts/fold';
import { certificateOf } from '../core/certificate/certificate';
import { impactOf, whyNot } from '../core/certificate/impact';
import type { StandardDocument } from '../core/standard/standard-schema';
import type { Database } from '../store/database';
import { saveStandard, standardById } from '../store/register';
import { calibrationsWith, eventsOfRun } from '../store/run-log';
import { ownCopy } from './fixtures/own-copy';
import { refusalOf } from './fixtures/refusal-of';
import { impactOfStandard } from './impact-service';
import { checkSeals } from './seal-service';

let db: Database;
ownCopy((own) => (db = own));

const never = new AbortController().signal;
const blocks = 'gb-47';
const anyDay = '2000-01-01';

/** The document of a standard as a run used it. */
async function usedIn(run: string): Promise<{ state: ReturnType<typeof runState>; document: StandardDocument }> {
  const state = runState(await eventsOfRun(db, run));
  const used = Object.values(state.standards).flat();
  return { state, document: used.find((s) => s.id === blocks)!.document };
}
/** The same with every block longer by so many mm, and another uncertainty. */
const moved = (document: StandardDocument, by: number, times = 1): StandardDocument => ({
  ...document,
  items: document.items!.map((i) => ({
    ...i,
    certified: Number(i.certified) + by,
    expandedUncertainty: Number(i.expandedUncertainty) * times,
  })),
});

describe('another certificate of a standard', () => {
  it('makes nothing else of a run where it is the same, and moves each error by what the blocks are longer', async () => {
    const [run] = await calibrationsWith(db, blocks);
    const { state, document } = await usedIn(run!.id);
    expect(impactOf(state, blocks, document)).toBeNull();
    expect(impactOf(state, 'another', moved(document, 1))).toBeNull();
    const impact = impactOf(state, blocks, moved(document, 0.0002))!;
    expect(impact.changes.length).toBeGreaterThan(0);
    // Longer blocks, smaller error: by 0.2 µm for each block that was wrung together.
    for (const { what, before, after } of impact.changes.filter((c) => c.what.startsWith('Error'))) {
      const by = 1000 * 0.0002;
      const difference = (Number.parseFloat(before.replace('−', '-')) - Number.parseFloat(after.replace('−', '-'))) / by;
      expect(Math.abs(difference - Math.round(difference)), what).toBeLessThan(0.11);
      expect(Math.round(difference), what).toBeGreaterThanOrEqual(1);
    }
    // What the run gives by itself is what it gave before.
    expect(certificateOf(state, { name: '', address: '' }).standards[0]!.certificate).toBe(document.certificate!.number);
  });
  it('turns a verdict where it is far enough off, and cannot be reckoned where a block is not in it', async () => {
    const [run] = await calibrationsWith(db, blocks);
    const { state, document } = await usedIn(run!.id);
    const far = impactOf(state, blocks, moved(document, 0.02))!;
    expect(far.isJudgedOtherwise).toBe(true);
    expect(far.verdicts.found).toEqual(['pass', 'fail']);
    const without = { ...document, items: document.items!.slice(0, 1) };
    try {
      impactOf(state, blocks, without);
      expect.unreachable();
    } catch (error) {
      expect(whyNot(error)).toMatch(/\w/);
    }
  });
});

describe('what used a standard', () => {
  it('is worked out anew with the certificate that it has now, those judged otherwise first; nothing is rewritten', async () => {
    const runs = await calibrationsWith(db, blocks);
    const { document } = await usedIn(runs[0]!.id);
    const row = (await standardById(db, blocks))!;
    // Retyped: the number stays, the values do not.
    await saveStandard(db, { ...row, document: moved({ ...document, certificate: row.document.certificate! }, 0.0021) }, anyDay);
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
