import { describe, expect, it } from 'vitest';
import { debrief, expertsRun } from './debrief';
import { drawn } from './fixtures/played';
import { practiceCases } from './practice-cases';

describe('somebody with experience', () => {
  it('goes through every case without being refused, and solves at least nine of ten', { timeout: 600_000 }, async () => {
    const unsolved: string[] = [];
    const seeds = [1, 2, 3];
    for (const { id } of practiceCases)
      for (const seed of seeds) {
        const { practice, first } = drawn(id, seed);
        const { events } = await expertsRun(practice, first);
        const told = await debrief(practice, events, [...new Set(practice.faults.map((f) => f.kind))]);
        if (!told.isSolved) unsolved.push(`${id} ${seed}: ${told.mistakes.join(' ')}`);
      }
    expect(unsolved.length, unsolved.join('\n')).toBeLessThanOrEqual(0.1 * practiceCases.length * seeds.length);
  });
});
