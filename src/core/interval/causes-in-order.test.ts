import { describe, expect, it } from 'vitest';
import { causesInOrder } from './checks-page';

const cause = (id: string, more: Partial<Parameters<typeof causesInOrder>[0][number]> = {}) => ({
  id,
  title: id,
  instruction: '',
  minutes: 5,
  tried: 0,
  helped: 0,
  isStandards: false,
  ...more,
});
const order = (...causes: ReturnType<typeof cause>[]) => causesInOrder(causes).map((c) => c.id);

describe('causes of an alarm', () => {
  it('are looked for at the standard first, then by the minutes that each takes', () =>
    expect(
      order(
        cause('long', { minutes: 20 }),
        cause('short', { minutes: 2 }),
        cause('standard', { isStandards: true, minutes: 30 }),
      ),
    ).toEqual(['standard', 'short', 'long']));
  it('what it was here before comes first of all, what was looked for in vain later', () =>
    expect(
      order(
        cause('standard', { isStandards: true }),
        cause('vain', { tried: 3, minutes: 2 }),
        cause('other', { minutes: 4 }),
        cause('was', { tried: 4, helped: 1, minutes: 40 }),
      ),
    ).toEqual(['was', 'standard', 'other', 'vain']));
});
