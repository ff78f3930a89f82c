import { beforeEach, expect, it } from 'vitest';
import { deviceAhead, forgetServerTime, lastContact, learnServerTime, serverNow } from './server-clock';

beforeEach(forgetServerTime);
const at = (iso: string) => Date.parse(iso);

it('is the device’s own until the server has answered', () => {
  expect(serverNow(0, at('2026-11-24T08:00:00Z'))).toBe(at('2026-11-24T08:00:00Z'));
  expect([deviceAhead(), lastContact()]).toEqual([0, null]);
});
it('counts on from the last answer by the clock that nobody sets, however the device’s is set', () => {
  learnServerTime('2026-11-24T08:00:00.000Z', 1000);
  expect(serverNow(61_000, at('2031-01-01T00:00:00Z'))).toBe(at('2026-11-24T08:01:00Z'));
});
it('never runs backward, also where a later answer says an earlier time', () => {
  learnServerTime('2026-11-24T08:10:00.000Z', 0);
  expect(serverNow(0)).toBe(at('2026-11-24T08:10:00Z'));
  learnServerTime('2026-11-24T08:09:00.000Z', 1000);
  expect(serverNow(1000)).toBe(at('2026-11-24T08:10:00Z'));
  expect(serverNow(62_000)).toBe(at('2026-11-24T08:10:01Z'));
});
it('passes over what is no time', () => {
  learnServerTime('soon', 0);
  learnServerTime(null, 0);
  expect(lastContact()).toBeNull();
});
