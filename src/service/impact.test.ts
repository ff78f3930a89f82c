import { describe, expect, it } from 'vitest';
import { runState } from '../core/acts/fold';
import { certificateOf } from '../core/certificate/certificate';
import { impactOf, whyNot } from '../core/certificate/impact';
import type { StandardDocument } from '../core/standard/standard-schema';
import type { Database } from '../store/database';
import { calibrationsWith, eventsOfRun } from '../store/run-log';
import { ownCopy } from './fixtures/own-copy';

let db: Database;
ownCopy((own) => (db = own));

const blocks = 'gb-47';

/** The document of a standard as a run used it. */
async function usedIn(run: string): Promise<{ state: ReturnType<typeof runState>; document: StandardDocument }> {
  const state = runState(await eventsOfRun(db, run));
  const used = Object.values(state.standards).flat();
  return { state, document: used.find((s) => s.id === blocks)!.document };
}
/** The same with every block longer by so many mm. */
const moved = (document: StandardDocument, by: number): StandardDocument => ({
  ...document,
  items: document.items!.map((i) => ({ ...i, certified: Number(i.certified) + by })),
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
