import { normalDeviate, seededRandom } from '../demo/random';
import { diagnose } from '../src/core/run/diagnosis';
import { adjustmentAdvice } from '../src/core/run/adjustment-advice';
import { TestBench } from '../src/core/run/fixtures/bench';
import { say } from './measure';

const cases = 300;
const limit = 0.004;

/** A micrometer judged: errors along its range in shares of the limit, each point with its own small error, readings with their scatter. */
function judged(error: (share: number) => number, sigma: number, seed: number): TestBench {
  const random = seededRandom(seed);
  const own = new Map<number, number>();
  return TestBench.micrometer().readAll((nominal) => {
    if (!own.has(nominal)) own.set(nominal, limit * (error(nominal / 25) + sigma * normalDeviate(random)));
    return own.get(nominal)! + 0.0002 * normalDeviate(random);
  });
}

const percent = (count: number): string => `${((100 * count) / cases).toFixed(1)} %`;
const accusing = new Set(['slope', 'curve', 'offset', 'odd-point', 'scatter']);

/** How often the judgement is right, over seeded instruments. */
export function judgementRates(): void {
  let [accused, named, zeroAdvised] = [0, 0, 0];
  for (let seed = 0; seed < cases; seed++) {
    const random = seededRandom(9000 + seed);
    if (accusing.has(diagnose(judged(() => 0, 0.2, 2 * seed).state, 'as-found').kind)) accused++;
    const rise = (random() < 0.5 ? -1 : 1) * (0.8 + 0.8 * random());
    const progressive = judged((x) => rise * x, 0.1, 2 * seed + 1).state;
    if (['slope', 'curve'].includes(diagnose(progressive, 'as-found').kind)) named++;
    if (adjustmentAdvice(progressive, 'as-found').adjustment !== null) zeroAdvised++;
  }
  say(`Healthy instruments of ${cases} that are accused of a pattern (at most 5 %)`, percent(accused));
  say(`Progressive errors of ${cases} that are named as such (at least 90 %)`, percent(named));
  say('Progressive errors against which the zero is advised', percent(zeroAdvised));
}
