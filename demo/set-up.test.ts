import type { RecordedEvent } from '../src/core/acts/registry';
import { runState } from '../src/core/acts/fold';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readDocument } from '../src/core/document/read-document';
import { evaluationIn } from '../src/core/run/run-results';
import type { RunState } from '../src/core/state/run-state';
import { isObservationShared } from '../src/core/plan/shared';
import { instrumentSnapshot } from '../src/service/run-service';
import { instruments } from '../src/bench/works/instruments';
import { seededRandom } from '../src/bench/random';
import { instrumentRow, standardsOn } from '../src/bench/works/register-rows';
import { simulateSetUp } from '../src/bench/simulated-run';

const today = '2026-11-24';

/** So many instruments like one of the demo, played in one set-up from their start to their certificates. */
function played(like: string, count: number, seed = 7): RunState[] {
  const demo = instruments.find((d) => d.row.identification === like)!;
  const procedure = readDocument(JSON.parse(readFileSync(`procedures/${demo.procedure}.json`, 'utf8')));
  const random = seededRandom(seed);
  const members = Array.from({ length: count }, (_, i) => {
    const row = instrumentRow({ ...demo, row: { ...demo.row, identification: `${like}-${i + 1}` } });
    const start = {
      instrument: instrumentSnapshot(row),
      standards: standardsOn(demo, today, today),
      procedure,
      choices: demo.choices,
      timeZone: 'UTC',
      setUp: { id: 'test', place: i + 1, of: count },
    };
    return { start, truth: demo.truth(random) };
  });
  const logs: RecordedEvent[][] = simulateSetUp(members, {
    start: `${today}T07:00:00.000Z`,
    technician: 'Maud Ellery',
    reviewer: null,
    certificate: 'C26-0001',
    random,
    issued: (_state, event) => event,
  });
  return logs.map(runState);
}

/** What was read as found in one series at its first point, in time: the number of the instrument, or S for all. */
function order(states: readonly RunState[], series: string, each?: string): string {
  const doc = states[0]!.procedure.series.find((s) => s.id === series)!;
  const read = states.flatMap((state, i) =>
    state.readings
      .filter((r) => r.slot.set === 'as-found' && r.slot.series === series && r.slot.point === 'p1')
      .filter((r) => each === undefined || r.slot.each === each)
      .map((r) => {
        const isShared = isObservationShared(doc.observe.find((o) => o.id === r.slot.observation)!);
        return {
          at: r.at,
          who: isShared ? 'S' : String(i + 1),
          key: isShared ? `${r.slot.observation}${r.slot.repeat}` : r.sequence + i / 100,
        };
      }),
  );
  const once = new Map(read.map((r) => [`${r.who}|${r.key}`, r]));
  return [...once.values()]
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .map((r) => r.who)
    .join('');
}

describe('set-ups of the families that allow them, played through the real rules', () => {
  it('six thermometers in one bath', () => {
    const states = played('QT-12', 6);
    expect(order(states, 'error', 'low')).toBe('S123456654321S'.repeat(3));
    for (const s of states) {
      expect(s.completed).not.toBeNull();
      expect(evaluationIn(s, 'as-found').complete).toBe(true);
    }
  });
  it('three sets of weights on one comparator: standard, each, each again backwards, standard', () => {
    const states = played('QW-02', 3);
    expect(order(states, 'mass')).toBe('S123321S'.repeat(3));
    // The standards are read once, and stand in every log.
    const standard = (s: RunState) => s.readings.filter((r) => r.slot.observation.startsWith('S')).map((r) => r.text);
    expect(standard(states[2]!)).toEqual(standard(states[0]!));
    expect(standard(states[0]!)).toHaveLength(4 * 3 * 2);
    for (const s of states) expect(s.completed).not.toBeNull();
  });
  it('nine meters over two salts: one night, one hour a salt, the solution before and after each way over them', () => {
    const states = played('QH-09', 9);
    expect(order(states, 'low')).toBe('S123456789987654321S'.repeat(2));
    const waits = states.map((s) => [...s.waits.values()].map((w) => `${w.begun.at} ${w.ended!.at}`));
    expect(waits[0]).toHaveLength(3);
    for (const own of waits) expect(own).toEqual(waits[0]);
    for (const s of states) expect(s.completed).not.toBeNull();
  });
  it('two transmitters on one pump, each with the meter in its own loop', () => {
    const states = played('QP-21', 2);
    for (const s of states) expect(s.completed).not.toBeNull();
    const [a, b] = states.map((s) => s.readings.filter((r) => r.slot.observation === 'P').map((r) => r.text));
    expect(a).toEqual(b);
    const own = states.map((s) => s.readings.filter((r) => r.slot.observation === 'I').map((r) => r.at));
    expect(own[0]!.some((at) => own[1]!.includes(at))).toBe(false);
  });
  it('two glass thermometers, each with its own stem, and two pairs of probe and transmitter', () => {
    const glass = played('QT-62', 2);
    expect(order(glass, 'error').slice(0, 6)).toBe('S1221S');
    const stems = glass.map((s) => s.steps.filter((x) => x.item.id === 'stem').map((x) => x.at));
    expect(stems[0]!.some((at) => stems[1]!.includes(at))).toBe(false);
    const pairs = played('QT-32', 2);
    expect(order(pairs, 'probe').slice(0, 6)).toBe('S1221S');
    for (const s of [...glass, ...pairs]) expect(s.completed).not.toBeNull();
  });
});
