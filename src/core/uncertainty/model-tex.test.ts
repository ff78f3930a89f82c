import katex from 'katex';
import { describe, expect, it } from 'vitest';
import { parseModel } from './model-syntax';
import { modelTex, symbolTex } from './model-tex';

describe('a model set in type', () => {
  it.each([
    ['a + b*c', 'a + b \\cdot c'],
    ['(a + b)*c', '\\left(a + b\\right) \\cdot c'],
    ['a - (b - c)', 'a - \\left(b - c\\right)'],
    ['a/b', '\\frac{a}{b}'],
    ['(a+b)^2', '{\\left(a + b\\right)}^{2}'],
    ['-x^2', '-{x}^{2}'],
    ['sqrt(x)', '\\sqrt{x}'],
    ['alpha_S*1e-6', '\\alpha_{S} \\cdot 1 \\cdot 10^{-6}'],
  ])('%s', (model, tex) => expect(modelTex(parseModel(model))).toBe(tex));
  it('sets symbols with their subscripts', () => {
    expect(symbolTex('L_s')).toBe('L_{s}');
    expect(symbolTex('delta_alpha')).toBe('\\delta_{\\alpha}');
    expect(symbolTex('drift')).toBe('\\mathrm{drift}');
    expect(symbolTex('R0')).toBe('\\mathrm{R0}');
    expect(symbolTex('_')).toBe('\\_');
  });
  it('is type that can be set, whatever the model', () => {
    for (const model of [
      'atan2(a_b, -c)/max(1, min(x, y))',
      'exp(-(a/b)^2)',
      'log10(abs(x - 2.5e3)) + log(y)',
      '2^-x^2',
      '-(a+b)',
      'ä_ß + _q',
    ])
      expect(() => katex.renderToString(modelTex(parseModel(model)), { throwOnError: true, strict: false })).not.toThrow();
  });
});
