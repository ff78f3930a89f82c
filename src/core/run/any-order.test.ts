import { actSchema, type NewAct } from '../acts/registry';
import type { PlanItem } from '../plan/plan-schema';
import { withPlan } from '../acts/plan';
import { admit } from '../acts/admit';
import { runState, withEvent } from '../acts/fold';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../bench/random';
import { plainAct } from '../../bench/technician';
import { certificateOf } from '../certificate/certificate';
import { adjustmentAdvice } from './adjustment-advice';
import { cautionsNow } from './cautions';
import { setups, TestBench } from './fixtures/bench';
import { nextItem, stageOf, waitMinutes } from './next-step';
import { itemsAt } from '../state/run-case';
import { evaluationIfAny, faultIn } from './run-results';
import { reviewPoints } from './review-points';
import { itemKey, placeOf, placeOfKey, slotOf } from '../state/place-keys';
import type { RunState } from '../state/run-state';

/** Whatever is done at the bench, in whatever order: nothing breaks, every refusal says what to do, and the run can still be finished. */

type Random = () => number;
const pick = <T>(random: Random, of: readonly T[]): T | undefined => of[Math.floor(random() * of.length)];

const typed = [
  '2,500',
  '-0',
  '0.0',
  '999999',
  '-999',
  '12.3456789',
  'abc',
  '',
  '1e9',
  '5.',
  ',5',
  '20.0',
  '100',
  '=1+1',
  '2.5 mm',
];
const reasons = ['', 'Cannot be reached', 'Slipped', 'x'];

/** Something that somebody in a hurry, in doubt or in error might do next. */
function clumsyAct(bench: TestBench, random: Random): NewAct | null {
  const { state } = bench;
  const readings = state.plan.flatMap((i) => (i.type === 'reading' ? [i] : []));
  const anyReading = pick(random, readings);
  const anyItem = pick(random, state.plan) as PlanItem;
  const next = nextItem(state);
  const text = pick(random, typed)!;
  const reason = pick(random, reasons)!;
  const kept = random() < 0.4 ? { confirmed: true, reason } : {};
  const set = state.sets.at(-1)!.id;
  switch (Math.floor(16 * random())) {
    case 0:
      return { type: 'struck', sequence: pick(random, state.readings)?.sequence ?? 3, reason };
    case 1:
    case 2: {
      if (!anyReading) return null;
      const { repeat: _repeat, observation: _observation, ...place } = slotOf(anyReading);
      return random() < 0.6 ? { type: 'skipped', ...place, reason } : { type: 'resumed', ...place };
    }
    case 3:
      return next?.type === 'reading' ? { type: 'observed', ...slotOf(next), text, ...kept } : null;
    case 4:
    case 5:
      return anyReading ? { type: 'observed', ...slotOf(anyReading), text, ...kept } : null;
    case 6: {
      const values = Object.fromEntries(state.procedure.conditions.map((c) => [c.id, text]));
      return { type: 'conditions-recorded', set, values, ...(reason ? { reason } : {}) };
    }
    case 7:
      return random() < 0.1 ? { type: 'set-ended', set, reason } : { type: 'note-added', text: reason };
    case 8:
      return random() < 0.15 && anyReading ? { type: 'withdrawn', set, series: anyReading.series!, reason } : null;
    case 9: {
      const series = state.procedure.series.find((s) => Object.keys(s.uses).length > 0);
      const use = series && Object.keys(series.uses)[0];
      const items = Object.values(state.standards).flatMap((all) => all.flatMap((s) => s.document.items ?? []));
      const proposed = use && anyReading ? itemsAt(state, slotOf(anyReading), use) : undefined;
      const chosen =
        random() < 0.5 && proposed ? proposed : [pick(random, items)?.id, pick(random, items)?.id].flatMap((i) => i ?? []);
      return use && anyReading && chosen.length
        ? { type: 'items-chosen', set, series: series.id, point: anyReading.point!, use, items: chosen }
        : null;
    }
    case 10:
      return anyItem.type === 'step'
        ? { type: 'step-done', ...placeOf(anyItem), id: anyItem.id, value: pick(random, [true, 1, text])! }
        : null;
    case 11:
      return {
        type: 'adjustment-decided',
        set,
        adjustment: pick(random, [null, ...state.procedure.adjustments.map((a) => a.id)]) ?? null,
        proposed: null,
        reason,
      };
    case 12: {
      const cause = pick(random, state.procedure.ruleOut)?.id ?? 'none';
      if (next?.type === 'look')
        return { type: 'looked', ...placeOf(next), series: next.series!, point: next.point!, id: cause, texts: { R: text } };
      if (next?.type === 'judge' && anyReading) {
        const { repeat: _repeat, observation: _observation, ...place } = slotOf(anyReading);
        return { type: 'rung-tried', ...place, id: cause, note: reason };
      }
      return { type: 'interval-decided', next: '2027-11-24', proposed: '2027-10-01', reason };
    }
    case 13:
      return pick(random, [
        { type: 'run-completed', certificate: 'C1', remark: '' },
        { type: 'run-reviewed', remark: '' },
        { type: 'set-begun', set: 'as-left', why: reason },
        { type: 'wait-ended', set, id: 'none' },
      ] as const)!;
    default: {
      // Once more what was done before: a key pressed twice, a page that is behind.
      const { version: _version, ...again } = pick(random, bench.events)!.act;
      return again as NewAct;
    }
  }
}

/** Offers an act; what was refused, or null where it was recorded. */
function offer(bench: TestBench, act: NewAct): string | null {
  const parsed = actSchema.safeParse(act);
  if (!parsed.success) return parsed.error.issues[0]!.message;
  return bench.refusal(act)?.message ?? null;
}

