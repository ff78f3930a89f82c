import { DocumentError } from '../faults';
import type { Cause, DiagnoseQuestion } from './diagnose-schema';

/** A reading in its place. */
export type PlacedReading = {
  error: number;
  /** Index of its point among those that count. */ point: number;
  direction: 'up' | 'down';
  minute: number | undefined;
  reference: number;
  nominal: number;
};

export type Laid = {
  readings: PlacedReading[];
  points: DiagnoseQuestion['points'];
  /** The smallest limit other than 0, to which everything is scaled. */ T: number;
  /** Of each point: along the range from 0 to 1, and from the zero as a share of the farthest. */ t: number[];
  z: number[];
};

/** One way in which a cause shows: a shift of its own, or a pattern that is scaled by its size. */
export type Shape = {
  /** What it adds per unit of its size, reading by reading; for one without a size all that it adds. */ pattern: number[];
  at?: string[];
  /** Its size where it is no quantity to be found: a factor. */ fixed?: number;
};

/** A cause with its ways, each alike probable. */
export type Candidate = {
  cause: Cause;
  /** Of its sizes; none where it has none. */ sizes: string[];
  /** For one size: a way each. For two: the two patterns of one way. */ shapes: Shape[];
};

/** Readings in their places, and what they are scaled by. @throws DocumentError where nothing was read, or nothing limits */
export function laidOut(question: DiagnoseQuestion): Laid {
  const points = question.points.filter((p) => p.readings.length > 0);
  if (points.length === 0) throw new DocumentError('No point has a reading.', ['points']);
  const bounds = points.flatMap((p) => [p.limits.lower, p.limits.upper].flatMap((l) => (l ? [Math.abs(l)] : [])));
  if (bounds.length === 0) throw new DocumentError('No point has a limit other than 0: nothing tells what is large.', ['points']);
  const xs = points.map((p) => p.nominal);
  const [least, greatest] = [Math.min(...xs), Math.max(...xs)];
  const farthest = Math.max(...xs.map((x) => Math.abs(x - question.zero)));
  return {
    points,
    T: Math.min(...bounds),
    t: xs.map((x) => (greatest > least ? (x - least) / (greatest - least) : 0)),
    z: xs.map((x) => (farthest > 0 ? (x - question.zero) / farthest : 0)),
    readings: points.flatMap((p, point) =>
      p.readings.map((r) => ({
        error: r.error,
        point,
        direction: r.direction ?? 'up',
        minute: r.minute,
        reference: p.reference,
        nominal: p.nominal,
      })),
    ),
  };
}

/** First readings of points that come from another: with the sign of where they come from. */
function notSettled({ readings, points }: Laid): number[] | null {
  const pattern = readings.map(() => 0);
  let isRepeated = false;
  for (const direction of ['up', 'down'] as const) {
    const order = points.map((_, i) => i);
    if (direction === 'down') order.reverse();
    let before: number | null = null;
    for (const point of order) {
      const here = readings.flatMap((r, i) => (r.point === point && r.direction === direction ? [i] : []));
      if (here.length === 0) continue;
      if (here.length > 1) isRepeated = true;
      const nominal = points[point]!.nominal;
      if (before !== null) pattern[here[0]!] = Math.sign(before - nominal);
      before = nominal;
    }
  }
  return isRepeated ? pattern : null;
}

