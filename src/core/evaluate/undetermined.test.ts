import { describe, expect, it } from 'vitest';
import type { Evaluation } from './evaluation';
import {
  aggregatesIn,
  documentOf,
  observed,
  resultOf,
  resultsIn,
  row,
  run,
  standard,
  undeterminedIn,
} from './fixtures/documents';

type Members = Record<string, unknown>;

/** A gauge whose certificate reaches from 0 to 100, and points beyond it. */
const gauge = standard({
  corrections: [
    { at: 0, correction: 0, expandedUncertainty: 0.2 },
    { at: 100, correction: 0, expandedUncertainty: 0.2 },
  ],
});
const covered = (series: Members, readings: readonly number[], more: Members = {}, given: Members = {}): Evaluation =>
  run(
    documentOf(
      [
        {
          uses: { g: { role: 'gauge', at: 'point.nominal' } },
          points: { list: [0, 100, 150] },
          observe: [observed()],
          results: [resultOf('R - g.value', { tolerance: { lower: -1, upper: 1 } })],
          ...series,
        },
      ],
      { standards: [{ role: 'gauge' }], ...more },
    ),
    {
      standards: { gauge },
      observations: readings.map((r, i) => row('s1', [r], { point: `p${i + 1}` })),
      ...given,
    },
  );

describe('where a certificate does not reach', () => {
  it('the result is not determined with its reason, nothing is refused, and the rest is judged', () => {
    const evaluation = covered({}, [0.1, 100.4, 150]);
    expect(resultsIn(evaluation).map((r) => r.verdict)).toEqual(['pass', 'pass']);
    expect(undeterminedIn(evaluation)).toEqual([
      { verdict: 'not-determined', why: expect.stringContaining('does not cover 150') as string },
    ]);
    expect(evaluation).toMatchObject({ complete: true, verdict: 'not-determined' });
    expect(covered({}, [0.1, 105, 150]).verdict).toBe('fail');
  });
  it.each([
    // The rest alone puts it outside: what is missing can only make it more.
    ['range', { upper: 0.2 }, 'fail'],
    ['greatest', { upper: 0.3 }, 'fail'],
    ['greatest-magnitude', { upper: 0.3, lower: -0.3 }, 'fail'],
    ['least', { lower: 0.2 }, 'fail'],
    // It is inside as far as it is known, or could come back.
    ['range', { upper: 0.5 }, 'not-determined'],
    ['greatest', { lower: 0.9 }, 'not-determined'],
    ['mean', { upper: 0.1 }, 'not-determined'],
    ['standard-deviation', { upper: 0.01 }, 'not-determined'],
  ])('a statistic over it: %s against %j is %s', (statistic, tolerance, verdict) => {
    const aggregates = [{ id: 'a', title: 'a', unit: 'mm', of: 'E', over: ['points'], statistic, tolerance }];
    const evaluation = covered({ aggregates }, [0.1, 100.4, 150]);
    expect(evaluation.series[0]!.aggregates[0]!.verdict).toBe(verdict);
  });
  it('an adjustment that the rest does not want is undecided; one that it wants is wanted', () => {
    const adjustments = [{ id: 'zero', title: 'Zero', kind: 'offset', of: ['s1'] }];
    const advice = (second: number) => covered({}, [0.1, second, 150], { adjustments }).adjustments[0]!;
    expect(advice(100.4)).toMatchObject({ wanted: null, why: expect.stringContaining('150') as string });
    expect(advice(105).wanted).toBe(true);
  });
  it('a fit through it is not told, and what names the fit is not determined', () => {
    const fits = [{ id: 'line', y: 'R - g.value', x: 'point.nominal', basis: ['1', 'x'], over: ['points'] }];
    const evaluation = covered({ fits, results: [resultOf('fit.line.c0', { tolerance: { upper: 1 } })] }, [0.1, 100.4, 150]);
    expect(evaluation.series[0]!.fits).toEqual({});
    expect(undeterminedIn(evaluation)).toHaveLength(3);
  });
});

