import { describe, expect, it } from 'vitest';
import { clockMark, clockSetBy, isClockBehind } from './server-clock';

describe('the clock of the server', () => {
  it('is seen when somebody sets it, against a clock that nobody can set', () => {
    clockSetBy(1_000_000, 0);
    expect(clockSetBy(1_060_000, 60_000)).toBe(0);
    expect(clockSetBy(1_062_000, 61_500)).toBe(0);
    expect(clockSetBy(1_062_000 + 3_600_000, 62_000)).toBeCloseTo(3600, -1);
    expect(clockSetBy(1_062_000, 63_000)).toBeCloseTo(-3601, -1);
    expect(clockSetBy(1_063_000, 64_000)).toBe(0);
  });
  it('marks an event that is earlier than the one before it', () => {
    const previous = { at: '2026-11-24T10:00:00.000Z' };
    expect(clockMark(previous, '2026-11-24T10:00:00.000Z', 0)).toBeUndefined();
    expect(clockMark(previous, '2026-11-24T09:59:30.000Z', 0)).toEqual({ earlierBy: 30 });
    expect(clockMark(previous, '2026-11-24T12:00:00.000Z', 7200)).toEqual({ setBy: 7200 });
    expect(clockMark(undefined, '2026-11-24T12:00:00.000Z', 0)).toBeUndefined();
  });
  it('is far behind by minutes, not by seconds', () => {
    expect(isClockBehind('2026-11-24T10:00:00.000Z', '2026-11-24T09:59:00.000Z')).toBe(false);
    expect(isClockBehind('2026-11-24T10:00:00.000Z', '2026-11-24T09:00:00.000Z')).toBe(true);
    expect(isClockBehind(null, '2026-11-24T09:00:00.000Z')).toBe(false);
  });
});
