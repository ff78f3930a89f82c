import { describe, expect, it } from 'vitest';
import { documentOf, observed, pointsIn, resultsIn, aggregatesIn, row, run, standard } from './fixtures/documents';

/** An instrument that no shipped procedure knows, with many mechanisms at once; its numbers are worked by hand in the comments. */

const certificate = { issuer: 'Institute', number: '1', date: '2026-01-01', due: '2027-01-01' };
const inGrams = (id = 'R') => observed(id, { unit: 'g' });

describe('a scale: stacks, rounds, results over sweeps, a fit named elsewhere, a series for each weight', () => {
  const item = (id: string, nominal: number, certified: number, expandedUncertainty: number, density = 8000) => ({
    id,
    marking: id,
    nominal,
    certified,
    expandedUncertainty,
    coverageFactor: 2,
    dof: 40,
    properties: { density },
  });
  const items = [
    item('w1', 1, 1.00001, 2e-5),
    item('w2', 2, 2.00002, 3e-5),
    item('w2s', 2, 1.99998, 3e-5, 8100),
    item('w5', 5, 5.00005, 5e-5, 7950),
  ];
  const weights = standard({
    kind: 'weight-set',
    unit: 'g',
    certificate,
    items,
  });
  const quantity = (symbol: string, distribution: object, more = {}) => ({ symbol, unit: 'g', distribution, ...more });
  const document = documentOf(
    [
      {
        uses: { W: { role: 'weights', stack: 'point.nominal' } },
        points: { list: [1, 3, 8] },
        sweeps: [
          { id: 'up', title: 'Up' },
          { id: 'down', title: 'Down', backwards: true },
        ],
        repeats: 2,
        order: 'round',
        observe: [inGrams()],
        computed: [{ id: 'd', is: 'R - W.value' }],
        results: [
          {
            symbol: 'E',
            title: 'Error',
            unit: 'g',
            over: ['sweeps'],
            model: 'd - b + r',
            quantities: [
              quantity('d', { type: 'readings', of: 'd', pool: 'none' }),
              quantity('b', {
                type: 'normal',
                mean: { is: 'W.nominal * 1.2 * (1 / W.density - 1 / 8000)' },
                standardUncertainty: { is: 'W.standardUncertainty + 1e-6 * W.joints' },
                dof: { is: 'W.dof' },
              }),
              quantity('r', { type: 'rectangular', mean: 0, halfWidth: 0.005 }, { when: { choice: 'coarse', is: 'yes' } }),
            ],
            coverage: { probability: 0.95 },
            tolerance: { terms: [{ absolute: 0.02 }] },
          },
        ],
        aggregates: [
          { id: 'turn', title: 'Turn', unit: 'g', of: 'R', over: ['sweeps'], statistic: 'range', among: ['p2', 'p3'] },
          { id: 'n', title: 'Readings', unit: '1', of: 'R', over: ['repeats', 'sweeps', 'points'], statistic: 'count' },
        ],
        fits: [{ id: 'line', y: 'R', x: 'W.value', basis: ['1', 'x'], over: ['points', 'sweeps'] }],
      },
      {
        forEach: { items: 'weights' },
        observe: [inGrams('Q')],
        computed: [{ id: 'q', is: 'Q - each.nominal' }],
        results: [
          {
            symbol: 'F',
            title: 'F',
            unit: 'g',
            model: 'q - z',
            quantities: [
              quantity('q', { type: 'readings', of: 'q', pool: { series: 's1', of: 'd' } }),
              quantity('z', {
                type: 'normal',
                mean: { is: 'fit.s1.line.c0' },
                standardUncertainty: { is: 'fit.s1.line.u0' },
                dof: { is: 'fit.s1.line.dof' },
              }),
            ],
          },
        ],
      },
    ],
    {
      standards: [
        { role: 'weights', title: 'Weights', kinds: ['weight-set'], properties: [{ id: 'density', title: 'D', unit: 'kg/m3' }] },
      ],
      choices: [
        {
          id: 'coarse',
          title: 'Coarse',
          options: [
            { id: 'yes', title: 'Yes' },
            { id: 'no', title: 'No' },
          ],
        },
      ],
    },
  );
  const shown: Record<string, number[]> = { p1: [1, 1.01], p2: [3.01, 3.02], p3: [8.01, 8.03] };
  const observations = [
    ...(['up', 'down'] as const).flatMap((sweep) =>
      Object.entries(shown).map(([point, readings]) =>
        row(
          's1',
          readings.map((r) => r + (sweep === 'down' ? 0.02 : 0)),
          { point, sweep },
        ),
      ),
    ),
    ...items.map((i) => row('s2', [{ Q: i.nominal + 0.003 }], { each: i.id })),
  ];
  const evaluation = run(document, { standards: { weights }, observations });

  it('is complete, and fails where an error passes its limit', () => {
    expect(evaluation.complete).toBe(true);
    expect(resultsIn(evaluation).map((r) => r.verdict)).toEqual(['pass', 'fail', 'fail']);
    expect(evaluation.verdict).toBe('fail');
  });
  it('has its errors from all readings of both sweeps', () => {
    const [first, , last] = resultsIn(evaluation);
    // 1 g: d = −0.00001, 0.00999, 0.01999, 0.02999: mean 0.01499, s = 0.0129099, u = s/2, ν 3; r: 0.005/√3; b: 10⁻⁵ g.
    const u = Math.hypot(0.0129099444873581 / 2, 0.005 / Math.sqrt(3), 1e-5);
    expect(first!.estimate).toBeCloseTo(0.01499, 12);
    expect(first!.standardUncertainty).toBeCloseTo(u, 12);
    // ν = u⁴ / (u_d⁴/3 + u_b⁴/40) = 4.32, so 4: k = 2.7764.
    expect(first!.effectiveDof).toBeCloseTo(u ** 4 / ((0.0129099444873581 / 2) ** 4 / 3 + 1e-20 / 40), 6);
    expect(first!.expandedUncertainty / u).toBeCloseTo(2.77644510519779, 8);
    // 8 g = 5 + 2 + 1, value 8.00008, mean density (5 · 7950 + 3 · 8000)/8 = 7968.75 kg/m³: b = 8 · 1.2 · (1/7968.75 − 1/8000).
    expect(last!.estimate).toBeCloseTo(8.03 - 8.00008 - 9.6 * (1 / 7968.75 - 1 / 8000), 12);
  });
  it('leaves a quantity out by choice', () => {
    const fine = run(document, { standards: { weights }, observations, choices: { coarse: 'no' } });
    expect(resultsIn(fine)[0]!.standardUncertainty).toBeCloseTo(Math.hypot(0.0129099444873581 / 2, 1e-5), 12);
  });
  it('has aggregates at the points they are among, and over all', () => {
    const aggregates = aggregatesIn(evaluation).map((a) => [a.id, a.at, Number(a.value.toPrecision(9))]);
    expect(aggregates).toEqual([
      ['turn', 'p2', 0.02],
      ['turn', 'p3', 0.02],
      ['n', null, 12],
    ]);
  });
  it('carries pooled scatter and the fit into the other series, weight by weight', () => {
    const points = pointsIn(evaluation, 's2');
    expect(points).toHaveLength(4);
    // s² of the six pairs: four of 5·10⁻⁵, two of 2·10⁻⁴: s_p = 0.01 with ν 6; one reading, so u = 0.01.
    const line = evaluation.series[0]!.fits!['line'] as { coefficients: number[]; standardUncertainties: number[]; dof: number };
    expect(line.dof).toBe(4);
    const F = resultsIn(evaluation, 's2', 'F')[2]!;
    expect(F.estimate).toBeCloseTo(0.003 - line.coefficients[0]!, 12);
    const u0 = line.standardUncertainties[0]!;
    expect(F.standardUncertainty).toBeCloseTo(Math.hypot(0.01, u0), 12);
    expect(F.effectiveDof).toBeCloseTo(Math.hypot(0.01, u0) ** 4 / (1e-8 / 6 + u0 ** 4 / 4), 6);
  });
  it('the line is that of least squares through the means of the readings', () => {
    const x = [1.00001, 3.00003, 8.00008];
    const y = [1.015, 3.025, 8.03]; // both sweeps lie as far from these
    const [mx, my] = [x, y].map((v) => v.reduce((a, b) => a + b) / 3) as [number, number];
    const slope = x.reduce((a, v, i) => a + (v - mx) * (y[i]! - my), 0) / x.reduce((a, v) => a + (v - mx) ** 2, 0);
    const line = evaluation.series[0]!.fits!['line'] as { coefficients: number[] };
    expect(line.coefficients[1]).toBeCloseTo(slope, 10);
    expect(line.coefficients[0]).toBeCloseTo(my - slope * mx, 10);
  });
});
