import type { DemoInstrument } from './instruments';
import { transmitterTruth, type Truth } from '../truths';

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

/** How restless the transmitter of each wind chest is: most wander out within years, one at nearly every visit, some not at all. */
const restlessness = [10, 9, 11, 9, 60, 9, 12, 10, 11, 9, 10, 0, 11, 9, 10, 12, 9, 11, 10, 9];

/** The pressure transmitters of the organ's wind chests: many alike, long enough for their kin to tell. */
export const windChests: DemoInstrument[] = restlessness.map((times, i) => ({
  kind: 'pressure-transmitter',
  unit: 'kPa',
  procedure: 'pressure-transmitter',
  standards: { pressure: ['pressure-1'], meter: ['meter-4'] },
  choices: { what: 'transmitter' },
  runs: 6,
  // Those that failed last time come after one year, not two.
  dueInDays: 372 + 17 * i,
  truth: wanders(times),
  row: {
    identification: `QP-${41 + i}`,
    designation: 'Norrick WD 4-20',
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
