/** What is wrong with the numbers of a distribution, and at which member. */
export type DistributionFault = { path: string; message: string };

type Members = Readonly<Record<string, unknown>>;

const number = (d: Members, key: string): number | undefined => (typeof d[key] === 'number' ? d[key] : undefined);

/** Members that may not be negative, and how that is said. */
const notNegative: Record<string, string> = {
  halfWidth: 'A half-width cannot be negative: give its magnitude.',
  standardUncertainty: 'A standard uncertainty cannot be negative.',
  expandedUncertainty: 'An expanded uncertainty cannot be negative.',
  floor: 'A floor cannot be negative.',
  halfWidthUncertainty: 'The uncertainty of a half-width cannot be negative.',
  scale: 'A scale cannot be negative.',
};

const fault = (path: string, message: string): DistributionFault => ({ path, message });

const pairFault = (d: Members): DistributionFault | null => {
  const hasPair = d['expandedUncertainty'] !== undefined && d['coverageFactor'] !== undefined;
  if (d['standardUncertainty'] === undefined && !hasPair)
    return fault(
      d['expandedUncertainty'] === undefined ? 'standardUncertainty' : 'coverageFactor',
      'Give the standard uncertainty, or the expanded uncertainty with its coverage factor.',
    );
  return d['standardUncertainty'] !== undefined && d['expandedUncertainty'] !== undefined
    ? fault('expandedUncertainty', 'Give either the standard or the expanded uncertainty, not both.')
    : null;
};

const limitsFault = (d: Members): DistributionFault | null => {
  const [lower, upper] = [number(d, 'lower'), number(d, 'upper')];
  const byWidth = d['mean'] !== undefined && d['halfWidth'] !== undefined;
  if ((lower === undefined || upper === undefined) && !byWidth)
    return fault(
      lower !== undefined ? 'upper' : d['mean'] === undefined ? 'mean' : 'halfWidth',
      'Give mean and half-width, or lower and upper limit.',
    );
  return lower !== undefined && upper !== undefined && lower > upper
    ? fault('upper', 'The upper limit is below the lower one.')
    : null;
};

const byType: Record<string, (d: Members) => DistributionFault | null> = {
  normal: (d) =>
    (number(d, 'coverageFactor') ?? 1) <= 0 ? fault('coverageFactor', 'A coverage factor is greater than 0.') : pairFault(d),
  readings: (d) =>
    Array.isArray(d['values']) && d['values'].length < 2 && d['pooled'] === undefined
      ? fault(
          'values',
          'One reading alone has no scatter: take a second one, or give a pooled standard deviation from earlier work.',
        )
      : null,
  rectangular: limitsFault,
  trapezoidal: (d) =>
    (number(d, 'shape') ?? 0) < 0 || (number(d, 'shape') ?? 0) > 1
      ? fault('shape', 'The shape is top over base, from 0 to 1.')
      : null,
  'curvilinear-trapezoidal': (d) =>
    (number(d, 'halfWidthUncertainty') ?? 0) > (number(d, 'halfWidth') ?? 0)
      ? fault('halfWidthUncertainty', 'The uncertainty of the half-width cannot exceed the half-width.')
      : null,
  exponential: (d) =>
    (number(d, 'mean') ?? 0) < 0 ? fault('mean', 'The mean of an exponential distribution is not negative.') : null,
  gamma: (d) => ((number(d, 'shape') ?? 1) <= 0 ? fault('shape', 'The shape of a gamma distribution is greater than 0.') : null),
};

/**
 * Whether the numbers of a distribution can be meant: one rule for documents that come in and for those that a procedure fills in.
 * @param d a distribution whose members have the right types
 * @example distributionFault({ type: 'triangular', mean: 0, halfWidth: -1 }) // { path: 'halfWidth' }
 */
export function distributionFault(d: Members): DistributionFault | null {
  for (const [key, message] of Object.entries(notNegative)) if ((number(d, key) ?? 0) < 0) return fault(key, message);
  const dof = number(d, 'dof');
  if (d['type'] === 'student-t') {
    if (dof !== undefined && dof <= 2)
      return fault('dof', 'A t distribution has a standard deviation only with more than 2 degrees of freedom.');
  } else if (dof !== undefined && dof < 1) return fault('dof', 'Degrees of freedom are at least 1.');
  return byType[String(d['type'])]?.(d) ?? null;
}
