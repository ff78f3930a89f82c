import { describe, expect, it } from 'vitest';
import { printsTheSame, saysTheSame } from './same-results';

describe('whether two documents say the same', () => {
  it('lets the age of a certificate move a last digit, and nothing else', () => {
    expect(saysTheSame({ a: [1, 'x'] }, { a: [1.0001, 'x'] })).toBe(true);
    expect(saysTheSame({ a: [1, 'x'] }, { a: [1.01, 'x'] })).toBe(false);
    expect(saysTheSame({ a: [1, 'x'] }, { a: [1, 'y'] })).toBe(false);
    expect(saysTheSame({ a: 1 }, { a: 1, b: 2 })).toBe(false);
  });
  it('lets a printed number go to another place, where it is one', () => {
    expect(saysTheSame({ value: '−0.00875 %' }, { value: '−0.0088 %' })).toBe(true);
    expect(saysTheSame({ value: '−0.00875 %' }, { value: '0.0088 %' })).toBe(false);
    expect(saysTheSame({ value: '0.0403 K' }, { value: '0.041 K' })).toBe(false);
    expect(saysTheSame({ identification: 'M 0.0403' }, { identification: 'M 0.040' })).toBe(false);
  });
});

describe('whether two texts print the same', () => {
  it('holds every number to the place of the coarser, and every word', () => {
    expect(printsTheSame('0.0403 K, U 0.029 K', '0.040 K, U 0.03 K')).toBe(true);
    expect(printsTheSame('0.0403 K, U 0.029 K', '0.040 K, U 0.02 K')).toBe(false);
    expect(printsTheSame('0.0403 K', '0.0403 mK')).toBe(false);
    expect(printsTheSame('0.05', '0.1')).toBe(true);
    expect(printsTheSame('it reads well', 'it reads')).toBe(false);
  });
});
