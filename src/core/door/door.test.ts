import { execFile } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import { answerVerb } from './verbs';

const base = {
  format: 'just-twice/budget',
  version: 1,
  name: 'b',
  output: { symbol: 'Y', unit: 'mm' },
  model: 'a',
  quantities: [{ symbol: 'a', unit: 'mm', distribution: { type: 'rectangular', mean: 0, halfWidth: 1 } }],
};
const quantity = (symbol: string, distribution: unknown) => ({ symbol, unit: 'mm', distribution });
const refusalOf = async (verb: string, document: unknown) => {
  const answer = await answerVerb(verb, typeof document === 'string' ? document : JSON.stringify(document));
  if (answer.ok) throw new Error('It was accepted.');
  expect(answer.refusal.error.message.length).toBeGreaterThan(10);
  return answer.refusal.error;
};

describe('the command-line door', () => {
  const door = (args: string[], input: string) =>
    new Promise<{ code: number; out: string; err: string }>((resolve) => {
      const child = execFile(
        process.execPath,
        ['node_modules/tsx/dist/cli.mjs', 'src/cli/core.ts', ...args],
        { maxBuffer: 1e8 },
        (error, out, err) => resolve({ code: (error?.code as number | undefined) ?? 0, out, err }),
      );
      child.stdin!.end(input);
    });
  it('prints one document and exits 0', async () => {
    const { code, out, err } = await door(['budget'], JSON.stringify(base));
    expect({ code, err }).toEqual({ code: 0, err: '' });
    expect(JSON.parse(out)).toMatchObject({
      estimate: 0,
      standardUncertainty: 1 / Math.sqrt(3),
      coverageFactor: 2,
      reported: { estimate: '0.0', expandedUncertainty: '1.2' },
    });
  });
  it('prints a refusal on standard error only and exits 2', async () => {
    const { code, out, err } = await door(
      ['budget'],
      JSON.stringify({ ...base, quantities: [quantity('a', { type: 'rectangular', mean: 0, halfWidth: -1 })] }),
    );
    expect({ code, out }).toEqual({ code: 2, out: '' });
    expect(JSON.parse(err)).toMatchObject({ error: { path: ['quantities', 0, 'distribution', 'halfWidth'] } });
  });
  it('says when a file cannot be read', async () =>
    expect(JSON.parse((await door(['fit', '/nowhere.json'], '')).err).error.message).toContain('/nowhere.json'));
});

describe('bad input at every verb', () => {
  it.each([
    ['an unknown verb', 'dance', {}, []],
    ['no JSON', 'budget', '{', []],
    ['no document', 'budget', 'null', []],
    [
      'an unknown distribution',
      'budget',
      { ...base, quantities: [quantity('a', { type: 'bathtub' })] },
      ['quantities', 0, 'distribution', 'type'],
    ],
    ['an unknown symbol', 'budget', { ...base, model: 'a + q' }, ['model']],
    [
      'a repeated symbol',
      'budget',
      { ...base, quantities: [...base.quantities, ...base.quantities] },
      ['quantities', 1, 'symbol'],
    ],
    [
      'one reading only',
      'budget',
      { ...base, quantities: [quantity('a', { type: 'readings', values: [1] })] },
      ['quantities', 0, 'distribution', 'values'],
    ],
    [
      'dof below 1',
      'budget',
      { ...base, quantities: [quantity('a', { type: 'normal', mean: 0, standardUncertainty: 1, dof: 0 })] },
      ['quantities', 0, 'distribution', 'dof'],
    ],
    [
      'a correlation beyond 1',
      'budget',
      { ...base, correlations: [{ between: ['a', 'b'], coefficient: 1.2 }] },
      ['correlations', 0, 'coefficient'],
    ],
    ['division by zero', 'budget', { ...base, model: '1/a' }, ['model']],
    ['a probability of 1', 'budget', { ...base, coverage: { probability: 1 } }, ['coverage', 'probability']],
    ['deep nesting', 'budget', { ...base, model: `${'('.repeat(1000)}a${')'.repeat(1000)}` }, ['model']],
    ['a 5 MB model', 'budget', { ...base, model: 'a+'.repeat(2_500_000) + 'a' }, ['model']],
    ['too many trials', 'montecarlo', { budget: base, trials: 1e9 }, ['trials']],
    ['a fault inside the budget', 'montecarlo', { budget: { ...base, model: '' }, trials: 1000 }, ['budget', 'model']],
    ['a probability outside', 'montecarlo', { budget: base, trials: 1000, probability: 95 }, ['probability']],
    [
      'no limit at all',
      'conformity',
      { reference: 1, indicated: 1, expandedUncertainty: 1, tolerance: {}, rule: { kind: 'simple' } },
      ['tolerance'],
    ],
    [
      'an unknown rule',
      'conformity',
      { reference: 1, indicated: 1, expandedUncertainty: 1, tolerance: { upper: 1 }, rule: { kind: 'coin' } },
      ['rule', 'kind'],
    ],
    [
      'a text for a number',
      'conformity',
      { reference: '10', indicated: 1, expandedUncertainty: 1, tolerance: { upper: 1 }, rule: { kind: 'simple' } },
      ['reference'],
    ],
    [
      'an impossible risk',
      'risk',
      { tolerance: 1, expandedUncertainty: 1, reliability: 0.99, solve: { falseAccept: 0.5 } },
      ['solve', 'falseAccept'],
    ],
    ['a reliability of 1', 'risk', { tolerance: 1, expandedUncertainty: 1, reliability: 1 }, ['reliability']],
    ['lengths that differ', 'fit', { x: [1, 2, 3], y: [1, 2] }, ['y']],
    ['equal x', 'fit', { x: [1, 1, 1], y: [1, 2, 3] }, ['x']],
  ])('%s', async (_, verb, document, path) => expect((await refusalOf(verb, document)).path).toEqual(path));

  it('never prints what is not a number', async () => {
    const huge = {
      ...base,
      model: 'a*1e308*10',
      quantities: [quantity('a', { type: 'normal', mean: 1, standardUncertainty: 1 })],
    };
    expect((await refusalOf('budget', huge)).path).toEqual(['model']);
    expect((await refusalOf('montecarlo', { budget: { ...base, model: 'a*1e300*a*1e300' }, trials: 1000 })).path).toEqual([
      'budget',
      'model',
    ]);
  });
  it('an unused quantity and no uncertainty at all are warnings, not refusals', async () => {
    const answer = await answerVerb(
      'budget',
      JSON.stringify({
        ...base,
        quantities: [quantity('a', { type: 'constant', value: 3 }), quantity('b', { type: 'constant', value: 1 })],
      }),
    );
    expect(answer).toMatchObject({ ok: true, document: { estimate: 3, standardUncertainty: 0 } });
    expect((answer as unknown as { document: { warnings: string[] } }).document.warnings).toHaveLength(2);
  });
});
