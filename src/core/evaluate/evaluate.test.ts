import { describe, expect, it } from 'vitest';
import { DocumentError } from '../faults';
import {
  aggregatesIn,
  documentOf,
  observed,
  pointsIn,
  resultOf,
  resultsIn,
  row,
  run,
  standard,
  undeterminedIn,
} from './fixtures/documents';
import { readDocument } from '../document/read-document';

const faultOf = (work: () => unknown): DocumentError => {
  try {
    work();
  } catch (error) {
    if (error instanceof DocumentError) return error;
    throw error;
  }
  throw new Error('It was accepted.');
};
const role = (more = {}) => ({ standards: [{ role: 'w', title: 'W', kinds: ['x'], ...more }] });
const items = (...list: Record<string, unknown>[]) =>
  standard({ items: list.map((i, k) => ({ id: `i${k}`, expandedUncertainty: 0.02, coverageFactor: 2, ...i })) });

describe('a role that nobody fills', () => {
  const without = (more: object) =>
    run(
      documentOf(
        [{ uses: {}, points: { list: [1] }, repeats: 1, observe: [observed()], results: [resultOf('R - w.value')] }],
        role(more),
      ),
      { observations: [row('s1', [1], { point: 'p1' })] },
    );
  it('is asked for, unless it is optional or left out here: then what names it is left out', () => {
    expect(faultOf(() => without({})).message).toContain('Nobody fills the role w');
    expect(faultOf(() => without({ when: { positive: '1' } })).message).toContain('Nobody fills the role w');
    for (const more of [{ optional: true }, { when: { positive: '0' } }, { optional: true, when: { positive: '1' } }])
      expect(pointsIn(without(more))[0]!.results).toEqual({});
  });
});

describe('points', () => {
  const nominals = (points: unknown, more = {}) =>
    pointsIn(run(documentOf([{ points, observe: [], results: [resultOf('point.index')] }]), more)).map((p) => p.nominal);
  it.each([
    [{ list: [3, 1, 2] }, [3, 1, 2]],
    [{ list: [{ is: 'instrument.usedUpper / 4' }] }, [25]],
    [{ fractions: [0, 0.333, 1], step: 5 }, [0, 35, 100]],
    [{ fractions: [0.125], step: 5 }, [15]],
    [{ fractions: [1], from: 0, to: 97, step: 10 }, [90]],
    [{ fractions: [0], from: -97, to: 0, step: 10 }, [-90]],
    [{ offsets: [2.5, 5.1] }, [2.5, 5.1]],
    [{ from: 1, to: 2, step: 0.25 }, [1, 1.25, 1.5, 1.75, 2]],
    [{ from: 3, to: 1, step: 1 }, [3, 2, 1]],
    [undefined, [undefined]],
  ])('%j are %j', (points, expected) => expect(nominals(points)).toEqual(expected));
  it('are never more than can be read: told when the document is read, and where a formula says the step, when it is used', () => {
    expect(faultOf(() => nominals({ from: 0, to: 1e9, step: 1e-6 })).path).toEqual(['series', 0, 'points', 'step']);
    expect(faultOf(() => nominals({ from: 0, to: 1e9, step: { is: '1e-6' } })).path.slice(0, 3)).toEqual([
      'procedure',
      'series',
      0,
    ]);
  });
  it('move to what the standard has', () => {
    const r = run(
      documentOf(
        [{ uses: { w: {} }, points: { list: [3.4, 9], nearest: 'w' }, observe: [], results: [resultOf('point.nominal')] }],
        role(),
      ),
      { standards: { w: items({ nominal: 3, certified: 3 }, { nominal: 10, certified: 10 }) } },
    );
    expect(pointsIn(r).map((p) => p.nominal)).toEqual([3, 10]);
  });
});

