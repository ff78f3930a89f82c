import { describe, expect, it } from 'vitest';
import { normalDeviate, seededRandom } from '../../bench/random';
import { diagnose } from './diagnosis';
import { errorsTogether, pooledScatter, scatterIn } from './errors-together';
import { TestBench } from './fixtures/bench';

/** A micrometer whose repeats scatter by so much, in mm. */
function read(scatter: number, seed: number): TestBench {
  const random = seededRandom(seed);
  const bench = TestBench.micrometer();
  return bench.readAll(() => scatter * normalDeviate(random));
}
const known = (standardDeviation: number) => ({ 'error|E|': { standardDeviation, dof: 40 } });
const knowing = (bench: TestBench, standardDeviation: number) => ({
  ...bench.state,
  formerScatter: known(standardDeviation),
  readings: [...bench.state.readings],
  live: new Map(bench.state.live),
});

describe('how repeats scattered before', () => {
  it('is told of each result, and pooled over runs by their degrees of freedom', () => {
    const of = scatterIn(read(0.002, 1).state, 'as-found')['error|E|']!;
    expect(of.dof).toBeGreaterThan(8);
    expect(of.standardDeviation / 0.002).toBeGreaterThan(0.6);
    expect(of.standardDeviation / 0.002).toBeLessThan(1.4);
    expect(
      pooledScatter([
        { a: { standardDeviation: 3, dof: 2 } },
        { a: { standardDeviation: 4, dof: 6 }, b: { standardDeviation: 1, dof: 1 } },
      ]),
    ).toEqual({
      a: { standardDeviation: Math.sqrt((2 * 9 + 6 * 16) / 8), dof: 8 },
      b: { standardDeviation: 1, dof: 1 },
    });
  });

  it('is the noise that is expected now, in place of what the readings themselves scatter by', () => {
    const bench = read(0.002, 2);
    const noiseOf = (state: typeof bench.state) => errorsTogether(state, 'as-found')[0]!.question.noise!;
    expect(noiseOf(knowing(bench, 0.0005))).toBeCloseTo(Math.sqrt(0.0005 ** 2 - 0.001 ** 2 / 12), 6);
    expect(noiseOf(bench.state)).toBeGreaterThan(0.001);
  });

  it('tells that it scatters more than it should, which its own readings never can', () => {
    const bench = read(0.0025, 3);
    expect(errorsTogether(bench.state, 'as-found')[0]!.question.priors.scatter).toBe(0);
    expect(diagnose(knowing(bench, 0.0005), 'as-found').looks[0]).toMatchObject({ cause: 'scatter' });
    expect(diagnose(knowing(read(0.0005, 4), 0.0006), 'as-found').looks[0]!.cause).not.toBe('scatter');
  });

  it('is not gone by where it rests on next to nothing', () => {
    const bench = read(0.002, 2);
    const few = { ...knowing(bench, 0.0005), formerScatter: { 'error|E|': { standardDeviation: 0.0005, dof: 2 } } };
    expect(errorsTogether(few, 'as-found')[0]!.question.noise).toBeGreaterThan(0.001);
  });
});
