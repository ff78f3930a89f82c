import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import type { NamedChart } from '../../core/interval/checks-page';
import type { HistoryPoint } from '../../core/interval/history';
import { checkPlot } from './CheckChart';
import { HistoryChart } from '.';
import { errorPlot, type CurvePoint } from './error-plot';
import { historyHeight } from './heights';
import { historyPlot } from './history-plot';

const point = (x: number, estimate: number | null, more: Partial<CurvePoint> = {}): CurvePoint => ({
  x,
  label: `${x} mm`,
  limits: { lower: -4, upper: 4 },
  result: estimate === null ? null : { estimate, U: 1 },
  isHere: false,
  ...more,
});

describe('an error curve', () => {
  it('has room for a quarter more than the largest limit, and for a failure up to four times as much', () => {
    expect(errorPlot([point(0, 1), point(10, -2)])!.reach).toBe(5);
    expect(errorPlot([point(0, 9), point(10, -2)])!.reach).toBeCloseTo(10.5, 12);
    const far = errorPlot([point(0, 900), point(10, -2)])!;
    expect(far.reach).toBe(16);
    expect(far.read[0]).toEqual({ x: 0, error: 16, U: [0, 0], isOut: true });
  });
  it('gives limits the room up to half-way to the nearer neighbour', () => {
    const { limits } = errorPlot([point(0, 1), point(2, 1), point(100, 1)])!;
    expect(limits.map((l) => l.to - l.from)).toEqual([1.92, 1.92, 19.2].map((w) => expect.closeTo(w, 9)));
  });
  it('stands points without a place in their order; the present one and the ends are told', () => {
    const plot = errorPlot([point(NaN, 1, { label: 'front' }), point(NaN, null, { label: 'back', isHere: true })])!;
    expect(plot.read.map((r) => r.x)).toEqual([0]);
    expect(plot.unread).toEqual([{ x: 1, error: 0 }]);
    expect(plot.here).toBe(1);
    expect(plot.ends).toEqual([
      { x: 0, label: 'front' },
      { x: 1, label: 'back' },
    ]);
  });
  it('is not drawn without a result or without a limit; one-sided limits are', () => {
    expect(errorPlot([point(0, null)])).toBeNull();
    expect(errorPlot([point(0, 1, { limits: null })])).toBeNull();
    const upper = errorPlot([
      point(0, 5, { limits: { lower: null, upper: 4 } }),
      point(1, -90, { limits: { lower: null, upper: 4 } }),
    ])!;
    expect(upper.read.map((r) => r.isOut)).toEqual([true, false]);
  });
});

const chart = (values: number[], more: object = {}): NamedChart =>
  ({
    what: 'Error',
    point: '10 g',
    unit: 'g',
    shownIn: 'mg',
    checks: values.map((value, i) => ({
      run: `r${i}`,
      day: `2026-01-${String(1 + (i % 28)).padStart(2, '0')}`,
      value,
      lower: -0.01,
      upper: 0.01,
    })),
    alarms: [],
    limits: { centre: 0.001, sigma: 0.001 },
    ...more,
  }) as never as NamedChart;

describe('a control chart', () => {
  it('is drawn in the unit that is shown, three σ to either side of the middle', () => {
    const plot = checkPlot(chart([0.001, 0.002, 0.0005]));
    expect(plot.checks.map((c) => c.value)).toEqual([1, 2, 0.5].map((v) => expect.closeTo(v, 9)));
    expect(plot.control).toEqual([expect.closeTo(-2, 9), expect.closeTo(4, 9)]);
    expect(plot.middle).toBeCloseTo(1, 9);
  });
  it('draws a tolerance only where it does not press the checks into a line', () => {
    expect(checkPlot(chart([0.001, 0.002])).tolerance).toEqual([-10, 10].map((v) => expect.closeTo(v, 9)));
    const far = checkPlot(chart([0.001, 0.0011], { limits: null }));
    expect(far.tolerance).toEqual([]);
    expect(far.top).toBeLessThan(1.2);
  });
  it('draws the latest sixty and keeps an alarm with its check', () => {
    const values = Array.from({ length: 70 }, (_, i) => i * 1e-5);
    const plot = checkPlot(chart(values, { alarms: [{ index: 65 }, { index: 3 }] }));
    expect(plot.checks).toHaveLength(60);
    expect(plot.checks.filter((c) => c.isAlarm).map((c) => c.order)).toEqual([55]);
    expect(plot.checks[0]!.value).toBeCloseTo(0.1, 9);
  });
});

const history = (found: number[], limits: { lower: number | null; upper: number | null }): HistoryPoint =>
  ({
    unit: 'mm',
    shownIn: 'um',
    limits,
    guarded: limits,
    visits: found.map((value, i) => ({ run: `r${i}`, day: `202${i}-03-01`, found: { value, U: 0.001 }, left: null })),
    checks: [],
    band: [],
  }) as never as HistoryPoint;

describe('a history', () => {
  it('shows one and a half times the limits, more where values need it, at most four times', () => {
    expect(historyPlot(history([0.001], { lower: -0.004, upper: 0.004 }), ['2026-01-01']).top).toBeCloseTo(6, 9);
    expect(historyPlot(history([0.009], { lower: -0.004, upper: 0.004 }), []).top).toBeCloseTo(10.5, 9);
    const far = historyPlot(history([0.5, 0.001], { lower: -0.004, upper: 0.004 }), []);
    expect(far.found[0]).toMatchObject({ error: expect.closeTo(16, 9) as number, U: 0, off: true });
    expect(far.found[1]!.off).toBe(false);
  });
  it('spends nothing below zero where nothing is there', () => {
    const one = historyPlot(history([0.001], { lower: null, upper: 0.004 }), []);
    expect([one.bottom, one.inside]).toEqual([0, [0, expect.closeTo(4, 9)]]);
  });
  it('joins found and left of one visit, and leaves room after the last date', () => {
    const moved = history([0.005, 0.001], { lower: -0.004, upper: 0.004 });
    moved.visits[0]!.left = { value: 0.0002, U: 0.001 } as never;
    const plot = historyPlot(moved, ['2022-03-01']);
    expect(plot.moved).toEqual([
      { run: 'r0', time: Date.parse('2020-03-01'), from: expect.closeTo(5, 9), to: expect.closeTo(0.2, 9) },
    ]);
    expect(plot.until).toBeGreaterThan(Date.parse('2022-03-01'));
  });
  it('keeps its place on the page until it is fetched', () => {
    const plot = historyPlot(history([0.001], { lower: -0.004, upper: 0.004 }), []);
    const html = renderToStaticMarkup(<HistoryChart plot={plot} unit="um" today="2026-01-01" schools={[]} />);
    expect(html).toContain(`height:${historyHeight(0)}px`);
    expect(html).not.toContain('<svg');
  });
});
