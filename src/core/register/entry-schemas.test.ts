import { describe, expect, it } from 'vitest';
import { instrumentEntrySchema } from './entry-schemas';

const entry = (more: Record<string, unknown>) => ({
  identification: 'QP-1',
  kind: 'piston-pipette',
  owner: 'Works',
  unit: 'uL',
  lower: 10,
  upper: 100,
  usedLower: 10,
  usedUpper: 100,
  resolution: 0.1,
  adjustmentAllowed: true,
  intervalMonths: null,
  state: 'in-use',
  nextDue: null,
  ...more,
});
const faultIn = (more: Record<string, unknown>): string | undefined =>
  instrumentEntrySchema.safeParse(entry(more)).error?.issues[0]?.path.join('.');

describe('an instrument that is registered', () => {
  it('may be made for one value: its range is that value alone', () =>
    expect(faultIn({ lower: 100, upper: 100, usedLower: 100, usedUpper: 100, resolution: 1 })).toBeUndefined());
  it('has no step coarser than half its range, nor than half the one value', () => {
    expect(faultIn({ resolution: 60 })).toBe('resolution');
    expect(faultIn({ lower: 100, upper: 100, usedLower: 100, usedUpper: 100, resolution: 60 })).toBe('resolution');
  });
  it('holds something', () => expect(faultIn({ lower: 0, upper: 0, usedLower: 0, usedUpper: 0 })).toBe('upper'));
});
