import { describe, expect, it } from 'vitest';
import { nextItem } from './next-step';
import { setups, TestBench } from './fixtures/bench';
import { slotOf } from '../state/place-keys';

describe('a standard that is read', () => {
  /** A thermometer in its bath, where the reference is read for the first time: 10, 50 and 90 °C. */
  const bench = () => new TestBench(setups['thermometer-in-bath']!()).playTo('reading');
  const reads = (text: string) => {
    const b = bench();
    const item = nextItem(b.state)!;
    if (item.type !== 'reading') throw new Error(`A reading comes next, not ${item.type}.`);
    return b.refusal({ type: 'observed', ...slotOf(item), text });
  };
  it('is doubted further from its point than a tenth of the way to the next, and may be kept with a reason', () => {
    expect(reads('13.9')).toBeNull();
    expect(reads('14.1')).toMatchObject({ keepable: true });
    expect(reads('5.8')).toMatchObject({ keepable: true });
  });
});
