import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readDocument } from '../src/core/procedure/read-document';
import { families } from './families';
import { hiddenCoverage } from './hidden-truth';

const rawOf = (id: string): string => readFileSync(`procedures/${id}.json`, 'utf8');
const all = families.map((family) => [family.instruments[0]!.procedure, family] as const);

/** Few runs here; `npm run bench` plays 400 of each. */
const runs = 16;

describe('an interval holds what is hidden at the bench', () => {
  it.each(all)(
    '%s',
    (id, family) => {
      const { results, inside } = hiddenCoverage(family, readDocument(JSON.parse(rawOf(id))), runs);
      expect(results).toBeGreaterThan(runs);
      // Results of one run share what is hidden, so a few runs scatter by some per cent about 95.45 %.
      expect(inside / results).toBeGreaterThan(0.88);
    },
    60_000,
  );
});

describe('a wrong sign in a budget is found out', () => {
  const signs: [string, string, RegExp, string][] = [
    ['bore-gauge', 'the ring added', /"R - \(D \+ drift\)/, '"R + (D + drift)'],
    ['dial-indicator', 'the tester', /"R - \(S/, '"R + (S'],
    ['gauge-blocks-by-comparison', 'the difference', /\* 1000 \+ d \+/, '* 1000 - d +'],
    ['ultrasonic-thickness-gauge', 'the step', /"R - \(T/, '"R + (T'],
    ['magnetic-wall-thickness-gauge', 'the least not quite found', /- tilt \+/, '+ tilt +'],
    ['water-activity-meter', 'the change with temperature', /\(w \+ k \* \(t - 25\)\)/, '(w - 5 * k * (t - 25))'],
    ['thermal-conductivity-meter', 'the material', /"R - k \*/, '"R + k *'],
    ['piston-pipette-by-weighing', 'the buoyancy', /\(waterDensity\(tw\) - airDensity/, '(waterDensity(tw) + 3 * airDensity'],
    ['sound-level-meter', 'the level of the calibrator', /- Lc -/, '+ Lc -'],
    ['transducer-with-indicator', 'the reference', /\(d - F - c/, '(d + F - c'],
    ['clamp-meter', 'the turns', /"R - N \*/, '"R + N *'],
    ['source-calibrator', 'the meter', /"X - M -/, '"X + M -'],
  ];
  it.each(signs)('%s: %s', (id, _, right, wrong) => {
    const raw = rawOf(id);
    expect(raw).toMatch(right);
    const family = families.find((f) => f.instruments[0]!.procedure === id)!;
    // Its own worked example would refuse it, too; here the bench does.
    const { example: _example, ...spoilt } = JSON.parse(raw.replace(right, wrong)) as Record<string, unknown>;
    const kinds = Object.values(hiddenCoverage(family, readDocument(spoilt), 4).of);
    expect(Math.min(...kinds.map((k) => k.inside / k.results))).toBeLessThan(0.88);
  });
});