/** Does what the plan asks, and keeps what it is asked about: until the end. */
function finish(bench: TestBench): void {
  for (let acts = 0; acts < 1500; acts++) {
    const item = nextItem(bench.state);
    const act = plainAct(bench.state, bench.shown, bench.at);
    if (!item || !act) return;
    if (act.type === 'wait-ended') bench.wait(waitMinutes(bench.state));
    const why = { reason: 'Looked again: it is so' };
    const refusal =
      bench.refusal(act) &&
      (act.type === 'observed'
        ? bench.refusal({ ...act, confirmed: true, ...why })
        : bench.refusal({ ...act, ...why } as NewAct));
    // What the refusal of an empty judgement says to do.
    const skipped = [...bench.state.skipped.keys()].find((key) => key.startsWith(`${item.set}|`));
    if (refusal?.message.startsWith('Everything was skipped') && skipped) {
      bench.do({ type: 'resumed', ...placeOfKey(skipped) });
    } else if (refusal?.message.includes('adjusts nothing')) {
      // What it holds is right already: given up, and left as it is.
      bench.do({ type: 'adjustment-abandoned', set: item.set, reason: 'It holds the right value already' });
      const { adjustment: proposed } = adjustmentAdvice(bench.state, item.set);
      bench.do({ type: 'adjustment-decided', set: item.set, adjustment: null, proposed, reason: 'Nothing to be set' });
    } else if (refusal?.message.includes('cannot be worked out')) {
      // No certificate is made of it.
      bench.do({ type: 'run-broken-off', reason: 'The air was too cold for a result' });
    } else if (refusal) throw new Error(`${act.type} at ${itemKey(item)}: ${refusal.message}`);
  }
  throw new Error('It has no end.');
}

const clean = (texts: readonly string[]): void => {
  for (const text of texts) {
    expect(text).not.toMatch(/undefined|NaN|Infinity|\[object|\bnull\b/);
    expect(text.length).toBeGreaterThan(4);
  }
};

/** What a state says, in short: to tell two of them apart. */
const gist = (state: RunState) => ({
  next: nextItem(state) && itemKey(nextItem(state)!),
  stage: stageOf(state, nextItem(state)),
  live: [...state.live].map(([key, r]) => `${key} ${r.text}`),
  done: [...state.done.keys()],
  skipped: [...state.skipped].map(([key, s]) => `${key} ${s.reason}`),
  sets: state.sets.map((s) => [s.id, s.ended?.reason ?? null]),
  plan: state.plan.map(itemKey),
  results: state.sets.map((s) => [faultIn(state, s.id), evaluationIfAny(state, s.id)]),
});

const seeds = [1, 2, 3, 4, 5, 6, 7];
const cases = Object.keys(setups).flatMap((family) => seeds.map((seed): [string, number] => [family, seed]));

describe('whatever is done at the bench', () => {
  const recorded = new Set<string>();
  const refused: string[] = [];
  it.each(cases)('of a %s (%i): it stands, says what to do, and comes to its end', (family, seed) => {
    const random = seededRandom(7_700 + seed);
    const bench = new TestBench(setups[family]!());
    const ordinary = bench.shown.reading;
    bench.shown.reading = (state, slot) =>
      family === 'pressure-transmitter' || family === 'thermometer-in-bath'
        ? Number(ordinary(state, slot)).toFixed(2)
        : ordinary(state, slot);
    for (let i = 0; i < 140 && nextItem(bench.state); i++) {
      const before = bench.state.sequence;
      const plain = random() < 0.55 ? plainAct(bench.state, bench.shown, bench.at) : null;
      const act = plain ?? clumsyAct(bench, random);
      if (!act) continue;
      if (act.type === 'wait-ended') bench.wait(60 * random());
      const refusal = offer(bench, act);
      if (refusal === null) recorded.add(act.type);
      else {
        refused.push(act.type);
        clean([refusal]);
        expect(bench.state.sequence).toBe(before);
      }
      clean([...cautionsNow(bench.state, bench.at), ...reviewPoints(bench.state, bench.events)]);
      if (i % 20 === 0) expect(gist(runState(bench.events))).toEqual(gist(bench.state));
    }
    finish(bench);
    expect([bench.state.completed, bench.state.brokenOff].filter((end) => end !== null)).toHaveLength(1);
    expect(gist(runState(bench.events))).toEqual(gist(bench.state));
    if (bench.state.completed) {
      const certificate = JSON.stringify(certificateOf(bench.state, { name: 'Works', address: '' }));
      expect(certificate).not.toMatch(/undefined|NaN|Infinity/);
    }
    // Each of them would be let in again: the log is one that the rules admit.
    let state = runState(bench.events.slice(0, 1));
    for (const event of bench.events.slice(1)) {
      expect(admit(state, withPlan(state, event.act), event.person, event.at)).toBeNull();
      state = withEvent(state, event);
    }
  });
  it('was much, and of every kind', () => {
    expect(refused.length).toBeGreaterThan(20 * cases.length);
    for (const type of [
      'observed',
      'struck',
      'skipped',
      'resumed',
      'conditions-recorded',
      'set-ended',
      'withdrawn',
      'items-chosen',
      'note-added',
    ])
      expect(recorded, type).toContain(type);
    for (const type of [
      'observed',
      'skipped',
      'struck',
      'step-done',
      'run-completed',
      'interval-decided',
      'adjustment-decided',
      'run-started',
    ])
      expect(refused, type).toContain(type);
  });
});