describe('what waits is not judged as if it were there', () => {
  const conditions = [{ id: 'air', title: 'Air', unit: 'Cel', recorded: 'set' }];
  const waiting = (more: Members = {}, given: Members = {}) =>
    run(
      documentOf(
        [{ observe: [observed()], results: [resultOf('R + 0 * condition.air', { tolerance: { upper: 5 } })], ...more }],
        { conditions },
      ),
      { observations: [row('s1', [1])], ...given },
    );
  it('for a condition: not determined, with what is missing', () => {
    expect(undeterminedIn(waiting())[0]).toMatchObject({
      verdict: 'not-determined',
      why: expect.stringContaining('air') as string,
    });
    expect(waiting().verdict).toBe('not-determined');
    expect(waiting({}, { conditions: { air: 20 } }).verdict).toBe('pass');
  });
  it('for the condition in a limit: the limit is not taken to be absent', () =>
    expect(waiting({ results: [resultOf('R', { tolerance: { upper: { is: 'condition.air' } } })] }).verdict).toBe(
      'not-determined',
    ));
  it('an optional series never makes the set undetermined by waiting', () => {
    expect(waiting({ optional: true }).verdict).toBeNull();
    expect(undeterminedIn(waiting({ optional: true }))).toHaveLength(1);
  });
  it('a statistic judged with a budget that waits is not judged without it', () => {
    const aggregates = [
      {
        id: 'a',
        title: 'a',
        unit: 'mm',
        of: 'R',
        over: ['points'],
        statistic: 'mean',
        result: {
          model: 'a + c',
          quantities: [{ symbol: 'c', unit: 'mm', distribution: { type: 'constant', value: { is: 'condition.air' } } }],
        },
        tolerance: { upper: 5 },
      },
    ];
    expect(waiting({ results: [], aggregates }).series[0]!.aggregates[0]!).toMatchObject({ verdict: 'not-determined' });
  });
  it('stopped early: the verdict of what was read, and the places that were not', () => {
    const evaluation = covered(
      { sweeps: [{ id: 'up' }, { id: 'down' }] },
      [],
      {},
      {
        observations: [row('s1', [0.1], { point: 'p1', sweep: 'up' })],
      },
    );
    expect(evaluation).toMatchObject({ complete: false, verdict: 'pass' });
    expect(evaluation.notRead).toHaveLength(5);
    expect(evaluation.notRead![0]).toEqual({ series: 's1', point: 'p2', sweep: 'up' });
    expect(covered({}, [0, 100, 100]).notRead).toBeUndefined();
  });
});

