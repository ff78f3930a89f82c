import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { budgetDraft, draftDocument } from './budget-draft';
import { budgetSchema } from './budget-schema';
import { propagate } from './propagate';

const examples = (
  JSON.parse(readFileSync(new URL('../proof/published-examples.json', import.meta.url), 'utf8')) as {
    examples: { id: string; verb: string; input: unknown }[];
  }
).examples.filter((e) => e.verb === 'budget' && !e.id.includes('numacc3'));

describe('a budget as a draft', () => {
  it.each(examples.map((e) => [e.id, e.input] as const))('%s survives being opened and written again', (_, input) => {
    const budget = budgetSchema.parse(input);
    const again = budgetSchema.parse(draftDocument(budgetDraft(budget)));
    expect(propagate(again)).toEqual(propagate(budget));
  });
  const draft = budgetDraft(budgetSchema.parse(examples[0]!.input));
  const withField = (fields: Record<string, string>, form = draft.quantities[0]!.form) => ({
    ...draft,
    quantities: [{ ...draft.quantities[0]!, form, fields }, ...draft.quantities.slice(1)],
  });
  it('takes decimal commas, powers of ten and lists of readings', () => {
    expect(draftDocument(withField({ mean: '10,5', standardUncertainty: '1,15e-5' }, 'normal'))).toMatchObject({
      quantities: [{ distribution: { type: 'normal', mean: 10.5, standardUncertainty: 1.15e-5 } }, {}, {}, {}, {}, {}, {}, {}],
    });
    expect(draftDocument(withField({ values: '1,5 1.6;1.7\n1.8' }, 'readings'))).toMatchObject({
      quantities: [{ distribution: { values: [1.5, 1.6, 1.7, 1.8] } }, {}, {}, {}, {}, {}, {}, {}],
    });
  });
  it('keeps every digit of a computed number', () =>
    expect(draftDocument(withField({ mean: '-0.00010000000000000286', standardUncertainty: '5e-7' }, 'normal'))).toMatchObject({
      quantities: [{ distribution: { mean: -0.00010000000000000286, standardUncertainty: 5e-7 } }, {}, {}, {}, {}, {}, {}, {}],
    }));
  it('lets the schema refuse what is no number, at its place', () => {
    const parsed = budgetSchema.safeParse(draftDocument(withField({ mean: '10 or so', standardUncertainty: '1' }, 'normal')));
    expect(parsed.error?.issues[0]?.path).toEqual(['quantities', 0, 'distribution', 'mean']);
  });
});
