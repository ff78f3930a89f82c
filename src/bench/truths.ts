import type { Place } from '../core/plan/plan-schema';
import { numberAt } from '../core/state/run-scope';
import { settingIn } from '../core/run/run-results';
import { placedPoint, type RunState, type Slot } from '../core/state/run-state';
import { normalDeviate } from './random';

/** What an instrument really does; the simulated technician only sees what it shows. */
export type Truth = {
  /** What is shown for a reading, and to which step; or the text of what is chosen or written into a file. */
  shows: (state: RunState, slot: Slot, random: () => number) => { value: number; step: number } | { text: string };
  /** A condition at the bench. */ condition: (id: string, random: () => number) => string;
  /** A number that a step asks for. */ measured: (id: string, state: RunState, place: Place) => number;
  /** What is typed of what is stored: before and after an adjustment. */
  stored: (id: string, proposed: number | undefined) => { before?: string; after: string };
  /** An adjustment was made. */ adjusted: (id: string, stored: Record<string, number>) => void;
  /** Time goes by between two calibrations. */ ages: (random: () => number) => void;
  /** Makes it fail, for a run that is of interest. */ spoil: () => void;
};

const nominalAt = (state: RunState, slot: Slot): number => placedPoint(state, slot)?.nominal ?? 0;
const near = (value: number, spread: number, random: () => number, decimals = 1): string =>
  (value + spread * (random() - 0.5)).toFixed(decimals);

/** A screw with its zero, its slope and its periodic error (pitch 0.5 mm). Lengths in mm. */
export function micrometerTruth(random: () => number): Truth {
  let zero = 0.0007 * normalDeviate(random);
  let slope = 0.00004 * normalDeviate(random);
  const periodic = 0.0004 + 0.0005 * random();
  const phase = 6 * random();
  const repeatability = 0.0002 + 0.0003 * random();
  const drift = 0.0003 * normalDeviate(random);
  let room = 20 + 0.35 * normalDeviate(random);
  return {
    shows: (state, slot, r) => {
      const { repeat: _repeat, observation: _observation, ...place } = slot;
      const series = state.procedure.series.find((s) => s.id === slot.series)!;
      const reference = numberAt(settingIn(state, slot.set), series.results[0]!.reference, place)!;
      const travel = nominalAt(state, slot) - state.instrument.lower;
      const error = zero + slope * travel + periodic * Math.sin((2 * Math.PI * travel) / 0.5 + phase + travel / 4);
      return { value: reference + error + repeatability * normalDeviate(r), step: state.instrument.resolution };
    },
    condition: (_id, r) => near(Math.min(20.9, Math.max(19.1, room)), 0.2, r),
    // Bands of light on its faces.
    measured: () => 1,
    stored: (_id, proposed) => ({ before: '0.000', after: (proposed ?? -zero).toFixed(3) }),
    adjusted: (_id, stored) => {
      zero += stored['shift'] ?? 0;
    },
    ages: (r) => {
      zero += drift + 0.0008 * normalDeviate(r);
      slope += 0.00001 * normalDeviate(r);
      room = 20 + 0.35 * normalDeviate(r);
    },
    spoil: () => {
      zero = -0.0036;
    },
  };
}

/** A probe whose error grows a little with temperature, with a stored offset; the bath swings by hundredths. °C and K. */
export function thermometerTruth(random: () => number): Truth {
  let offset = 0.02 * normalDeviate(random);
  const gain = 0.0004 * (1 + 0.5 * normalDeviate(random));
  const drift = 0.012 * normalDeviate(random);
  let held = 0;
  return {
    shows: (state, slot, r) => {
      const bath = nominalAt(state, slot) + 0.004 + 0.003 * normalDeviate(r);
      if (slot.observation.startsWith('S')) return { value: bath, step: 0.001 };
      return { value: bath + offset + held + gain * bath + 0.003 * normalDeviate(r), step: state.instrument.resolution };
    },
    condition: (_id, r) => near(22, 1, r),
    measured: (id) => (id === 'depth' ? 150 : 0),
    stored: (_id, proposed) => ({ before: held.toFixed(2), after: (proposed ?? held).toFixed(2) }),
    adjusted: (_id, stored) => {
      held = stored['offset'] ?? held;
    },
    ages: (r) => {
      offset += drift + 0.02 * normalDeviate(r);
    },
    spoil: () => {
      offset += 0.15;
    },
  };
}

