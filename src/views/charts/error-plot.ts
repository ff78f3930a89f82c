/** A point of an error curve: where it stands along the range, and what it has given so far. */
export type CurvePoint = {
  /** Along the axis; not a number where the point has no place on it. */ x: number;
  label: string;
  limits: { lower: number | null; upper: number | null } | null;
  result: { estimate: number; U: number } | null;
  isHere: boolean;
};

export type ErrorPlot = {
  /** To either side of zero. */ reach: number;
  domain: [number, number];
  limits: { from: number; to: number; lower: number | null; upper: number | null }[];
  read: { x: number; error: number; U: [number, number]; isOut: boolean }[];
  unread: { x: number; error: number }[];
  here: number | null;
  /** The first and the last along the axis, with what is written under them. */ ends: { x: number; label: string }[];
};

/** A failure stays in the picture as far as this many times the largest limit. */
const farthest = 4;
/** The widest room that a point has for its limits, as a share of the axis. */
const widest = 0.2;

/**
 * What an error curve draws. Points that have no place along the axis stand in their order, evenly apart.
 * @returns null where there is nothing to hold against anything: no result yet, or no limits
 */
export function errorPlot(points: readonly CurvePoint[]): ErrorPlot | null {
  const bounds = points.flatMap((p) =>
    [p.limits?.lower ?? null, p.limits?.upper ?? null].filter((l) => l !== null).map(Math.abs),
  );
  const values = points.flatMap((p) => (p.result ? [Math.abs(p.result.estimate) + p.result.U] : []));
  if (bounds.length === 0 || values.length === 0) return null;
  const largest = Math.max(...bounds);
  const reach = Math.max(1.25 * largest, Math.min(farthest * largest, 1.05 * Math.max(...values)));
  const isPlaced = points.every((p) => Number.isFinite(p.x)) && new Set(points.map((p) => p.x)).size > 1;
  const placed = points.map((p, i) => ({ ...p, x: isPlaced ? p.x : i }));
  const xs = placed.map((p) => p.x);
  const [low, high] = [Math.min(...xs), Math.max(...xs)];
  const span = high - low || 1;
  /** Up to half-way to the nearer neighbour. */
  const halfAt = (x: number) => Math.min(widest * span, ...xs.map((other) => Math.abs(other - x)).filter((d) => d > 0)) / 2;
  const held = (value: number) => Math.max(-reach, Math.min(reach, value));
  const labelAt = (x: number) => placed.find((p) => p.x === x)?.label ?? '';
  return {
    reach,
    domain: [low - 0.04 * span, high + 0.04 * span],
    limits: placed.flatMap(({ x, limits }) =>
      limits && (limits.lower ?? limits.upper) !== null
        ? [{ from: x - 0.96 * halfAt(x), to: x + 0.96 * halfAt(x), lower: limits.lower, upper: limits.upper }]
        : [],
    ),
    read: placed.flatMap(({ x, limits, result: r }) => {
      if (!r) return [];
      const isOut = (limits?.upper != null && r.estimate > limits.upper) || (limits?.lower != null && r.estimate < limits.lower);
      const error = held(r.estimate);
      return [{ x, error, U: [error - held(r.estimate - r.U), held(r.estimate + r.U) - error] as [number, number], isOut }];
    }),
    unread: placed.flatMap(({ x, result }) => (result ? [] : [{ x, error: 0 }])),
    here: placed.find((p) => p.isHere)?.x ?? null,
    ends: [...new Set([low, high])].map((x) => ({ x, label: labelAt(x) })),
  };
}
