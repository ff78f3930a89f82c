import { describe, expect, it } from 'vitest';
import { notWhole } from './not-whole';

describe('a text that is no document', () => {
  it('is told where, without a word of the library', () => {
    const fault = (text: string): string => {
      try {
        JSON.parse(text);
        return '';
      } catch (error) {
        return notWhole(error);
      }
    };
    expect(fault('{ "a": 1,, }')).toMatch(/^This is not a whole document yet: .* near character \d+\.$/);
    expect(fault('{ "a": 1,, }')).not.toContain('JSON');
    expect(notWhole('what else')).toMatch(/too much\.$/);
  });
});