/** A balance with its sensitivity, its corners and its scatter. g. */
export function balanceTruth(random: () => number): Truth {
  let gain = 2e-6 * normalDeviate(random);
  const tilt = [0, 0.6, -0.4, 0.5, 1].map((t) => t * (0.5 + random()));
  const labels = ['centre', 'frontLeft', 'backLeft', 'backRight', 'frontRight'];
  return {
    shows: (state, slot, r) => {
      const step = state.instrument.resolution;
      const scatter = 0.35 * step * normalDeviate(r);
      if (slot.observation === 'Z') return { value: 0.3 * scatter, step };
      const point = placedPoint(state, slot);
      const load = point?.nominal ?? 0;
      const corner = slot.series === 'corners' ? tilt[labels.indexOf(point?.label ?? '')]! * step : 0;
      const back = slot.sweep === 'down' ? 0.3 * step : 0;
      return { value: load * (1 + gain) + corner + back + scatter, step };
    },
    condition: (id, r) => (id === 'pressure' ? near(1006, 12, r, 0) : id === 'humidity' ? near(48, 8, r, 0) : near(21.4, 0.8, r)),
    measured: () => 0,
    stored: () => ({ before: '0', after: '0' }),
    adjusted: () => {
      gain = 2e-7;
    },
    ages: (r) => {
      gain += 8e-6 * normalDeviate(r);
    },
    spoil: () => {
      gain = 2.6e-5;
    },
  };
}

/** A transmitter with zero, span, a bow and hysteresis, in % of span, and two trims in mA. */
export function transmitterTruth(random: () => number): Truth {
  let zero = 0.02 * normalDeviate(random);
  let span = 0.03 * normalDeviate(random);
  const bow = 0.03 * random();
  const turn = 0.02 + 0.02 * random();
  let trims = { low: 0, high: 0 };
  return {
    shows: (state, slot, r) => {
      const nominal = nominalAt(state, slot);
      if (slot.observation === 'P') return { value: nominal, step: 0.01 };
      const share = (nominal - state.instrument.usedLower) / (state.instrument.usedUpper - state.instrument.usedLower);
      const back = slot.sweep === 'down' ? turn * 4 * share * (1 - share) : 0;
      const error = zero + span * share + bow * 4 * share * (1 - share) + back + 0.004 * normalDeviate(r);
      if (slot.observation === 'V' || slot.observation === 'W') {
        const width = state.instrument.usedUpper - state.instrument.usedLower;
        // The far one has a converter of its own.
        const far = slot.observation === 'W' ? 0.02 : 0;
        return { value: nominal + ((error + far) / 100) * width, step: state.instrument.resolution };
      }
      const trimmed = trims.low * (1 - share) + trims.high * share;
      return { value: 4 + 16 * share + 0.16 * error + trimmed, step: 0.001 };
    },
    condition: (_id, r) => near(21.5, 2, r),
    measured: () => 0,
    stored: (id, proposed) => {
      const before = id === 'lowTrim' ? trims.low : trims.high;
      return { before: before.toFixed(3), after: (proposed ?? before).toFixed(3) };
    },
    adjusted: (_id, stored) => {
      trims = { low: stored['lowTrim'] ?? trims.low, high: stored['highTrim'] ?? trims.high };
    },
    ages: (r) => {
      zero += 0.03 * normalDeviate(r);
      span += 0.04 * normalDeviate(r);
    },
    spoil: () => {
      span += 0.28;
    },
  };
}
