import { describe, expect, it } from 'vitest';
import { parsePlainNumber, parseReading } from './reading';

const read = (text: string) => {
  const parsed = parseReading(text);
  if (!parsed.ok) throw new Error(parsed.message);
  return parsed.reading;
};

describe('a number as it was read', () => {
  it('keeps trailing zeros and knows the step of the last digit', () => {
    expect(read('10.020')).toEqual({ text: '10.020', value: 10.02, resolution: 0.001 });
    expect(read('10.02').resolution).toBe(0.01);
    expect(read('10').resolution).toBe(1);
  });
  it('takes a decimal comma like a point', () =>
    expect(read(' 20,25 ')).toEqual({ text: '20.25', value: 20.25, resolution: 0.01 }));
  it('takes the minus sign of typesetting and of a keyboard', () => {
    expect(read('−0.003').value).toBe(-0.003);
    expect(read('-0,003').value).toBe(-0.003);
  });
  it.each([
    ['', 'empty'],
    ['   ', 'empty'],
    ['1,234.5', 'two-decimal-marks'],
    ['2.5.1', 'two-decimal-marks'],
    ['abc', 'not-a-number'],
    ['1e3', 'not-a-number'],
    ['0x10', 'not-a-number'],
    ['NaN', 'not-a-number'],
    ['Infinity', 'not-a-number'],
    ['.', 'not-a-number'],
    ['-', 'not-a-number'],
    ['2 5', 'not-a-number'],
    ['1'.repeat(21), 'too-long'],
  ])('refuses %j as %s', (text, problem) => expect(parseReading(text)).toMatchObject({ ok: false, problem }));
  it.each([
    ['１０．０２０', '10.020'],
    ['１０，０２５', '10.025'],
    ['－0.003', '-0.003'],
    ['‐1', '-1'],
    ['‑1', '-1'],
    ['—1', '-1'],
    ['﹣1', '-1'],
    ['\u00a07.5', '7.5'],
  ])('reads %j as %s', (typed, text) => expect(read(typed).text).toBe(text));
  it.each(['٣٫٥', '1 234,5', '½', '1’234'])('refuses %j with a sentence', (typed) =>
    expect(parseReading(typed)).toMatchObject({ ok: false, message: expect.stringContaining('Type') }),
  );
  it('knows when a comma can part thousands', () => {
    expect(read('1,234')).toMatchObject({ value: 1.234, asThousands: 1234 });
    for (const clear of ['0,234', '1,23', '1,2345', '1234,567', '1.234', '12345,678'])
      expect(read(clear).asThousands, clear).toBeUndefined();
  });
  it('asks where nothing around says what it means', () => {
    expect(parsePlainNumber('1,234')).toMatchObject({ ok: false, problem: 'doubtful-comma', suggestion: '1.234' });
    expect(parsePlainNumber('1,23')).toMatchObject({ ok: true });
    expect(parsePlainNumber('x')).toMatchObject({ ok: false, problem: 'not-a-number' });
  });
});
