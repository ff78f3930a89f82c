import { describe, expect, it } from 'vitest';
import { exampleSetup, TestBench } from './fixtures/bench';
import { placeTitle } from './place-words';

describe('the only point of a range', () => {
  const titles = (id: string, series: string) => {
    const { state } = new TestBench(exampleSetup(id));
    return state.plan.flatMap((i) => (i.type === 'reading' && i.series === series ? [placeTitle(state, i)] : []));
  };
  it('has no name of its own where nothing else is read there', () =>
    expect(titles('flow-volume-meter-by-syringe', 'strokes')[0]).toMatch(/^Slow, six seconds(, pushing)?$/));
  it('is called by its title where it has one', () => {
    expect(titles('piston-pipette-by-weighing', 'volume')).toContainEqual(expect.stringContaining('Nominal volume'));
  });
  it('is named where something else is read of the same range', () =>
    expect(titles('multimeter', 'zeroVolts')[0]).toMatch(/, Zero, shorted$/));
});
