import { describe, expect, it } from 'vitest';
import type { QuantityDraft } from './budget-draft';
import { inputSentence } from './input-sentence';

const input = (more: Partial<QuantityDraft>): QuantityDraft => ({
  symbol: 'L',
  name: 'Gauge block',
  unit: 'mm',
  source: '',
  form: 'constant',
  fields: {},
  ...more,
});

describe('an input as one sentence', () => {
  it.each<[Partial<QuantityDraft>, string]>([
    [
      {
        form: 'normal-expanded',
        fields: { mean: '150.0002', expandedUncertainty: '0.0006', coverageFactor: '2' },
        source: 'Certificate OLI 25-30718',
      },
      'Gauge block is 150.0002 mm, give or take 0.0006 mm (k = 2) — Certificate OLI 25-30718.',
    ],
    [{ form: 'rectangular', fields: { mean: '-1', halfWidth: '0,5' } }, 'Gauge block is −1 mm, anywhere within 0,5 mm of it.'],
    [{ form: 'rectangular-limits', fields: { lower: '1', upper: '2' } }, 'Gauge block lies anywhere from 1 mm to 2 mm.'],
    [{ form: 'readings', fields: { values: '1.1 1.2; 1.3' } }, 'Gauge block has been read 3 times, and is their mean.'],
    [{ form: 'constant', name: '', fields: { value: '3' }, unit: '' }, 'L is 3, exactly.'],
    [
      { form: 'normal', fields: { mean: '3', standardUncertainty: '0.1', dof: '7' } },
      'Gauge block is 3 mm, with a standard uncertainty of 0.1 mm, with 7 degrees of freedom.',
    ],
  ])('%j', (more, sentence) => expect(inputSentence(input(more))).toBe(sentence));
  it('leaves out the verb where the name has one', () =>
    expect(inputSentence(input({ name: 'Block warmer by', unit: 'K', fields: { value: '2' } }))).toBe(
      'Block warmer by 2 K, exactly.',
    ));
  it('shows what is not typed yet as a gap, and keeps what cannot be read as it was typed', () => {
    expect(inputSentence(input({ form: 'rectangular', fields: { mean: 'abc' } }))).toBe(
      'Gauge block is abc mm, anywhere within … of it.',
    );
    expect(inputSentence(input({ name: '', symbol: '', form: 'rectangular' }))).toBe('An input is …, anywhere within … of it.');
  });
});
