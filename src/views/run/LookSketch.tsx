import type { Look } from '../../core/run/diagnosis';
import type { JudgedPoint } from '../../core/run/judged-points';
import { differenceInShownUnit, significant, withMinus, withPrintedUnit } from '../../core/run/shown-value';
import { mean } from '../../core/statistics/moments';

const [width, height] = [820, 200];
const edge = { left: 104, right: 50, top: 14, bottom: 30 };
/** Names of points nearer to one another than this, in the units of the drawing, are left out. */
const roomOfName = 96;

/** Errors as they were read, with what the most probable cause would make of them drawn through, and the next one dashed. */
export function LookSketch({ looks, nameOf }: { looks: readonly [Look, ...Look[]]; nameOf: (point: JudgedPoint) => string }) {
  const [first, second] = looks;
  const { question, points, owners, series, unit, shownIn } = first.of;
  const isOverTime = first.cause === 'drift';
  const isAlongRange = !series.separate && new Set(points.map((p) => p.nominal)).size > 1;
  const readings = question.points
    .flatMap((p) => p.readings)
    .map((r, i) => {
      const owner = owners[i]!;
      const place = isOverTime ? (r.minute ?? 0) : isAlongRange ? points[owner]!.nominal! : owner;
      return { ...r, at: place, owner: points[owner]!, index: i };
    });
  const [x0, x1] = [Math.min(...readings.map((r) => r.at)), Math.max(...readings.map((r) => r.at))];
  const x = (at: number) => edge.left + (x1 > x0 ? (at - x0) / (x1 - x0) : 0.5) * (width - edge.left - edge.right);
  const halves = question.points.map((p) => p.limits.upper ?? 0);
  const far = 1.1 * Math.max(Math.min(...halves), ...readings.map((r) => Math.abs(r.error)));
  const y = (value: number) => edge.top + ((far - value) / (2 * far)) * (height - edge.top - edge.bottom);
  const printed = (value: number) =>
    withMinus(withPrintedUnit(significant(differenceInShownUnit(value, unit, shownIn), 2), shownIn));
  const path = (along: { at: number; value: number }[]) =>
    [...new Set(along.map((p) => p.at))]
      .sort((a, b) => a - b)
      .map((at) => `${x(at).toFixed(1)},${y(mean(along.filter((p) => p.at === at).map((p) => p.value))).toFixed(1)}`)
      .join(' ');
  /** One line, or one for each direction where they differ. */
  const lines = (look: Look | undefined): string[] =>
    !look || look.of !== first.of || look.cause === 'none' || look.cause === 'scatter'
      ? []
      : [
          ...new Set(
            (['up', 'down'] as const).map((direction) =>
              path(
                readings
                  .filter((r) => (r.direction ?? 'up') === direction)
                  .map((r) => ({ at: r.at, value: look.effect[r.index]! })),
              ),
            ),
          ),
        ];
  const limits = (side: 1 | -1) => path(readings.map((r) => ({ at: r.at, value: side * halves[points.indexOf(r.owner)]! })));
  const names = readings
    .map((r) => ({ at: r.at, name: isOverTime ? `${r.at.toFixed(0)} min` : isAlongRange ? nameOf(r.owner) : r.owner.title }))
    .filter((n, i, all) => all.findIndex((m) => m.at === n.at) === i)
    .sort((a, b) => a.at - b.at)
    .reduce<{ at: number; name: string }[]>(
      (kept, n) => (kept.length && x(n.at) - x(kept.at(-1)!.at) < roomOfName ? kept : [...kept, n]),
      [],
    );
  const least = Math.min(...halves);
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="w-full" role="img" aria-label={`Errors as read. ${first.sentence}`}>
      <line x1={edge.left} x2={width - edge.right} y1={y(0)} y2={y(0)} stroke="var(--color-rule)" strokeWidth="1.5" />
      {[1, -1].map((side) => (
        <g key={side}>
          <polyline points={limits(side as 1 | -1)} fill="none" stroke="currentColor" strokeDasharray="2 4" />
          <text x={edge.left - 12} y={y(side * least) + 5} textAnchor="end" fontSize="15" fill="currentColor">
            {side > 0 ? '+' : ''}
            {printed(side * least)}
          </text>
        </g>
      ))}
      <text x={edge.left - 12} y={y(0) + 5} textAnchor="end" fontSize="15" fill="currentColor">
        0
      </text>
      {lines(second).map((points) => (
        <polyline key={points} points={points} fill="none" stroke="var(--color-ochre)" strokeWidth="2" strokeDasharray="7 5" />
      ))}
      {lines(first).map((points) => (
        <polyline key={points} points={points} fill="none" stroke="var(--color-verdigris)" strokeWidth="3" />
      ))}
      {readings.map((r) => {
        const isNamed = first.at.includes(r.owner);
        const colour = isNamed ? 'var(--color-verdigris)' : 'currentColor';
        return (
          <circle
            key={r.index}
            cx={x(r.at)}
            cy={y(r.error)}
            r={isNamed ? 7 : 4.5}
            fill={r.direction === 'down' ? 'var(--color-paper)' : colour}
            stroke={colour}
            strokeWidth="1.5"
          />
        );
      })}
      {names.map((n) => (
        <text key={n.at} x={x(n.at)} y={height - 6} fontSize="15" textAnchor="middle" fill="currentColor">
          {n.name}
        </text>
      ))}
    </svg>
  );
}
