import { describe, expect, it } from 'vitest';
import { adjustmentAdvice } from './adjustment-advice';
import { exampleSetup, TestBench } from './fixtures/bench';
import { nextItem } from './next-step';
import { faultIn } from './run-results';

const begun = (equation: string) => {
  const setup = exampleSetup('matched-probe-and-transmitter');
  const bench = new TestBench({ ...setup, choices: { ...setup.choices, order: 'match', equation } });
  const ordinary = bench.shown.reading;
  bench.shown.reading = (state, slot) => {
    const celsius = bench.certified(state, slot);
    if (slot.observation === 'Rp') return (100 * (1 + 3.9083e-3 * celsius - 5.775e-7 * celsius ** 2)).toFixed(4);
    return slot.observation === 'I' ? (4 + (16 * celsius) / 150).toFixed(3) : ordinary(state, slot);
  };
  bench.shown.measured = () => 1;
  return bench;
};

describe('a choice that the points cannot bear', () => {
  it('is refused before anything is read, and may be kept with a reason', () => {
    const bench = begun('ABC');
    expect(() => bench.prepared()).toThrow('Lowest point for an equation with C: 0 °C');
    expect(nextItem(bench.state)).toMatchObject({ type: 'step', id: 'belowZero' });
  });
});

describe('a way of measuring with a standard of its own', () => {
  it.each([
    ['coordinate-measuring-machine', { method: 'ballbar' }, 'Ball bar'],
    ['gloss-and-haze-meter', { haze: 'yes' }, 'White tile for haze'],
  ])('%s: asks for it, so that what was chosen is measured', (id, choices, title) => {
    const setup = exampleSetup(id);
    const { bar: _bar, tile: _tile, ...others } = setup.standards;
    const begin = () => new TestBench({ ...setup, standards: others, choices: { ...setup.choices, ...choices } });
    expect(begin).toThrow(`Nothing is chosen for ${title}`);
  });
});

describe('readings that give no results', () => {
  it('are not judged: no advice, no decision, and a way on', () => {
    const bench = begun('ABC');
    expect(() => bench.prepared()).toThrow();
    const { set } = nextItem(bench.state)!;
    bench.do({ type: 'step-done', set, id: 'belowZero', value: 0, reason: 'The probe is never used below zero' });
    bench.playTo('judge');
    const judged = nextItem(bench.state)!.set;
    expect(faultIn(bench.state, judged)).toContain('too alike');
    const { reason, adjustment, outlooks } = adjustmentAdvice(bench.state, judged);
    expect({ adjustment, outlooks }).toEqual({ adjustment: null, outlooks: [] });
    expect(reason).toMatch(/cannot be worked out: .*too alike.* break the run off/);
    expect(reason).not.toContain('Nothing is outside');
    const decision = {
      type: 'adjustment-decided',
      set: judged,
      adjustment: null,
      proposed: null,
      reason: 'It looks right',
    } as const;
    expect(bench.try(decision)).toContain('cannot be worked out');
    expect(nextItem(bench.state)?.type).toBe('judge');
  });
  it('are judged with the equation that they bear', () => {
    const bench = begun('AB').playTo('judge');
    const { set } = nextItem(bench.state)!;
    expect(faultIn(bench.state, set)).toBeNull();
    expect(adjustmentAdvice(bench.state, set).adjustment).toBe('match');
  });
});
