import { seededRandom } from '../src/bench/random';
import { diagnose } from '../src/core/run/diagnosis';
import { adjustmentAdvice } from '../src/core/run/adjustment-advice';
import { judged } from '../src/core/run/fixtures/judged';
import { say } from './measure';

const cases = 300;
const percent = (count: number): string => `${((100 * count) / cases).toFixed(1)} %`;
const accusing = new Set(['slope', 'curve', 'offset', 'odd-point', 'scatter', 'drift', 'not-settled', 'exchanged']);

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
