import type { RecordedEvent } from '../src/core/acts/registry';
import { runState } from '../src/core/acts/fold';
import type { Certificate } from '../src/core/certificate/certificate';
import { nextItem } from '../src/core/run/next-step';
import { placeOf, slotOf } from '../src/core/state/place-keys';
import { families } from '../src/bench/works/families';
import { seededRandom } from '../src/bench/random';
import { asShown } from '../src/bench/simulated-run';
import { drive, start } from './drive';
import { expect, test } from './server';

/** Driven by `npm run test:long` alone, for what differs between them is data. Families that are told by data: the instrument that is not on the bench shows what its bench tells. */
for (const { instruments, open } of families) {
  const demo = instruments.find((i) => i.row.identification.toLowerCase() !== open.instrument)!;
  const id = demo.row.identification.toLowerCase();
  test(
    `${demo.procedure}: ${id}, from its start to its certificate, by keyboard alone`,
    { tag: '@long' },
    async ({ page, request, server }) => {
      test.setTimeout(300_000);
      const run = await start(page, 'keys', server, id);
      const random = seededRandom(41);
      const truth = demo.truth(random);
      const events: RecordedEvent[] = [];
      let made = 0;
      /** The run as the server has it: what it asks for next is what the page asks for. */
      const now = async () => {
        await expect(page.getByText('All recorded')).toBeVisible();
        const more = (await (await request.get(`/api/runs/${run}/events`)).json()) as { events: RecordedEvent[] };
        events.splice(0, events.length, ...more.events);
        const state = runState(events);
        for (const { id: adjustment } of state.adjusted.slice(made)) truth.adjusted(adjustment, {});
        made = state.adjusted.length;
        return { state, item: nextItem(state)! };
      };
      await drive(
        page,
        'keys',
        async () => {
          const { state, item } = await now();
          if (item.type !== 'reading') throw new Error(`A reading is asked for where ${item.type} comes next.`);
          return asShown(truth.shows(state, slotOf(item), random));
        },
        {
          measured: async () => {
            const { state, item } = await now();
            return String(truth.measured(item.type === 'step' ? item.id : '', state, placeOf(item)));
          },
          conditionNow: (name) => truth.condition(name, random),
        },
      );
      const certificate = (await (await request.get(`/api/runs/${run}/certificate.json`)).json()) as Certificate;
      expect(certificate.asFound.incomplete).toBeNull();
      // Some procedures adjust what uses much of its limits: then it counts as left.
      expect(certificate.adjustments).toHaveLength(made);
      expect(['pass', 'conditional-pass']).toContain((certificate.asLeft ?? certificate.asFound).verdict);
      expect(certificate.tables.some((t) => t.rows.some((r) => r.limits))).toBe(true);
      const pdf = await request.get(`/api/runs/${run}/certificate.pdf`);
      expect((await pdf.body()).byteLength).toBeGreaterThan(10_000);
    },
  );
}
