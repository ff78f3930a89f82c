import { caseSchema } from '../evaluate/case-schema';
import { planRun } from '../plan/run-plan';
import { describe, expect, it } from 'vitest';
import { nextItem, waitingNow } from './next-step';
import { exampleSetup, TestBench } from './fixtures/bench';
import { isHiddenFrom } from './reading-rules';
import { slotOf } from '../state/place-keys';
import type { Slot } from '../state/run-state';

describe('a wait whose minutes are a formula', () => {
  /** Minutes beside the comparator, for 200 g of F1 that came so many kelvin warmer. */
  const minutes = (apart: number) => {
    const bench = new TestBench(exampleSetup('weights-by-substitution'));
    bench.shown.measured = () => apart;
    const atSoak = () => {
      const item = nextItem(bench.state);
      return item?.type === 'step' && item.id === 'soak';
    };
    while (!atSoak()) bench.playNext();
    const begun = bench.at;
    bench.playNext();
    return (Date.parse(waitingNow(bench.state, bench.at)!.endsAt!) - Date.parse(begun)) / 60_000;
  };
  it('takes as long as was found before it began', () => {
    expect(minutes(10)).toBeCloseTo(60 * 1.5 * Math.cbrt(0.2) * Math.log(10 / 0.5), 3);
    expect(minutes(0.2)).toBe(30);
  });
  it('is not counted before it can be told', () => {
    const { procedure, instrument, standards, choices } = exampleSetup('weights-by-substitution');
    const documents = Object.fromEntries(Object.entries(standards).map(([role, of]) => [role, of.map((s) => s.document)]));
    const given = (steps: Record<string, number>) =>
      planRun(procedure, caseSchema.parse({ instrument, standards: documents, choices, steps, observations: [] }));
    expect(given({}).waitingMinutes).toBe(0);
    expect(given({ hours: 2 }).waitingMinutes).toBe(120);
  });
});

describe('a tenth of a division that is estimated by eye', () => {
  const bench = new TestBench(exampleSetup('liquid-in-glass-thermometer'));
  bench.shown.measured = () => 25;
  bench.shown.reading = () => '0.02';
  bench.playTo('reading');
  const next = (): Slot => {
    const item = nextItem(bench.state)!;
    if (item.type !== 'reading') throw new Error(`A reading comes next, not ${item.type}.`);
    return slotOf(item);
  };
  it('is asked with the reference hidden, until it is typed', () => {
    const reference = next();
    expect(reference.observation).toBe('S');
    bench.playNext();
    const asked = next();
    expect(asked.observation).toBe('R');
    expect(isHiddenFrom(bench.state, reference, asked)).toBe(true);
    expect(isHiddenFrom(bench.state, { ...reference, repeat: 2 }, asked)).toBe(true);
    expect(isHiddenFrom(bench.state, asked, asked)).toBe(false);
    expect(isHiddenFrom(bench.state, { ...reference, point: 'p2' }, asked)).toBe(false);
    bench.playNext();
    expect(isHiddenFrom(bench.state, reference, asked)).toBe(false);
    expect(isHiddenFrom(bench.state, reference, next())).toBe(false);
  });
});