describe('standards where they are used', () => {
  type Members = Record<string, unknown>;
  const worked = (use: Members, standards: unknown, formula = 'u.value', more: Members = {}) =>
    run(
      documentOf(
        [{ uses: { u: { role: 'w', ...use } }, observe: [], results: [resultOf(formula)] }],
        role({ several: true, properties: [{ id: 'alpha', title: 'a' }], ...more }),
      ),
      {
        date: '2027-01-01',
        standards: { w: standards },
      },
    );
  const value = (...args: Parameters<typeof worked>) => resultsIn(worked(...args))[0]!.estimate;
  const whyOf = (...args: Parameters<typeof worked>) => undeterminedIn(worked(...args))[0]!.why;
  const blocks = items(
    { nominal: 1, certified: 1.001, properties: { alpha: 10 } },
    { nominal: 2, certified: 2.002 },
    { nominal: 5, certified: 5.005, properties: { alpha: 30 } },
    { nominal: 7, certified: 7.007 },
  );
  it.each([
    [{ item: '2' }, 2.002],
    [{ item: '6', pick: 'nearest' }, 5.005],
    [{ item: '6', pick: 'at-least' }, 7.007],
    [{ item: '6', pick: 'at-most' }, 5.005],
    [{ stack: '8' }, 8.008],
  ])('%j is %d', (use, expected) => expect(value(use, blocks)).toBeCloseTo(expected, 9));
  it('an only item is the one that is meant; of several none is', () => {
    expect(value({}, items({ nominal: 1, certified: 1.001 }))).toBe(1.001);
    expect(faultOf(() => value({}, blocks)).message).toContain('neither item, stack nor at');
  });
  it('a stack counts its joints and weighs its properties', () => {
    expect(value({ stack: '8' }, blocks, 'u.joints')).toBe(1);
    expect(value({ stack: '6' }, blocks, 'u.alpha')).toBeCloseTo((1 * 10 + 5 * 30) / 6, 9);
    expect(value({ stack: '0' }, blocks, 'u.value + u.joints + u.alpha')).toBe(0);
    expect(value({ stack: '8' }, blocks, 'u.standardUncertainty')).toBeCloseTo(0.02, 12);
  });
  it('age counts in years of 365.25 days', () =>
    expect(value({ item: '2' }, blocks, 'u.ageYears')).toBeCloseTo(365 / 365.25, 12));
  it('an item that is not there leaves the result undetermined; a property that nothing states is refused', () => {
    expect(whyOf({ item: '3' }, blocks)).toContain('no item for 3');
    expect(faultOf(() => value({ item: '2' }, blocks, 'u.alpha')).message).toContain('does not state alpha');
  });
  const curve = standard({
    corrections: [
      { at: 0, correction: 0, expandedUncertainty: 0.02 },
      { at: 10, correction: 1, expandedUncertainty: 0.06 },
    ],
  });
  it('is linear between its points, with the greater of the neighbours’ uncertainties', () => {
    expect(value({ at: '4' }, curve)).toBeCloseTo(4.4, 12);
    expect(value({ at: '4' }, curve, 'u.standardUncertainty')).toBeCloseTo(0.03, 12);
    expect(value({ at: '0' }, curve, 'u.standardUncertainty')).toBeCloseTo(0.01, 12);
  });
  it('holds a little beyond its ends, and not further', () => {
    expect(value({ at: '10.2' }, curve)).toBeCloseTo(11.2, 12);
    expect(whyOf({ at: '10.3' }, curve)).toContain('does not cover 10.3: it reaches from 0 to 10');
  });
  it('converts to the unit of use: a difference of temperature is no temperature', () => {
    const thermometer = { ...curve, unit: 'Cel' };
    expect(value({ at: '277.15', unit: 'K' }, thermometer)).toBeCloseTo(277.55, 9);
    expect(value({ at: '277.15', unit: 'K' }, thermometer, 'u.correction')).toBeCloseTo(0.4, 9);
  });
  it('reads values over an argument, with further columns', () => {
    const values = standard({
      unit: 'dB',
      values: [
        { at: 250, value: 94, expandedUncertainty: 0.1, level: 1 },
        { at: 1000, value: 94.1, expandedUncertainty: 0.1, level: 1 },
        { at: 1000, value: 114, expandedUncertainty: 0.1, level: 2 },
      ],
    });
    expect(value({ at: '1000', where: { level: '2' } }, values)).toBe(114);
    expect(value({ at: '625', where: { level: '1' } }, values)).toBeCloseTo(94.05, 12);
  });
  it('an item may carry a curve of its own, and a part is a standard of its own', () => {
    const set = standard({
      items: [
        {
          id: 'a',
          nominal: 1,
          certified: 1,
          values: [
            { at: 0, value: 5, expandedUncertainty: 0 },
            { at: 10, value: 6, expandedUncertainty: 0 },
          ],
        },
        { id: 'b', nominal: 2, certified: 2 },
      ],
    });
    expect(value({ item: '1', at: '5' }, set)).toBeCloseTo(5.5, 12);
    const source = standard({
      parts: [
        {
          id: 'acv',
          unit: 'V',
          corrections: [
            { at: 0, correction: 0.5, expandedUncertainty: 0.1 },
            { at: 10, correction: 0.5, expandedUncertainty: 0.1 },
          ],
        },
      ],
    });
    expect(value({ part: 'acv', at: '2' }, source)).toBeCloseTo(2.5, 12);
  });
  it('a function of the certificate carries its parameters', () => {
    const prt = standard({
      unit: 'Cel',
      function: {
        name: 'prtTemperature',
        parameters: { R0: 100, A: 3.9083e-3, B: -5.775e-7, C: 0 },
        expandedUncertainty: 0.02,
        coverageFactor: 2,
        from: 0,
        to: 200,
      },
    });
    expect(value({ at: '138.5055' }, prt)).toBeCloseTo(100, 3);
    expect(whyOf({ at: '200' }, prt)).toContain('does not cover 200');
    expect(
      faultOf(() =>
        value({ at: '100' }, { ...prt, function: { name: 'prtTemperature', parameters: {}, expandedUncertainty: 0.02 } }),
      ).message,
    ).toContain('parameter R0');
  });
  it('of several standards the less uncertain serves', () => {
    const worse = standard({
      identification: 'S-2',
      corrections: [
        { at: 0, correction: 9, expandedUncertainty: 5 },
        { at: 20, correction: 9, expandedUncertainty: 5 },
      ],
    });
    expect(value({ at: '5' }, [worse, curve])).toBeCloseTo(5.5, 12);
    expect(value({ at: '15' }, [worse, curve])).toBeCloseTo(24, 12);
  });
});

