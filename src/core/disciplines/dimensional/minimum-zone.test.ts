import { describe, expect, it } from 'vitest';
import { RandomStream } from '../../montecarlo/random-stream';
import { minimumZone } from './minimum-zone';
import { sphere } from './circle-and-sphere';

const widthFrom = (points: number[][], centre: number[]): number => {
  const d = points.map((p) => Math.hypot(...p.map((v, i) => v - centre[i]!)));
  return Math.max(...d) - Math.min(...d);
};

describe('minimum zone', () => {
  it('is 0 for what is round, from any start', () => {
    const circle = Array.from({ length: 12 }, (_, i) => [3 + 5 * Math.cos(i / 2), -1 + 5 * Math.sin(i / 2)]);
    expect(minimumZone(circle, [3.01, -1.02])).toBeLessThan(1e-9);
  });
  it('of an oval is the difference of its radii, however the points crowd on one side', () => {
    const corners = [
      [10.02, 0],
      [-10.02, 0],
      [0, 10],
      [0, -10],
    ];
    const crowd = Array.from({ length: 30 }, (_, i) => [10.01 * Math.cos(0.3 + i / 100), 10.01 * Math.sin(0.3 + i / 100)]);
    expect(minimumZone([...corners, ...crowd], [0.005, 0.003])).toBeCloseTo(0.02, 7);
  });
  it('of a sphere drawn out along one axis is how much it is drawn out', () => {
    const points = [
      [0, 0, 12.5015],
      [0, 0, -12.5015],
      [12.5, 0, 0],
      [-12.5, 0, 0],
      [0, 12.5, 0],
      [0, -12.5, 0],
    ];
    expect(minimumZone(points, [0, 0, 0.0004])).toBeCloseTo(0.0015, 8);
  });
  it('is never wider than the least-squares form, and no centre nearby does better', () => {
    const stream = new RandomStream(12);
    for (let trial = 0; trial < 40; trial++) {
      const points = Array.from({ length: 25 }, () => {
        const z = 2 * stream.uniform() - 1;
        const round = 2 * Math.PI * stream.uniform();
        const r = 12.5 + 0.002 * (stream.uniform() - 0.5);
        const flat = Math.sqrt(1 - z * z);
        return [120 + r * flat * Math.cos(round), 80 + r * flat * Math.sin(round), 40 + r * z];
      });
      const given = sphere.analyse([points.map((p) => p.join(' ')).join('\n')], {});
      const zone = given['minimumZone']!;
      expect(zone).toBeLessThanOrEqual(given['form']! + 1e-12);
      // A search that knows nothing of the method: from the true centre, ever smaller steps along all axes.
      let [at, best, step] = [[120, 80, 40], widthFrom(points, [120, 80, 40]), 0.002];
      while (step > 1e-9) {
        const next = [0, 1, 2]
          .flatMap((d) => [-step, step].map((s) => at.map((v, i) => (i === d ? v + s : v))))
          .reduce((a, b) => (widthFrom(points, b) < widthFrom(points, a) ? b : a));
        if (widthFrom(points, next) < best) [at, best] = [next, widthFrom(points, next)];
        else step /= 2;
      }
      expect(zone).toBeLessThanOrEqual(best + 1e-9);
    }
  });
});
