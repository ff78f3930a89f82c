import { readFileSync } from 'node:fs';
import { instruments, type DemoInstrument } from '../src/bench/works/instruments';
import { seededRandom } from '../src/bench/random';
import { instrumentRow, standardsOn } from '../src/bench/works/register-rows';
import { simulateRun } from '../src/bench/simulated-run';
import type { Truth } from '../src/bench/truths';
import { readDocument } from '../src/core/document/read-document';
import { mean } from '../src/core/statistics/moments';
import { isSameKind } from '../src/core/quantity/unit';
import { diagnose, type Diagnosis } from '../src/core/run/diagnosis';
import { errorsTogether, type ErrorsTogether } from '../src/core/run/errors-together';
import { nextItem } from '../src/core/run/next-step';
import { observationOf } from '../src/core/run/reading-rules';
import { toRuleOut } from '../src/core/run/rule-out';
import { placedPoint, type RunState, type Slot } from '../src/core/state/run-state';
import { instrumentSnapshot } from '../src/service/run-service';
import { say } from './measure';

const today = '2026-06-01';
const seeds = 8;

/** What a fault adds to a reading. @param share along the range, 0 to 1 @param rank of the point */
type Fault = {
  kind: Diagnosis['kind'];
  adds: (at: { share: number; ofFarthest: number; rank: number; count: number; isDown: boolean }) => number;
  needs?: (g: ErrorsTogether) => boolean;
};
const bow = (t: number) => 4 * t * (1 - t);
const faults: Record<string, Fault> = {
  offset: { kind: 'offset', adds: () => 1 },
  span: { kind: 'slope', adds: (a) => a.ofFarthest },
  curvature: { kind: 'curve', adds: (a) => bow(a.share) },
  'odd point': { kind: 'odd-point', adds: (a) => Number(a.rank === Math.floor(a.count / 2)) },
  hysteresis: { kind: 'hysteresis', adds: (a) => (a.isDown ? 0.5 : -0.5) * bow(a.share), needs: (g) => isBothWays(g) },
};

const isBothWays = (g: ErrorsTogether) => new Set(g.question.points.flatMap((p) => p.readings.map((r) => r.direction))).size > 1;
const nominals = (g: ErrorsTogether): number[] => [...new Set(g.points.map((p) => p.nominal!))].sort((a, b) => a - b);

/** A sound instrument whose first readings of one series go astray. */
function spoilt(truth: Truth, of: ErrorsTogether | null, fault: Fault | null, size: number): Truth {
  if (!of || !fault) return truth;
  const xs = nominals(of);
  const [least, greatest] = [xs[0]!, xs.at(-1)!];
  const farthest = Math.max(...xs.map(Math.abs));
  const sweeps = new Map(of.series.sweeps?.map((s) => [s.id, s.backwards === true]) ?? []);
  return {
    ...truth,
    shows: (state: RunState, slot: Slot, random: () => number) => {
      const shown = truth.shows(state, slot, random);
      const isMeant =
        !('text' in shown) &&
        slot.set === 'as-found' &&
        slot.series === of.series.id &&
        (of.each === null || slot.each === of.each) &&
        observationOf(state, slot)?.of === 'instrument';
      const nominal = placedPoint(state, slot)?.nominal;
      if (!isMeant || nominal === undefined) return shown;
      const added = fault.adds({
        share: (nominal - least) / (greatest - least),
        ofFarthest: nominal / farthest,
        rank: xs.indexOf(nominal),
        count: xs.length,
        isDown: slot.sweep !== undefined && sweeps.get(slot.sweep) === true,
      });
      return { ...shown, value: shown.value + size * added };
    },
  };
}

/** A run of an instrument up to its judgement. */
function judgedRun(demo: DemoInstrument, seed: number, of: ErrorsTogether | null, fault: Fault | null, size: number): RunState {
  const random = seededRandom(seed);
  const truth = spoilt(demo.truth(random), of, fault, size);
  const start = {
    instrument: instrumentSnapshot(instrumentRow(demo)),
    standards: standardsOn(demo, today, today),
    procedure: readDocument(JSON.parse(readFileSync(`procedures/${demo.procedure}.json`, 'utf8'))),
    choices: demo.choices,
    timeZone: 'UTC',
  };
  return simulateRun(start, truth, {
    start: `${today}T08:00:00.000Z`,
    technician: 'Maud Ellery',
    reviewer: null,
    certificate: '1',
    random,
    isEnough: (state) => nextItem(state)?.type === 'judge',
    issued: (_state, event) => event,
  }).state;
}