describe('readings and what becomes of them', () => {
  const readings = { symbol: 'r', unit: 'mm', distribution: { type: 'readings', of: 'R' } };
  const series = (more = {}) => ({
    repeats: 3,
    observe: [observed()],
    results: [{ symbol: 'E', title: 'E', unit: 'mm', model: 'r', quantities: [readings], ...more }],
  });
  it('take their own scatter, or pool it over instance, set, or another series', () => {
    const pooled = (pool: unknown) => ({ ...readings, distribution: { type: 'readings', of: 'R', pool } });
    const points = { list: [1, 2] };
    const rows = [row('s1', [1, 2, 3], { point: 'p1' }), row('s1', [5, 5, 8], { point: 'p2' })];
    const u = (pool: unknown) =>
      resultsIn(run(documentOf([{ ...series({ quantities: [pooled(pool)] }), points }]), { observations: rows })).map(
        (r) => r.standardUncertainty,
      );
    expect(u('none')[0]).toBeCloseTo(1 / Math.sqrt(3), 12);
    expect(u('none')[1]).toBeCloseTo(1, 12);
    const sp = Math.sqrt((2 * 1 + 2 * 3) / 4);
    expect(u('set')).toEqual([expect.closeTo(sp / Math.sqrt(3), 12), expect.closeTo(sp / Math.sqrt(3), 12)]);
    expect(u({ standardDeviation: 0.3, dof: 9 })[0]).toBeCloseTo(0.3 / Math.sqrt(3), 12);
  });
  it('refuse a single one with nothing to pool when the document is read', () => {
    const fault = faultOf(() => readDocument(documentOf([{ ...series(), repeats: 1 }])));
    expect(fault.message).toContain('One reading alone');
    expect(fault.path).toEqual(['series', 0, 'results', 0, 'quantities', 0, 'distribution']);
  });
  it('are not evaluated before their repeats allow it, and the set is not complete', () => {
    const r = run(documentOf([series()]), { observations: [row('s1', [5])] });
    expect(r.complete).toBe(false);
    expect(resultsIn(r)).toEqual([]);
    expect(run(documentOf([series()]), { observations: [row('s1', [5, 6, 7])] }).complete).toBe(true);
  });
  it('offer their least, greatest, range, scatter and count', () => {
    const at = (name: string) =>
      resultsIn(
        run(documentOf([{ repeats: 3, observe: [observed()], results: [resultOf(`R.${name}`)] }]), {
          observations: [row('s1', [1, 4, 2])],
        }),
      )[0]!.estimate;
    expect(['least', 'greatest', 'range', 'count'].map(at)).toEqual([1, 4, 3, 3]);
    expect(at('standardDeviation')).toBeCloseTo(Math.sqrt(7 / 3), 12);
  });
  it('propagate through abbreviations and functions, exactly', () => {
    const result = {
      symbol: 'E',
      title: 'E',
      unit: 'hPa',
      where: [
        { symbol: 'e', is: 'saturationPressure(t)' },
        { symbol: 'f', is: 'e * h / 100' },
      ],
      model: 'f + 0 * e',
      quantities: [
        { symbol: 't', unit: 'Cel', distribution: { type: 'normal', mean: 20, standardUncertainty: 0.1 } },
        { symbol: 'h', unit: '%', distribution: { type: 'normal', mean: 50, standardUncertainty: 1 } },
      ],
    };
    const [r] = resultsIn(run(documentOf([{ observe: [], results: [result] }])));
    const e = (t: number) =>
      Math.exp(
        -6096.9385 / (t + 273.15) +
          16.635794 -
          2.711193e-2 * (t + 273.15) +
          1.673952e-5 * (t + 273.15) ** 2 +
          2.433502 * Math.log(t + 273.15),
      );
    const slope = (e(20.0001) - e(19.9999)) / 0.0002;
    expect(r!.estimate).toBeCloseTo(e(20) / 2, 9);
    expect(r!.standardUncertainty).toBeCloseTo(Math.hypot((slope * 0.1) / 2, e(20) / 100), 7);
  });
  it('judge by statements of reading, reference, range, counts and length', () => {
    const terms = [
      { absolute: 0.1 },
      { ofReading: 0.01 },
      { ofReference: 0.02 },
      { ofRange: 0.001, range: 200 },
      { counts: 2, resolution: 0.01 },
      { perLength: 0.004, length: 50 },
    ];
    const [r] = resultsIn(
      run(
        documentOf([
          {
            observe: [],
            results: [resultOf('0.5', { reference: { is: '10' }, indication: { is: '0 - 20' }, tolerance: { terms } })],
          },
        ]),
      ),
    );
    expect(r!.limits!.upper).toBeCloseTo(0.1 + 0.2 + 0.2 + 0.2 + 0.02 + 0.2, 12);
    expect(r!.verdict).toBe('pass');
  });
});

