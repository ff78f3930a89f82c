import type { Measured } from './visit';

/** What was read of one result at one visit; times in months. */
export type DriftVisit = {
  at: number;
  found: Pick<Measured, 'value' | 'standardUncertainty' | 'sharedUncertainty'>;
  /** Read after an adjustment, which is a break; null where it was left as found. */
  left: Pick<Measured, 'value' | 'standardUncertainty' | 'sharedUncertainty'> | null;
  /** The standards came with other certificates than at the visit before. */
  hasNewStandards: boolean;
};

/** How the error of an instrument moves between visits: its rate and its wandering, each as one standard deviation. */
export type DriftMember = {
  /** Unit per month, of a rate that stays. */ rate: number;
  /** Unit per square root of a month. */ walk: number;
  /** Unit: how far a reading that states no uncertainty may lie off, as one standard deviation. */ noise: number;
};

/** What is known after the last visit: mean and covariance of error and rate. */
export type DriftState = {
  error: number;
  rate: number;
  errorVariance: number;
  rateVariance: number;
  covariance: number;
  logEvidence: number;
};

/** How little is known of an error that has just been set, in multiples of the scale. */
const diffuse = 100;

/**
 * The error of an instrument, its steady rate and what its standards are off by, filtered through its visits (Kalman 1960; Durbin and
 * Koopman, Time series analysis by state space methods, 4.3). An adjustment makes the error unknown until it is read as left; other
 * certificates make what the standards are off by unknown again, as far as their uncertainty allows.
 * @param scale of the errors, e.g. half the tolerance @returns the state after the last visit, with the log evidence of all readings
 */
export function filterDrift(visits: readonly DriftVisit[], member: DriftMember, scale: number): DriftState {
  let [x, b, s] = [visits[0]?.found.value ?? 0, 0, 0];
  let [xx, xb, xs, bb, bs, ss] = [(diffuse * scale) ** 2, 0, 0, member.rate ** 2, 0, 0];
  let logEvidence = 0;
  const read = (value: number, noise: number) => {
    // The reading is error + what the standards are off by + its own noise.
    const variance = xx + 2 * xs + ss + noise;
    if (!(variance > 0)) return;
    // Scalars one by one: this is where thousands of due dates spend their time.
    const hx = xx + xs;
    const hb = xb + bs;
    const hs = xs + ss;
    const kx = hx / variance;
    const kb = hb / variance;
    const ks = hs / variance;
    const off = value - x - s;
    logEvidence -= 0.5 * (Math.log(2 * Math.PI * variance) + (off * off) / variance);
    x += kx * off;
    b += kb * off;
    s += ks * off;
    xx -= kx * hx;
    xb -= kx * hb;
    xs -= kx * hs;
    bb -= kb * hb;
    bs -= kb * hs;
    ss -= ks * hs;
  };
  let before: number | null = null;
  for (const visit of visits) {
    const dt = before === null ? 0 : Math.max(0, visit.at - before);
    before = visit.at;
    x += b * dt;
    xx += 2 * dt * xb + dt * dt * bb + member.walk ** 2 * dt;
    xb += dt * bb;
    xs += dt * bs;
    const shared = visit.found.sharedUncertainty ** 2;
    if (visit.hasNewStandards || ss === 0) [s, ss, xs, bs] = [0, shared, 0, 0];
    const own = (m: { standardUncertainty: number; sharedUncertainty: number }) =>
      m.standardUncertainty > 0 ? Math.max(0, m.standardUncertainty ** 2 - m.sharedUncertainty ** 2) : member.noise ** 2;
    read(visit.found.value, own(visit.found));
    if (visit.left) {
      [x, xx, xb, xs] = [visit.left.value, (diffuse * scale) ** 2, 0, 0];
      read(visit.left.value, own(visit.left));
    }
  }
  return { error: x, rate: b, errorVariance: xx, rateVariance: bb, covariance: xb, logEvidence };
}

/** Mean and standard deviation of the error some months after the last visit. */
export function driftAfter(state: DriftState, member: DriftMember, months: number): { mean: number; deviation: number } {
  const variance =
    state.errorVariance + 2 * months * state.covariance + months * months * state.rateVariance + member.walk ** 2 * months;
  return { mean: state.error + state.rate * months, deviation: Math.sqrt(Math.max(0, variance)) };
}
