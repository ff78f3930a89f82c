import { addDays, format, parseISO } from 'date-fns';
import { policySchema, type Policy, type SetPolicy } from '../src/core/interval/policy';
import type { Truth } from '../src/bench/truths';

/** What happens between calibrations at the works: how next dates are told, what counters showed, and quick checks. */

const policy = (school: Policy['school'], more: Partial<Policy> = {}): Policy => policySchema.parse({ school, ...more });

/** Policies of the works, each family by what suits it. */
export const policies: SetPolicy[] = [
  { scope: 'family', subject: 'outside-micrometer', policy: policy('drift', { price: 60 }) },
  {
    scope: 'family',
    subject: 'pressure-transmitter',
    policy: policy('reliability', { kinBy: ['use'], price: 140, target: 0.9, floor: 6 }),
  },
  { scope: 'family', subject: 'balance', policy: policy('react') },
  { scope: 'family', subject: 'piston-pipette', policy: policy('use', { use: { unit: 'cycles', most: 20_000 } }) },
  { scope: 'family', subject: 'water-activity-meter', policy: policy('quick') },
  { scope: 'owner', subject: 'Tarn Ridge Turbines', policy: policy('fixed', { months: 12 }) },
];

/** Counters of pistons: strokes in a month, by instrument; noted each month of the last year. */
export const strokesInAMonth: Record<string, number> = { 'hv-21': 1450, 'hv-22': 240 };

/** What is out being used at the moment, and where. */
export const outNow: Record<string, string> = { 'hv-22': 'Varnish room' };

/** Quick checks of an instrument: how many, how far apart, and how far the last of them lie from the truth. */
export type QuickStory = {
  instrument: string;
  checks: number;
  everyDays: number;
  /** What is added to what is shown, at a check counted from the first. */
  off: (index: number) => number;
};

export const quickStories: QuickStory[] = [
  { instrument: 'sh-22', checks: 26, everyDays: 1, off: () => 0 },
  // A probe tip that wears through: quiet, then an alarm.
  { instrument: 'qi-92', checks: 24, everyDays: 1, off: (i) => (i < 22 ? 0 : 2.4 * (i - 21)) },
  { instrument: 'qs-12', checks: 12, everyDays: 3, off: () => 0 },
  { instrument: 'qi-02', checks: 5, everyDays: 7, off: () => 0 },
];

/** The instrument as a check sees it: what it shows, and what has happened to it since. */
export const shownOff = (truth: Truth, off: number): Truth => ({
  ...truth,
  shows: (state, slot, random) => {
    const shown = truth.shows(state, slot, random);
    return 'value' in shown ? { ...shown, value: shown.value + off } : shown;
  },
});

/** Days of the checks, oldest first; the last one was yesterday. */
export const checkDays = ({ checks, everyDays }: QuickStory, today: string): string[] =>
  Array.from({ length: checks }, (_, i) => format(addDays(parseISO(today), -1 - everyDays * (checks - 1 - i)), 'yyyy-MM-dd'));