describe('what runs through points, sweeps, repeats and instances', () => {
  const sweeps = [
    { id: 'up', title: 'Up' },
    { id: 'down', title: 'Down', backwards: true },
  ];
  const aggregates = (list: Record<string, unknown>[]) => list.map((a, i) => ({ id: `a${i}`, title: 'A', unit: 'mm', ...a }));
  const both = (values: Record<string, [number, number, number]>) =>
    Object.entries(values).flatMap(([sweep, v]) => v.map((x, i) => row('s1', [x], { point: `p${i + 1}`, sweep })));
  const of = (list: Record<string, unknown>[], more = {}) =>
    aggregatesIn(
      run(
        documentOf([{ points: { list: [0, 50, 100] }, sweeps, observe: [observed()], aggregates: aggregates(list), ...more }]),
        {
          observations: both({ up: [1, 4, 9], down: [3, 5, 9] }),
        },
      ),
    );
  it('hysteresis, greatest step, mean of ranges, deviation from a point', () => {
    const found = of([
      { of: 'R', over: ['sweeps'], statistic: 'range' },
      { of: 'a0', over: ['points'], statistic: 'greatest' },
      { of: 'R', over: ['points'], statistic: 'greatest-step' },
      { of: 'R', over: ['points'], statistic: 'greatest-deviation-from', from: 'first' },
      { of: 'a0', over: ['points'], statistic: 'mean' },
    ]);
    expect(found.filter((a) => a.id === 'a0').map((a) => [a.at, a.value])).toEqual([
      ['p1', 2],
      ['p2', 1],
      ['p3', 0],
    ]);
    expect(found.find((a) => a.id === 'a1')!.value).toBe(2);
    expect(found.filter((a) => a.id === 'a2').map((a) => [a.sweep, a.value])).toEqual([
      ['up', 5],
      ['down', 4],
    ]);
    expect(found.filter((a) => a.id === 'a3').map((a) => a.value)).toEqual([8, 6]);
    expect(found.find((a) => a.id === 'a4')!.value).toBe(1);
  });
  it('a fit and its residuals, with their signs', () => {
    const fits = [{ id: 'line', y: 'R', x: 'point.nominal', basis: ['1', 'x'], over: ['points', 'sweeps'] }];
    const r = run(
      documentOf([
        {
          points: { list: [0, 1, 2] },
          repeats: 1,
          observe: [observed()],
          fits,
          aggregates: aggregates([{ over: ['points'], statistic: 'greatest-residual', fit: 'line' }]),
          results: [resultOf('fit.line.c0 + 1000 * fit.line.c1')],
        },
      ]),
      {
        observations: [0, 1, 5].map((v, i) => row('s1', [v], { point: `p${i + 1}` })),
      },
    );
    const fit = r.series[0]!.fits['line'] as {
      coefficients: number[];
      standardUncertainties: number[];
      dof: number;
      residualStandardDeviation: number;
    };
    expect(fit.coefficients).toEqual([expect.closeTo(-0.5, 12), expect.closeTo(2.5, 12)]);
    expect(fit.dof).toBe(1);
    expect(fit.residualStandardDeviation).toBeCloseTo(Math.sqrt(1.5), 12);
    expect(fit.standardUncertainties[1]).toBeCloseTo(Math.sqrt(1.5 / 2), 12);
    expect(aggregatesIn(r)[0]!.value).toBeCloseTo(-1, 12);
    expect(resultsIn(r)[0]!.estimate).toBeCloseTo(2499.5, 9);
  });
  it('a fit of one instance is its own where a formula of that instance names it', () => {
    const r = run(
      documentOf([
        {
          forEach: { of: [{ id: 'a' }, { id: 'b' }] },
          points: { list: [0, 1] },
          repeats: 1,
          observe: [observed()],
          fits: [{ id: 'line', y: 'R', x: 'point.nominal', basis: ['1', 'x'], over: ['points'] }],
          results: [resultOf('fit.line.c1')],
        },
      ]),
      {
        observations: [
          ...[0, 2].map((v, i) => row('s1', [v], { each: 'a', point: `p${i + 1}` })),
          ...[0, 7].map((v, i) => row('s1', [v], { each: 'b', point: `p${i + 1}` })),
        ],
      },
    );
    expect(resultsIn(r).map((e) => Math.round(e.estimate))).toEqual([2, 2, 7, 7]);
  });
  it('an aggregate with a budget of its own is judged with its uncertainty', () => {
    const [entry] = of([
      {
        of: 'R',
        over: ['points', 'sweeps'],
        statistic: 'greatest',
        result: {
          model: 'a0 + d',
          quantities: [{ symbol: 'd', unit: 'mm', distribution: { type: 'rectangular', mean: 0, halfWidth: 0.3 } }],
          coverage: { factor: 2 },
        },
        tolerance: { upper: 9.2 },
        decisionRule: { kind: 'guard-band', factor: 1 },
      },
    ]);
    expect(entry!.value).toBe(9);
    expect(entry!.result!.expandedUncertainty).toBeCloseTo((2 * 0.3) / Math.sqrt(3), 12);
    expect(entry!.verdict).toBe('conditional-pass');
  });
  it('a gate has no part in the verdict', () => {
    const judged = (gate: boolean) =>
      run(documentOf([{ observe: [], results: [resultOf('5', { tolerance: { upper: 1 }, gate })] }])).verdict;
    expect(judged(false)).toBe('fail');
    expect(judged(true)).toBeNull();
  });
});

