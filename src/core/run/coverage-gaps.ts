import { Absent, DocumentError, Undeterminable } from '../faults';
import { assignedOf } from '../evaluate/uses';
import { kindOfSet } from '../evaluate/completeness';
import { decidingTolerance, limitsAt, ruleFor } from '../evaluate/results';
import { noScope, pointsOf, type Point, type Scope, type Series, type Setting } from '../evaluate/setting';
import { plainDecimal } from '../quantity/rounding';
import { convertDifference, isSameKind, printedUnit } from '../quantity/unit';

/** Where a standard does not serve a point: why, in words. */
export type CoverageGap = { role: string; series: string; point: string; why: string };

/** Readings of a standard taken as the point's nominal value, where both are in one unit: what it will be read near. */
function expectedReadings(series: Series, role: string, point: Point): Record<string, number> {
  const unit = series.doc.points?.unit;
  const { nominal } = point;
  if (nominal === undefined || typeof unit !== 'string') return {};
  return Object.fromEntries(
    series.doc.observe
      .filter((o) => o.type === 'number' && o.unit === unit && (series.doc.uses[o.of]?.role ?? o.of) === role)
      .map((o) => [o.id, nominal]),
  );
}

/** Every place at which a use of a series stands, with the readings that are expected there. */
function* placesOfUses(
  s: Setting,
  sets: readonly string[],
): Generator<{ series: Series; use: string; role: string; scope: Scope }> {
  for (const series of s.series.values()) {
    if (!series.doc.sets.some((set) => sets.includes(kindOfSet(set)))) continue;
    for (const instance of series.instances) {
      let points: Point[];
      try {
        points = pointsOf(s, series, instance);
      } catch (error) {
        if (error instanceof Absent) continue;
        throw error;
      }
      for (const point of points)
        for (const [use, { role = use }] of Object.entries(series.doc.uses)) {
          if (!s.standards.has(role)) continue;
          const own = expectedReadings(series, role, point);
          yield { series, use, role, scope: { ...noScope(s.given.set, series.path), series, instance, point, own } };
        }
    }
  }
}

const pointWords = (series: Series, point: Point): string => {
  const unit = typeof series.doc.points?.unit === 'string' ? printedUnit(series.doc.points.unit) : '';
  const title = point.columns['title'];
  if (typeof title === 'string' && title !== '') return title;
  if (point.label !== undefined || point.nominal === undefined) return point.label ?? point.id;
  return `${plainDecimal(Number(point.nominal.toPrecision(6)))}${unit === '' ? '' : ` ${unit}`}`;
};

/** Points that no standard of a role covers, as far as that can be told before anything is read. */
export function coverageGaps(s: Setting, sets: readonly string[] = ['as-found', 'as-left', 'check']): CoverageGap[] {
  const gaps: CoverageGap[] = [];
  for (const { series, use, role, scope } of placesOfUses(s, sets))
    try {
      assignedOf(s, use, 'standardUncertainty', scope);
    } catch (error) {
      if (error instanceof Undeterminable)
        gaps.push({ role, series: series.doc.id, point: pointWords(series, scope.point!), why: error.message });
      else if (!(error instanceof Absent) && !(error instanceof DocumentError)) throw error;
    }
  return gaps;
}

/** A standard whose expanded uncertainty alone is too large at a point, for the limit or for the ratio that the rule asks for. */
export type TooUncertain = { role: string; point: string; words: string };

/** Points at which a standard is less certain than its limit, or the least ratio, allows: before anything is read. */
export function tooUncertain(s: Setting, sets: readonly string[] = ['as-found', 'as-left']): TooUncertain[] {
  const found: TooUncertain[] = [];
  for (const { series, use, role, scope } of placesOfUses(s, sets)) {
    const unit = series.doc.uses[use]?.unit ?? s.doc.standards.find((r) => r.role === role)?.unit;
    if (unit === undefined) continue;
    try {
      const U = 2 * assignedOf(s, use, 'standardUncertainty', scope);
      for (const result of series.doc.results) {
        const tolerance = decidingTolerance(s, result, scope.path);
        if (!tolerance || result.gate || typeof result.unit !== 'string' || !isSameKind(result.unit, unit)) continue;
        const { lower, upper } = limitsAt(s, tolerance, NaN, NaN, scope);
        const half = Math.min(...[lower, upper].flatMap((l) => (l === null || l === 0 ? [] : [Math.abs(l)])));
        const inUnit = convertDifference(U, unit, result.unit);
        const least = ruleFor(s, series, result.decisionRule).minimumRatio ?? 1;
        if (!Number.isFinite(half) || least * inUnit <= half * (1 + 1e-9)) continue;
        const as = (value: number) => `${plainDecimal(Number(value.toPrecision(3)))} ${printedUnit(result.unit as string)}`;
        const point = pointWords(series, scope.point!);
        const words =
          inUnit > half
            ? `at ${point} its U of ${as(inUnit)} is more than the limit of ${as(half)}`
            : `at ${point} its U of ${as(inUnit)} leaves a ratio of ${plainDecimal(Number((half / inUnit).toPrecision(2)))} to the limit, where the rule asks for ${plainDecimal(least)}`;
        found.push({ role, point, words });
      }
    } catch (error) {
      if (!(error instanceof Absent) && !(error instanceof DocumentError)) throw error;
    }
  }
  return found;
}
