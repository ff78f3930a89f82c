import { expect, it } from 'vitest';
import { digitsApart } from './digits-apart';

const marked = (entered: string, readBack: string) =>
  digitsApart(entered, readBack)
    ?.map((d) => (d.differs ? `[${d.text}]` : d.text))
    .join('');

it('marks the digits that differ, from the decimal point on both sides', () => {
  expect(marked('0.120', '0.210')).toBe('0.[2][1]0');
  expect(marked('10.5', '1.5')).toBe('[1].5');
  expect(marked('1.5', '-1.5')).toBe('[-]1.5');
  expect(marked('3', '')).toBe('');
});
it('says nothing where both are one number, however it is written', () => {
  expect(marked('0,50', '0.5')).toBeUndefined();
  expect(marked('−2', '-2.0')).toBeUndefined();
});