describe('names across series, sets and steps', () => {
  it('a result may stand on another that stands on a third, in any order without cycles', () => {
    const r = run(
      documentOf([
        { observe: [], results: [resultOf('series.s2.E + 1')] },
        { observe: [], results: [resultOf('series.s3.E * 2')] },
        { observe: [], results: [resultOf('20')] },
      ]),
    );
    expect(resultsIn(r)[0]!.estimate).toBe(41);
    const circle = documentOf([
      { observe: [], results: [resultOf('series.s2.E')] },
      { observe: [], results: [resultOf('series.s1.E')] },
    ]);
    expect(faultOf(() => run(circle)).message).toContain('depends on itself');
  });
  it('a check is computed, a connection sums its properties, a later step counts where there is no earlier one', () => {
    const steps = [
      { kind: 'measure', id: 'zero', title: 'Zero', ask: '?', unit: 'mm' },
      { kind: 'check', id: 'twice', title: 'Twice', is: 'step.zero * 2', unit: 'mm' },
      { kind: 'connect', id: 'line', title: 'Line', from: 'w', to: 'instrument' },
    ];
    const r = run(
      documentOf(
        [
          {
            steps,
            points: { list: [1, 2] },
            observe: [observed()],
            computed: [{ id: 'd', is: 'R - step.zero' }],
            results: [resultOf('step.twice + step.line.delay')],
          },
        ],
        { standards: [{ role: 'w', title: 'W', kinds: ['x'] }] },
      ),
      {
        standards: { w: standard({ properties: {} }) },
        steps: { line: { delay: 92 } },
        observations: [row('s1', [10], { point: 'p1' }), row('s1', [10], { point: 'p2', steps: { zero: 3 } })],
      },
    );
    expect(pointsIn(r).map((p) => p.computed['d'])).toEqual([[7], [7]]);
    expect(resultsIn(r)[0]!.estimate).toBe(98);
  });
  it.each([
    ['computed', { computed: [{ id: 'd', is: 'R - Q' }] }, ['series', 0, 'computed', 0, 'is']],
    [
      'a later computed',
      {
        computed: [
          { id: 'a', is: 'b' },
          { id: 'b', is: 'R' },
        ],
      },
      ['series', 0, 'computed', 0, 'is'],
    ],
    ['a characteristic', { repeats: { is: 'instrument.class' } }, ['series', 0, 'repeats', 'is']],
    ['a function', { computed: [{ id: 'd', is: 'airDensity(R)' }] }, ['series', 0, 'computed', 0, 'is']],
    ['an unknown function', { computed: [{ id: 'd', is: 'fudge(R)' }] }, ['series', 0, 'computed', 0, 'is']],
    [
      'a point',
      { computed: [{ id: 'd', is: 'at.middle.R' }], points: { table: [{ nominal: 1, label: 'centre' }] } },
      ['series', 0, 'computed', 0, 'is'],
    ],
    ['a syntax', { computed: [{ id: 'd', is: 'R +' }] }, ['series', 0, 'computed', 0, 'is']],
    ['a member', { colour: 'blue' }, ['series', 0, 'colour']],
    [
      'an aggregate',
      { aggregates: [{ id: 'a', title: 'a', unit: '1', of: 'Z', over: ['points'], statistic: 'mean' }] },
      ['series', 0, 'aggregates', 0, 'of'],
    ],
    ['a series', { with: 'none' }, ['series', 0, 'with']],
    ['a role', { uses: { w: { item: '1' } } }, ['series', 0, 'uses', 'w']],
  ])('an unknown %s is a fault when the document is read, with its path', (_, more, path) => {
    const fault = faultOf(() => readDocument(documentOf([{ observe: [observed()], ...more }])));
    expect(fault.path).toEqual(path);
    expect(fault.message.length).toBeGreaterThan(10);
  });
  it.each([
    [{ observations: [row('s9', [1])] }, ['observations', 0, 'series']],
    [{ observations: [row('s1', [1], { point: 'p7' })] }, ['observations', 0, 'point']],
    [{ observations: [row('s1', [1], { each: 'x' })] }, ['observations', 0, 'each']],
    [{ observations: [row('s1', [{ Q: 1 }])] }, ['observations', 0, 'readings', 0, 'Q']],
    [{ choices: { medium: 'air' } }, ['choices', 'medium']],
    [{ standards: { w: standard({}) } }, ['standards', 'w']],
  ])('a case that does not fit is refused: %j', (more, path) =>
    expect(faultOf(() => run(documentOf([{ observe: [observed()] }]), more)).path).toEqual(path),
  );
});