describe('what is left out stays local', () => {
  const leftOut = (statistic: Members) =>
    run(
      documentOf([
        {
          points: {
            table: [
              { label: 'a', limit: 1 },
              { label: 'b', limit: 0 },
              { label: 'c', limit: 1, when: { positive: '0' } },
            ],
          },
          observe: [observed()],
          results: [resultOf('R', { when: { positive: 'point.limit' }, tolerance: { upper: 5 } })],
          aggregates: [
            {
              id: 'g',
              title: 'g',
              unit: 'mm',
              over: ['points'],
              statistic: 'greatest',
              of: 'E',
              tolerance: { upper: 2 },
              ...statistic,
            },
          ],
        },
      ]),
      { observations: [row('s1', [3], { point: 'a' }), row('s1', [9], { point: 'b' })] },
    );
  it('a statistic runs over what is there', () => {
    expect(aggregatesIn(leftOut({})).map((a) => [a.value, a.verdict])).toEqual([[3, 'fail']]);
    expect(leftOut({}).verdict).toBe('fail');
  });
  it('with nothing there, or where it names what is left out, it is left out', () => {
    expect(leftOut({ among: ['b'] }).series[0]!.aggregates).toEqual([]);
    expect(leftOut({ among: ['a', 'c'] }).series[0]!.aggregates).toEqual([]);
    expect(leftOut({ statistic: 'greatest-deviation-from', from: 'b' }).series[0]!.aggregates).toEqual([]);
    expect(leftOut({ among: ['b'] }).verdict).toBe('pass');
  });
  it('a limit that is a formula holds in rows of what a series runs through, and in lists', () => {
    const judged = (series: Members, instrument: Members = {}) =>
      run(
        documentOf([{ observe: [], results: [resultOf('6', { tolerance: { upper: { is: 'each.limit' } } })], ...series }], {
          instrument: { kinds: ['invented'], lists: [{ id: 'ranges', columns: [{ id: 'limit' }] }] },
        }),
        { instrument },
      ).verdict;
    expect(judged({ forEach: { of: [{ id: 'a', limit: { is: '5' } }] } })).toBe('fail');
    expect(judged({ forEach: { of: [{ id: 'a', limit: { is: '5 + 2' } }] } })).toBe('pass');
    expect(judged({ forEach: { list: 'ranges' } }, { lists: { ranges: [{ id: 'a', limit: { is: '2 * 2' } }] } })).toBe('fail');
    // A column that the row does not have is no limit there.
    expect(judged({ forEach: { of: [{ id: 'a', limit: 5, when: { positive: '0' } }, { id: 'b' }] } })).toBeNull();
  });
});

describe('the end of a scale', () => {
  const loop = (readings: (number | string)[], series: Members = {}, more: Members = {}) =>
    run(
      documentOf(
        [
          {
            repeats: readings.length,
            observe: [observed('R', { saturates: { lower: 3.8, upper: 20.5 } })],
            results: [resultOf('R - 20', { tolerance: { lower: -0.4, upper: 0.4 } })],
            ...series,
          },
        ],
        more,
      ),
      {
        observations: [
          row(
            's1',
            readings.map((R) => ({ R })),
          ),
        ],
      },
    );
  it('outside where the error reckoned from that end is outside already', () => {
    expect(undeterminedIn(loop([20.5]))[0]).toMatchObject({ verdict: 'fail', limits: { lower: -0.4, upper: 0.4 } });
    expect(undeterminedIn(loop(['>']))[0]).toMatchObject({ verdict: 'fail' });
    // One such repeat is enough.
    expect(undeterminedIn(loop([20.1, 21.2, 21.2]))[0]!.verdict).toBe('fail');
  });
  it('not determined where that end itself is within the limits, or no end is stated, or it would go back inside', () => {
    const within = { results: [resultOf('R - 20', { tolerance: { lower: -2, upper: 2 } })] };
    expect(undeterminedIn(loop([20.6], within))[0]!.verdict).toBe('not-determined');
    expect(undeterminedIn(loop(['>'], { observe: [observed()] }))[0]!.verdict).toBe('not-determined');
    // At the lower end 16.2 below: going on makes it worse. Turned round, the same end would go back inside.
    expect(undeterminedIn(loop(['<']))[0]!.verdict).toBe('fail');
    const turned = { results: [resultOf('20 - R', { tolerance: { lower: -0.4, upper: 0.4 } })] };
    expect(undeterminedIn(loop([20.5], turned))[0]!.verdict).toBe('fail');
    const back = { results: [resultOf('R - 24', { tolerance: { lower: -0.4, upper: 0.4 } })] };
    expect(undeterminedIn(loop([20.5], back))[0]!.verdict).toBe('not-determined');
  });
  it('enters no fit and no pool, and wants an adjustment where it is outside', () => {
    const evaluation = run(
      documentOf(
        [
          {
            points: { list: [4, 12, 20] },
            repeats: 2,
            observe: [observed('R', { saturates: { upper: 20.5 } })],
            results: [
              resultOf('R - point.nominal', {
                tolerance: { lower: -0.1, upper: 0.1 },
                quantities: [{ symbol: 'x', unit: 'mm', distribution: { type: 'readings', of: 'd', pool: 'set' } }],
              }),
            ],
            computed: [{ id: 'd', is: 'R - point.nominal' }],
            fits: [{ id: 'line', y: 'R', x: 'point.nominal', basis: ['1', 'x'], over: ['points'] }],
          },
        ],
        { adjustments: [{ id: 'zero', title: 'Zero', kind: 'offset', of: ['s1'] }] },
      ),
      {
        observations: [
          row('s1', [4, 4.02], { point: 'p1' }),
          row('s1', [12, 12.02], { point: 'p2' }),
          row('s1', [20.5, 23.1], { point: 'p3' }),
        ],
      },
    );
    expect(evaluation.series[0]!.fits['line']).toMatchObject({ coefficients: [expect.closeTo(0.01, 9), expect.closeTo(1, 9)] });
    // Two cells of two readings each: s of each is 0.0141, two degrees of freedom.
    expect(resultsIn(evaluation).map((r) => [r.effectiveDof, r.verdict])).toEqual([
      [2, 'pass'],
      [2, 'pass'],
    ]);
    expect(evaluation.adjustments[0]).toMatchObject({ wanted: true, remaining: null });
  });
});

