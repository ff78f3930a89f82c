import type { RecordedEvent } from '../src/core/acts/registry';
import { runState, withEvent } from '../src/core/acts/fold';
import { admit } from '../src/core/acts/admit';
import type { ProcedureDocument } from '../src/core/procedure/document-schema';
import { readDocument } from '../src/core/document/read-document';
import { diagnose } from '../src/core/run/diagnosis';
import { setups, TestBench, type Setup } from '../src/core/run/fixtures/bench';
import { nextItem } from '../src/core/run/next-step';
import { pointIn } from '../src/core/run/run-results';
import { slotOf } from '../src/core/state/place-keys';
import type { RunState } from '../src/core/state/run-state';
import { median, say } from './measure';

/** A run of so many points, ten readings each, their scatter pooled: an entry at one changes the results of all. */
function setup(points: number): Setup {
  const raw = {
    format: 'just-twice/procedure',
    version: 2,
    id: 'long',
    revision: 1,
    title: 'Long',
    instrument: { kinds: ['outside-micrometer'] },
    series: [
      {
        id: 'error',
        title: 'Error',
        points: { unit: 'mm', from: 1, to: points, step: 1 },
        repeats: 10,
        observe: [{ id: 'R', of: 'instrument', unit: 'mm' }],
        results: [
          {
            symbol: 'E',
            title: 'Error',
            unit: 'mm',
            model: 'R - L + res',
            quantities: [
              { symbol: 'R', name: 'Readings', unit: 'mm', distribution: { type: 'readings', of: 'R', pool: 'set' } },
              { symbol: 'L', name: 'Nominal', unit: 'mm', distribution: { type: 'constant', value: { is: 'point.nominal' } } },
              { symbol: 'res', name: 'Step', unit: 'mm', distribution: { type: 'rectangular', mean: 0, halfWidth: 0.0005 } },
            ],
            tolerance: { terms: [{ absolute: 0.004 }] },
          },
        ],
      },
    ],
  };
  const procedure: ProcedureDocument = readDocument(raw);
  const { instrument } = setups['outside-micrometer']!();
  return { procedure, instrument: { ...instrument, upper: 1000, usedUpper: 1000 }, standards: {}, choices: {} };
}

/** A log in which all but some of the readings are there. */
function filled(points: number, open: number): TestBench {
  const bench = new TestBench(setup(points));
  const slots = bench.state.plan.flatMap((i) => (i.type === 'reading' ? [slotOf(i)] : []));
  for (const slot of slots.slice(0, slots.length - open)) {
    const text = (Number(slot.point.slice(1)) + 0.001 * (slot.repeat % 3)).toFixed(3);
    const event: RecordedEvent = {
      sequence: bench.events.length + 1,
      at: bench.at,
      person: 'Ada',
      act: { type: 'observed', version: 2, ...slot, text },
    };
    bench.events.push(event);
  }
  bench.state = runState(bench.events);
  return bench;
}

/** Rows of a sheet that stand in sight at once. */
const rowsInSight = 14;

/** One entry as the screen answers it: admitted, folded, and the rows in sight worked out anew. */
function entry(bench: TestBench): number {
  const item = nextItem(bench.state);
  if (item?.type !== 'reading') throw new Error('There is nothing left to read.');
  const slot = slotOf(item);
  const act = { type: 'observed' as const, version: 2 as const, ...slot, text: slot.point.slice(1) };
  const began = performance.now();
  if (admit(bench.state, act, 'Ada', bench.at)) throw new Error('It was refused.');
  const event: RecordedEvent = { sequence: bench.events.length + 1, at: bench.at, person: 'Ada', act };
  bench.events.push(event);
  bench.state = withEvent(bench.state, event);
  rows(bench.state, slot.point);
  return performance.now() - began;
}

function rows(state: RunState, around: string): void {
  const series = state.procedure.series[0]!;
  const last = Number(around.slice(1));
  for (let i = Math.max(1, last - rowsInSight + 1); i <= last; i++)
    pointIn(state, { set: 'as-found', series: series.id, point: `p${i}` }, series.results);
}

/** What a run costs as it grows. */
export function runRatios(): void {
  const [small, large] = [filled(30, 20), filled(400, 20)];
  const times = { small: [] as number[], large: [] as number[] };
  // One after the other, so that what the machine does meanwhile falls on both.
  for (let i = 0; i < 15; i++) {
    times.small.push(entry(small));
    times.large.push(entry(large));
  }
  const [few, many] = [median(times.small.slice(3)), median(times.large.slice(3))];
  say(
    'One entry in a run of 400 points of ten readings, against one in a run of 30 points',
    `${(many / few).toFixed(2)} × (${many.toFixed(1)} ms against ${few.toFixed(1)} ms)`,
  );
  const whole: number[] = [];
  const plain: number[] = [];
  for (let i = 0; i < 7; i++) {
    let began = performance.now();
    runState(large.events);
    whole.push(performance.now() - began);
    began = performance.now();
    const seen = new Map<string, string>();
    for (const { act } of large.events) if (act.type === 'observed') seen.set(`${act.point}|${act.repeat}`, act.text);
    plain.push(performance.now() - began);
  }
  say(
    `Folding a log of ${large.events.length} events, against putting its readings into a map`,
    `${(median(whole) / median(plain)).toFixed(0)} × (${median(whole).toFixed(1)} ms)`,
  );
  const began = performance.now();
  diagnose(large.state, 'as-found');
  say('All 400 results and what they look like, once', `${(performance.now() - began).toFixed(0)} ms`);
}