describe('adjustments', () => {
  const advice = (policy: unknown, values = [3, 4, 5], more = {}) =>
    run(
      documentOf(
        [
          {
            points: { list: [0, 1, 2] },
            observe: [observed()],
            results: [resultOf('R', { tolerance: { lower: -10, upper: 10 } })],
          },
        ],
        {
          adjustments: [
            {
              id: 'a',
              title: 'A',
              kind: 'offset',
              of: ['s1'],
              takes: ['p1'],
              policy,
              stored: [{ id: 'o', title: 'O', proposed: { is: '0 - at.p1.E' }, step: 0.5, lower: -2, upper: 2 }],
              ...more,
            },
          ],
        },
      ),
      { observations: values.map((v, i) => row('s1', [v], { point: `p${i + 1}` })), stored: { o: 0 } },
    ).adjustments[0]!;
  it('are wanted by their policy', () => {
    expect(advice({ kind: 'never-while-inside' }).wanted).toBe(false);
    expect(advice({ kind: 'never-while-inside' }, [3, 11, 5]).wanted).toBe(true);
    expect(advice({ kind: 'beyond-share', share: 0.5 }).wanted).toBe(false);
    expect(advice({ kind: 'beyond-share', share: 0.4 }).wanted).toBe(true);
    expect(advice({ kind: 'beyond', is: '4.5' }).wanted).toBe(true);
    expect(advice(undefined).wanted).toBe(false);
  });
  it('round what they propose to a step and keep it in its limits; what would remain is told', () => {
    expect(advice(undefined).proposed).toEqual({ o: -2 });
    expect(advice(undefined, [1.2, 1.2, 1.2]).proposed).toEqual({ o: -1 });
    expect(advice(undefined, [1.25, 1.2, 1.2]).proposed).toEqual({ o: -1.5 });
    expect(advice(undefined).remaining).toBe(2);
    expect(advice(undefined, [3, 4, 5], { kind: 'mechanical' }).remaining).toBeNull();
  });
});
