import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { answerVerb } from '../door/verbs';
import { compareWithPublished, publishedExampleSchema, unitOfResult } from './published-example';
import { compareShares } from './published-shares';

const examples = publishedExampleSchema
  .array()
  .parse(
    (JSON.parse(readFileSync(new URL('./published-examples.json', import.meta.url), 'utf8')) as { examples: unknown }).examples,
  );

describe('published examples', () => {
  it.each(examples.map((e) => [`${e.id}: ${e.source}`, e] as const))('%s', async (_, example) => {
    const answer = await answerVerb(example.verb, JSON.stringify(example.input));
    if (!answer.ok) throw new Error(answer.refusal.error.message);
    expect(compareWithPublished(example, answer.document).filter((c) => !c.agrees)).toEqual([]);
  });
  it('no two share a name, and there are many', () => {
    expect(new Set(examples.map((e) => e.id)).size).toBe(examples.length);
    expect(examples.length).toBeGreaterThan(30);
  });
});

describe('published shares', () => {
  const lines = compareShares();
  it.each(lines.map((l) => [l.args.join(' to '), l] as const))('from %s: the share that goes out is what was published', (_, l) =>
    expect(Math.abs(l.computed - l.value)).toBeLessThanOrEqual(l.within),
  );
  it('are all there is', () => {
    expect(lines).toHaveLength(8);
    expect(lines.reduce((sum, l) => sum + l.computed, 0)).toBeCloseTo(1, 4);
    expect(lines.every((l) => l.agrees)).toBe(true);
  });
});

describe('units of results', () => {
  const example = (id: string) => examples.find((e) => e.id === id)!;
  it('are those of the budget; factors, degrees of freedom and curves are pure numbers', () => {
    const of = example('gum-h1');
    expect(['estimate', 'standardUncertainty', 'expandedUncertainty'].map((n) => unitOfResult(of, n))).toEqual([
      'nm',
      'nm',
      'nm',
    ]);
    expect(['effectiveDof', 'coverageFactor'].map((n) => unitOfResult(of, n))).toEqual(['1', '1']);
    const montecarlo = examples.find((e) => e.verb === 'montecarlo' && JSON.stringify(e.input).includes('"mg"'))!;
    expect(['interval.low', 'validation.validated'].map((n) => unitOfResult(montecarlo, n))).toEqual(['mg', '1']);
    expect(
      unitOfResult(
        examples.find((e) => e.verb === 'fit')!,
        'coefficients.0',
      ),
    ).toBe('1');
  });
});

describe('comparing', () => {
  const example = publishedExampleSchema.parse({
    id: 'x',
    source: 's',
    verb: 'fit',
    input: {},
    expect: { 'coefficients.1': { value: 2, within: 0.1 }, ok: { value: true } },
  });
  it('tells agreement from difference', () => {
    expect(compareWithPublished(example, { coefficients: [0, 2.05], ok: true }).map((c) => c.agrees)).toEqual([true, true]);
    expect(compareWithPublished(example, { coefficients: [0, 2.2], ok: false }).map((c) => c.agrees)).toEqual([false, false]);
  });
  it('a missing number never agrees', () =>
    expect(compareWithPublished(example, { coefficients: [0] })).toMatchObject([
      { computed: null, agrees: false },
      { computed: null, agrees: false },
    ]));
});