describe('what an adjustment would leave', () => {
  const remaining = (more: Members, result: Members = {}) =>
    run(
      documentOf(
        [
          {
            points: { list: [0, 50, 100] },
            observe: [observed()],
            results: [
              resultOf('R - point.nominal', {
                reference: { is: '2 * point.nominal' },
                tolerance: { lower: -1, upper: 1 },
                ...result,
              }),
            ],
          },
        ],
        { adjustments: [{ id: 'a', title: 'A', of: ['s1'], ...more }] },
      ),
      { observations: [0, 51, 104].map((r, i) => row('s1', [r], { point: `p${i + 1}` })) },
    ).adjustments[0]!.remaining;
  it('x is the reference where it is stated; a span turns about what is said', () => {
    // Errors 0, 1, 4 at x 0, 100, 200: by the last 0.02 a unit, which leaves −1 in the middle.
    expect(remaining({ kind: 'span', takes: ['p3'] })).toBeCloseTo(1, 9);
    // About 100: 0.04 a unit; −4 is taken away at 0, so 4 is left there.
    expect(remaining({ kind: 'span', takes: ['p3'], about: 100 })).toBeCloseTo(4, 9);
    expect(remaining({ kind: 'offset', takes: ['p1', 'p3'] })).toBeCloseTo(1, 9);
    expect(remaining({ kind: 'offset-and-span', takes: ['p1', 'p3'] })).toBeCloseTo(1, 9);
  });
  it('a percentage of a result in % is one number for all', () => {
    expect(remaining({ kind: 'percent', takes: ['p3'] }, { unit: '%' })).toBeCloseTo(4, 9);
    expect(remaining({ kind: 'percent', takes: ['p3'] })).toBeCloseTo(1, 9);
  });
  it('cannot be told where every point took part, none is named, or the kind follows no formula', () => {
    expect(remaining({ kind: 'offset' })).toBeNull();
    expect(remaining({ kind: 'offset', takes: ['p1', 'p2', 'p3'] })).toBeNull();
    expect(remaining({ kind: 'table', takes: ['p1'] })).toBeNull();
  });
  it('a series that lacks the result has no say', () => {
    const series = { observe: [], results: [resultOf('3', { tolerance: { upper: 1 } })] };
    const other = { observe: [], results: [resultOf('9', { symbol: 'Q', tolerance: { upper: 1 } })] };
    const adjustments = [{ id: 'a', title: 'A', kind: 'offset', of: ['s2', 's1'], result: 'E' }];
    expect(run(documentOf([series, other], { adjustments })).adjustments[0]).toMatchObject({ wanted: true, remaining: null });
  });
});