/** The errors of a run that a fault is put into: of one thing, at four places or more, told in the unit that it reads in. */
function testable(state: RunState): ErrorsTogether | null {
  const whole = errorsTogether(state, 'as-found').filter((g) => {
    const observed = g.series.observe.find((o) => o.of === 'instrument');
    const isPlain = observed?.type === 'number' && typeof observed.unit === 'string' && isSameKind(observed.unit, g.unit);
    return isPlain && !g.series.separate && g.points.every((p) => p.nominal !== undefined) && nominals(g).length >= 4;
  });
  return whole.find((g) => g.each === null) ?? whole[0] ?? null;
}

/** What uses most of its limits in a run, as a share. */
const greatestShare = (state: RunState): number =>
  Math.max(
    0,
    ...errorsTogether(state, 'as-found').flatMap((g) =>
      g.question.points.map((p) => Math.abs(mean(p.readings.map((r) => r.error))) / p.limits.upper!),
    ),
  );

/** Whether what is added to a reading is added to its error: an error that is reckoned from several readings, or in shares, is left out. */
function goesThrough(demo: DemoInstrument, seed: number, of: ErrorsTogether): boolean {
  const size = sizeOf(of, seededRandom(1));
  const found = errorsTogether(judgedRun(demo, 500 + seed, of, faults['offset']!, size), 'as-found');
  const after = found.find((g) => g.series.id === of.series.id && g.result.symbol === of.result.symbol && g.each === of.each);
  const gain = after ? mean(after.points.map((p, i) => p.value - of.points[i]!.value)) / size : 0;
  return Math.abs(gain - 1) < 0.1;
}

const sizeOf = (g: ErrorsTogether, random: () => number): number => {
  const U = Math.max(...g.points.map((p) => p.result.expandedUncertainty));
  const half = Math.min(...g.question.points.map((p) => p.limits.upper!));
  return (random() < 0.5 ? -1 : 1) * Math.max(3 * U, 0.75 * half) * (1 + random());
};

/** How often the cause is named right on whole runs of every family, played by the simulated technician. */
export function judgeFamilies(): void {
  const families = [...new Map(instruments.map((d) => [d.procedure, d])).values()];
  const named = new Map<string, [right: number, of: number]>();
  const stated: { probability: number; isRight: boolean }[] = [];
  const wrong = new Map<string, number>();
  const tested = new Set<string>();
  let [accused, sound] = [0, 0];
  for (const demo of families)
    for (let seed = 0; seed < seeds; seed++) {
      const plain = judgedRun(demo, 500 + seed, null, null, 0);
      const first = diagnose(plain, 'as-found').looks[0];
      const of = testable(plain);
      // One with a pattern of its own has two faults once another is put into it.
      const isSound = greatestShare(plain) < 0.25;
      if (isSound) sound++;
      if (isSound && first && first.cause !== 'none') accused++;
      if (!of || !isSound || !goesThrough(demo, seed, of)) continue;
      tested.add(demo.procedure);
      const random = seededRandom(900 + seed);
      for (const [name, fault] of Object.entries(faults)) {
        if (fault.needs && !fault.needs(of)) continue;
        const state = judgedRun(demo, 500 + seed, of, fault, sizeOf(of, random));
        const told = diagnose(state, 'as-found');
        const isRight = told.kind === fault.kind && told.looks[0]?.of.series.id === of.series.id;
        const [right, count] = named.get(name) ?? [0, 0];
        named.set(name, [right + Number(isRight), count + 1]);
        if (told.looks[0]) stated.push({ probability: told.looks[0].probability, isRight });
        if (!isRight) {
          const how = `${demo.procedure}: ${name} called ${told.kind} (${told.looks[0]?.probability.toFixed(2)}), first to rule out ${toRuleOut(state, 'as-found')[0]?.doc.id}`;
          wrong.set(how, (wrong.get(how) ?? 0) + 1);
        }
      }
    }
  const percent = (a: number, b: number) => `${((100 * a) / b).toFixed(1)} % of ${b}`;
  for (const [name, [right, of]] of named) say(`Whole runs of ${tested.size} families: ${name} named right`, percent(right, of));
  const all = [...named.values()].reduce(([a, b], [c, d]) => [a + c, b + d] as [number, number], [0, 0]);
  say('Single faults of three U and more, named right (at least 95 %)', percent(...all));
  say('Runs with no error beyond a quarter of its limit that are accused of a pattern (at most 3 %)', percent(accused, sound));
  for (const [from, to] of [
    [0.4, 0.7],
    [0.7, 0.9],
    [0.9, 1.01],
  ] as const) {
    const here = stated.filter((s) => s.probability >= from && s.probability < to);
    if (here.length)
      say(`Stated ${from} to ${Math.min(1, to)}: right`, percent(here.filter((s) => s.isRight).length, here.length));
  }
  for (const [how, count] of wrong) say(`  ${how}`, String(count));
}
