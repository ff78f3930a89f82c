import { readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { procedureNamed, setups, TestBench } from './fixtures/bench';
import { kitOf } from './kit';

describe('the kit list', () => {
  it('names the standards of the run with what their dates say, and what the procedure wants beside them', () => {
    const { state } = new TestBench(setups['pressure-transmitter']!());
    const kit = kitOf(state, '2026-11-24');
    const given = Object.values(state.standards).flat();
    expect(kit.standards.map((s) => s.identification).sort()).toEqual(given.map((s) => s.document.identification).sort());
    expect(kit.things).toContain('Supply of the loop');
    const due = kit.standards.find((s) => s.due !== null)!;
    expect(due.standing!.standing).not.toBe('expired');
    // A day after its date it is said to have run out.
    const late = kitOf(state, `${Number(due.due!.slice(0, 4)) + 1}${due.due!.slice(4)}`);
    expect(late.standards.find((s) => s.identification === due.identification)!.standing!.standing).toBe('expired');
  });
  it.each(readdirSync('procedures').map((f) => f.replace('.json', '')))('%s says what is laid out', (id) => {
    const { kit } = procedureNamed(id);
    expect(kit?.length ?? 0).toBeGreaterThan(1);
    expect(new Set(kit).size).toBe(kit!.length);
  });
});
