import { describe, expect, it } from 'vitest';
import { callsIn, formula, formulasIn, namesOf, withNames } from './formula';

describe('names of a formula', () => {
  it('are each named once, functions and arguments included', () =>
    expect(namesOf('2 * a.b + mpe(c, a.b) - sqrt(d)')).toEqual(['a.b', 'mpe', 'c', 'd']));
  it('are found where they stand, not where their letters do', () =>
    expect(withNames('E + Ex - fit.E.c0 * E', (name) => (name === 'E' ? '(y - x)' : name))).toBe(
      '(y - x) + Ex - fit.E.c0 * (y - x)',
    ));
  it('of functions come as calls', () =>
    expect(withNames('a + t.col(a)', (name, isCall) => (isCall ? `[${name}]` : 'x'))).toBe('x + [t.col](x)'));
  it('are not functions of the model language, and not numbers', () => expect(namesOf('max(1e-3, 2)')).toEqual([]));
  it('of calls come with their place and how many values they are given', () =>
    expect(callsIn(formula('1 + mpe(a, b)').tree)).toEqual([{ name: 'mpe', start: 4, args: 2 }]));
});

describe('formulas of a part of a document', () => {
  it('are found under every member that holds one', () =>
    expect(
      formulasIn({
        lower: { is: 'a' },
        when: [{ positive: 'b' }, { choice: 'kind', is: 'yes' }, { step: 'done', is: ['no'] }],
        fits: [{ x: 'c', y: 'd', basis: ['1', 'x'] }],
        uses: { block: { item: 'e', where: { at: 'f' } } },
        show: [{ title: 'Apart', is: 'g', step: 0.01 }],
        example: { input: { is: 'not a formula' } },
      }),
    ).toEqual(['a', 'b', 'c', 'd', '1', 'x', 'e', 'f', 'g']));
});
