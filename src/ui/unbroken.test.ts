import { expect, it } from 'vitest';
import { unbroken } from './unbroken';

it('a number and its unit stay on one line, words part as they will', () => {
  expect(unbroken('uses 69 % of it, below the 70 %')).toBe('uses 69\u00a0% of it, below the 70\u00a0%');
  expect(unbroken('Error, 5.1 mm: −5.11 µm, and 3 more points')).toBe('Error, 5.1\u00a0mm: −5.11\u00a0µm, and 3 more points');
  expect(unbroken('at 23 °C')).toBe('at 23\u00a0°C');
});
