import { describe, expect, it } from 'vitest';
import { setups, TestBench } from '../../core/run/fixtures/bench';
import { sheetLayout } from './sheet-layout';

describe('a sheet', () => {
  it('has a passage backwards in the order in which it is read', () => {
    const { state } = new TestBench(setups['pressure-transmitter']!());
    const { rows } = sheetLayout(state, { set: 'as-found', series: 'error', each: null });
    const read = state.plan.flatMap((i) => (i.type === 'reading' ? [`${i.sweep} ${i.point}`] : []));
    const order = [...new Set(read)];
    expect(rows.filter((r) => r.isFirst).map((r) => `${r.sweep} ${r.point}`)).toEqual(order);
    const down = order.filter((o) => o.startsWith('down'));
    expect(down).toHaveLength(5);
    expect(down[0]).toBe('down p5');
  });
});
