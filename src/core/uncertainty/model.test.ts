import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileModel } from './model-compile';
import { ModelSyntaxError, maximumModelDepth, parseModel } from './model-syntax';

const evaluate = (text: string, values: Record<string, number> = {}) => {
  const model = compileModel(text);
  const result = model.evaluate(model.symbols.map((s) => values[s]!));
  return { ...result, slope: Object.fromEntries(model.symbols.map((s, i) => [s, result.gradient[i]!])) };
};
const faultOf = (text: string): ModelSyntaxError => {
  try {
    parseModel(text);
  } catch (error) {
    if (error instanceof ModelSyntaxError) return error;
    throw error;
  }
  throw new Error(`"${text}" was accepted.`);
};

describe('the model language', () => {
  it.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['-2^2', -4],
    ['2^-1', 0.5],
    ['2^3^2', 512],
    ['8 / 4 / 2', 1],
    ['2 - 3 - 4', -5],
    ['1.5e-3 * 2E3', 3],
    ['.5 + 1.', 1.5],
    ['cos(pi)', -1],
    ['max(1, 5, 3) - min(4, 2)', 3],
    ['atan2(1, 1) * 4', Math.PI],
    ['log(exp(2)) + log10(1000)', 5],
    ['--3', 3],
  ])('%s is %d', (text, expected) => expect(evaluate(text).value).toBeCloseTo(expected, 12));

  it('marks the place of a fault', () => {
    expect(faultOf('a + * b')).toMatchObject({ start: 4, end: 5 });
    expect(faultOf('a + (b')).toMatchObject({ start: 6 });
    expect(faultOf('a b')).toMatchObject({ start: 2 });
    expect(faultOf('a + b)').message).toContain('no opening');
    expect(faultOf('')).toMatchObject({ start: 0 });
    expect(faultOf('2 § 3')).toMatchObject({ start: 2 });
    expect(faultOf('sqrt + 1').message).toContain('function');
    expect(faultOf('atan2(1)').message).toContain('two values');
    expect(faultOf('max()').message).toContain('at least one');
    expect(faultOf('a(2)').message).toContain('product');
  });

  it.each(['constructor', '__proto__', 'toString', 'globalThis', 'process', 'hasOwnProperty'])(
    '%s is only a symbol, with no way out',
    (name) => {
      expect(compileModel(name).symbols).toEqual([name]);
      expect(() => parseModel(`${name}(1)`)).toThrow(ModelSyntaxError);
    },
  );
  it.each([
    'a.b',
    'a[0]',
    'a = 1',
    'a; b',
    '`x`',
    '"x"',
    'a => a',
    'new a',
    '{}',
    'a ? b : c',
    'a && b',
    '1 // 2',
    'import(1)',
    'x!',
  ])('refuses %s', (text) => expect(() => parseModel(text)).toThrow(ModelSyntaxError));

  it('refuses deep nesting and endless text instead of hanging', () => {
    expect(faultOf('('.repeat(1000) + '1' + ')'.repeat(1000)).message).toContain(String(maximumModelDepth));
    expect(faultOf('-'.repeat(5000) + '1').message).toContain('deep');
    expect(faultOf('a+'.repeat(2_500_000)).message).toContain('longer');
    expect(evaluate(`${'('.repeat(100)}1${')'.repeat(100)}`).value).toBe(1);
  });
  it('takes long flat sums', () => expect(evaluate(Array(3000).fill('1').join('+')).value).toBe(3000));
});

describe('sensitivities', () => {
  it('agree with differences of the value for random models', () => {
    const leaf = fc.oneof(
      fc.constantFrom('x', 'y'),
      fc.double({ min: 0.5, max: 3, noNaN: true }).map((v) => v.toFixed(3)),
    );
    const { tree } = fc.letrec<{ tree: string }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 4 },
        leaf,
        fc.tuple(tie('tree'), fc.constantFrom('+', '-', '*', '/'), tie('tree')).map(([a, op, b]) => `(${a} ${op} ${b})`),
        fc
          .tuple(fc.constantFrom('sqrt', 'exp', 'sin', 'cos', 'atan', 'tanh', 'log'), tie('tree'))
          .map(([f, a]) => `${f}(1.5 + sin(${a}))`),
        tie('tree').map((a) => `(${a})^2`),
      ),
    }));
    fc.assert(
      fc.property(tree, (text) => {
        const model = compileModel(text);
        const at = model.symbols.map((s) => (s === 'x' ? 1.37 : 0.83));
        const { value, gradient } = model.evaluate(at);
        if (!Number.isFinite(value) || Math.abs(value) > 1e4 || gradient.some((g) => !Number.isFinite(g) || Math.abs(g) > 1e4))
          return;
        model.symbols.forEach((_, i) => {
          const h = 1e-5;
          const shifted = (by: number) => model.evaluate(at.map((v, j) => (j === i ? v + by : v))).value;
          const difference = (shifted(h) - shifted(-h)) / (2 * h);
          expect(gradient[i]!).toBeCloseTo(difference, Math.abs(gradient[i]!) > 10 ? 1 : 3);
        });
      }),
      { numRuns: 300 },
    );
  });
  it.each([
    ['x^3', 2, 12],
    ['2^x', 3, 8 * Math.LN2],
    ['x^0', 0, 0],
    ['x^2', 0, 0],
    ['asin(x)', 0.5, 1 / Math.sqrt(0.75)],
    ['acos(x)', 0.5, -1 / Math.sqrt(0.75)],
    ['tan(x)', 0.5, 1 / Math.cos(0.5) ** 2],
    ['sinh(x)', 1, Math.cosh(1)],
    ['cosh(x)', 1, Math.sinh(1)],
    ['log10(x)', 2, 1 / (2 * Math.LN10)],
    ['abs(x)', -2, -1],
    ['max(x, 1)', 3, 1],
    ['min(x, 1)', 3, 0],
    ['atan2(x, 2)', 1, 2 / 5],
    ['x*x', 3, 6],
  ])('d/dx of %s at %d', (text, x, slope) => expect(evaluate(text, { x }).slope['x']).toBeCloseTo(slope, 12));
  it('says so at a kink', () => {
    expect(evaluate('abs(x)', { x: 0 }).kinks[0]).toContain('kink');
    expect(evaluate('max(x, y)', { x: 1, y: 1 }).kinks[0]).toContain('equal');
    expect(evaluate('abs(x)', { x: 1 }).kinks).toEqual([]);
  });
});
