import { describe, expect, it } from 'vitest';
import { isSamePerson } from './person-name';

describe('a name', () => {
  it('names one person however it is written', () => {
    expect(isSamePerson('Ada Brand', 'ada  brand ')).toBe(true);
    expect(isSamePerson('ÉLISE', 'Élise')).toBe(true);
    expect(isSamePerson('Ada Brand', 'Ada Brandt')).toBe(false);
  });
});
