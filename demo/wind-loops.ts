import type { DemoInstrument } from './instruments';
import { transmitterTruth, type Truth } from './truths';

/** Time goes by several times as fast for it as for others of its make. */
const wanders =
  (times: number) =>
  (random: () => number): Truth => {
    const truth = transmitterTruth(random);
    return {
      ...truth,
      ages: (r) => {
        for (let i = 0; i < times; i++) truth.ages(r);
      },
    };
  };

/** How restless the display of each wind chest is: most wander out within years, one at nearly every visit, some not at all. */
const restlessness = [7, 6, 8, 7, 40, 6, 9, 7, 8, 6, 7, 0, 8, 6, 7, 9, 6, 8, 7, 6];

/** The pressure displays of the organ's wind chests, calibrated as whole loops: many alike, long enough for their kin to tell. */
export const windLoops: DemoInstrument[] = restlessness.map((times, i) => ({
  kind: 'pressure-transmitter',
  unit: 'kPa',
  procedure: 'pressure-transmitter',
  standards: { pressure: ['pressure-1'] },
  choices: { what: 'loop' },
  runs: 6,
  dueInDays: 40 + 33 * i,
  truth: wanders(times),
  row: {
    identification: `QP-${41 + i}`,
    designation: 'Norrick WD loop',
    owner: 'Quillmere Works',
    place: `Wind chest ${i + 1}`,
    use: 'wind chest',
    lower: 0,
    upper: 700,
    usedLower: 0,
    usedUpper: 600,
    resolution: 0.1,
    stored: { lowTrim: 0, highTrim: 0 },
  },
}));