/** The causes that the readings could show, each with what it adds to them. */
export function candidatesOf(question: DiagnoseQuestion, laid: Laid): Candidate[] {
  const { readings, points, t, z } = laid;
  const at = (value: (r: PlacedReading) => number): Shape => ({ pattern: readings.map(value) });
  const bow = (r: PlacedReading) => 4 * t[r.point]! * (1 - t[r.point]!);
  const slopes = new Set(z).size > 1;
  const directions = new Set(readings.map((r) => r.direction));
  const minutes = readings.map((r) => r.minute);
  const timed = minutes.every((m) => m !== undefined) && new Set(minutes).size > 1;
  const [first, last] = timed ? [Math.min(...(minutes as number[])), Math.max(...(minutes as number[]))] : [0, 1];
  const unsettled = notSettled(laid);
  const repeats = points.some((_, i) => readings.filter((r) => r.point === i).length > 1);
  const pairs = points.flatMap((a, i) =>
    points.slice(i + 1).flatMap((b, k) => (a.reference === b.reference ? [] : [[i, i + 1 + k] as const])),
  );
  const away = points.map((p) => Math.abs(p.reference - p.nominal));
  const ways: [boolean, Candidate][] = [
    [true, { cause: 'offset', sizes: ['offset'], shapes: [at(() => 1)] }],
    [slopes, { cause: 'span', sizes: ['span'], shapes: [at((r) => z[r.point]!)] }],
    [
      slopes && points.length >= 3,
      { cause: 'offset-and-span', sizes: ['offset', 'span'], shapes: [at(() => 1), at((r) => z[r.point]!)] },
    ],
    [points.length >= 4, { cause: 'curvature', sizes: ['curvature'], shapes: [at(bow)] }],
    [
      directions.size === 2,
      { cause: 'hysteresis', sizes: ['hysteresis'], shapes: [at((r) => ((r.direction === 'down' ? 1 : -1) * bow(r)) / 2)] },
    ],
    [
      points.length >= 4,
      {
        cause: 'odd-point',
        sizes: ['displacement'],
        shapes: points.map((p, i) => ({ ...at((r) => Number(r.point === i)), at: [p.id] })),
      },
    ],
    [repeats && question.noise !== null, { cause: 'scatter', sizes: ['ratio'], shapes: [at(() => 1)] }],
    [timed, { cause: 'drift', sizes: ['drift'], shapes: [at((r) => ((r.minute ?? first) - first) / (last - first))] }],
    [unsettled !== null, { cause: 'not-settled', sizes: ['displacement'], shapes: [{ pattern: unsettled ?? [] }] }],
    [
      question.factors.length > 0 || question.unit === 'Cel',
      {
        cause: 'factor',
        sizes: [],
        shapes: [
          ...question.factors.map((f) => ({ ...at((r) => (f - 1) * r.reference), fixed: f })),
          ...(question.unit === 'Cel' ? [at((r) => 0.8 * r.reference + 32)] : []),
        ],
      },
    ],
    [
      pairs.length > 0,
      {
        cause: 'exchanged',
        sizes: [],
        shapes: pairs.map(([i, j]) => {
          const apart = points[j]!.reference - points[i]!.reference;
          return {
            ...at((r) => (r.point === i ? apart : r.point === j ? -apart : 0)),
            at: [points[i]!.id, points[j]!.id],
          };
        }),
      },
    ],
    [
      away.some((d) => d > (question.noise ?? 0)),
      { cause: 'nominal-for-certified', sizes: [], shapes: [at((r) => r.reference - r.nominal)] },
    ],
  ];
  return [
    { cause: 'none', sizes: [], shapes: [at(() => 0)] },
    ...ways.flatMap(([isShown, candidate]) =>
      isShown && candidate.shapes.some((s) => s.pattern.some((p) => p !== 0)) ? [candidate] : [],
    ),
  ];
}

/**
 * What is thought of each cause before anything was read: `none` a half, the rest alike; what is named holds, the others share what is
 * left in proportion.
 * @throws DocumentError where what is named adds to more than 1
 */
export function priorsOf(shown: readonly Cause[], named: Partial<Record<Cause, number>>): Map<Cause, number> {
  const plain = (cause: Cause) => (cause === 'none' ? (shown.length > 1 ? 0.5 : 1) : 0.5 / (shown.length - 1));
  const given = shown.filter((c) => named[c] !== undefined);
  const held = given.reduce((sum, c) => sum + named[c]!, 0);
  if (held > 1 + 1e-12) throw new DocumentError(`The priors add to ${held}, more than 1.`, ['priors']);
  const rest = shown.filter((c) => named[c] === undefined).reduce((sum, c) => sum + plain(c), 0);
  const all = new Map(shown.map((c) => [c, named[c] ?? (rest > 0 ? (plain(c) / rest) * (1 - held) : 0)]));
  const total = [...all.values()].reduce((a, b) => a + b, 0);
  if (!(total > 0)) throw new DocumentError('The priors leave nothing for any cause.', ['priors']);
  return new Map([...all].map(([c, p]) => [c, p / total]));
}
