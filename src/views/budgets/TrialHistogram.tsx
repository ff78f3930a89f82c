import type { MontecarloResult, Validation } from '../../core/montecarlo/montecarlo';
import { plainDecimal } from '../../core/quantity/rounding';
import type { BudgetResult } from '../../core/uncertainty/propagate';
import { roundTicks } from '../../ui/axis-ticks';

const figure = (value: number, digits = 3): string => plainDecimal(Number(value.toPrecision(digits))).replace('-', '−');

/** The test of JCGM 101, 8.1, with its numbers, in words. */
export function criterionWords({ digits, tolerance, lowDifference, highDifference }: Validation, unit: string): string {
  const limit = `${figure(tolerance)} ${unit}`.trim();
  return `The ends of the two intervals lie ${figure(lowDifference, 2)} and ${figure(highDifference, 2)} ${unit} apart; good enough is at most ${limit}, half a step of digit ${digits} of u (JCGM 101, 8.1).`;
}

const [width, height, left, bottom] = [440, 170, 44, 52];

/** The trials by classes, on scales of value and share, with both intervals below on the same scale. */
export function TrialHistogram({ result, first, unit }: { result: MontecarloResult; first: BudgetResult; unit: string }) {
  const { edges, counts } = result.histogram;
  const { interval, trials } = result;
  // The classes at the ends that hold far tails are told, not drawn.
  const step = edges.length > 3 ? edges[2]! - edges[1]! : 0;
  const isFar = (i: number) => step > 0 && edges[i + 1]! - edges[i]! > 1.5 * step;
  const drawn = counts.flatMap((count, i) => (isFar(i) ? [] : [{ count, from: edges[i]!, to: edges[i + 1]! }]));
  const outside = counts.reduce((sum, count, i) => sum + (isFar(i) ? count : 0), 0);
  const U = first.expandedUncertainty;
  const low = Math.min(drawn[0]!.from, first.estimate - U);
  const high = Math.max(drawn.at(-1)!.to, first.estimate + U);
  const at = (value: number) => left + ((value - low) / (high - low || 1)) * (width - left - 8);
  const top = Math.max(...drawn.map((d) => d.count)) / trials;
  const up = (share: number) => height - (height - 12) * (share / top);
  const ticks = roundTicks(low, high, 6);
  const shares = roundTicks(0, top * 100, 4);
  const bracket = (from: number, to: number, y: number, colour: string, dashed: boolean, title: string) => (
    <g stroke={colour} fill="none" strokeWidth="2">
      <path d={`M${at(from)} ${y - 5} v10 m0 -5 H${at(to)} m0 -5 v10`} strokeDasharray={dashed ? '5 3' : undefined} />
      <text x={at((from + to) / 2)} y={y - 4} fontSize="10" textAnchor="middle" stroke="none" fill={colour}>
        {title}
      </text>
    </g>
  );
  return (
    <figure className="mt-2">
      <svg
        viewBox={`0 0 ${width} ${height + bottom + 34}`}
        className="w-full bg-sheet"
        role="img"
        aria-label={`Distribution of ${trials} trials in ${drawn.length} classes; Monte Carlo interval ${figure(interval.low, 6)} to ${figure(interval.high, 6)} ${unit}`}
      >
        {shares.map((share) => (
          <g key={share} fontSize="10" fill="var(--color-soft)">
            <line x1={left} x2={width - 8} y1={up(share / 100)} y2={up(share / 100)} stroke="var(--color-rule)" />
            <text x={left - 4} y={up(share / 100) + 3} textAnchor="end">
              {share} %
            </text>
          </g>
        ))}
        {drawn.map(({ count, from, to }) => (
          <rect
            key={from}
            x={at(from)}
            width={Math.max(0.4, at(to) - at(from))}
            y={up(count / trials)}
            height={height - up(count / trials)}
            fill="var(--color-verdigris-tint)"
            stroke="var(--color-verdigris)"
            strokeWidth="0.4"
          />
        ))}
        <line x1={left} x2={width - 8} y1={height} y2={height} stroke="var(--color-ink)" />
        {ticks.map((tick) => (
          <g key={tick} fontSize="10" fill="var(--color-soft)">
            <line x1={at(tick)} x2={at(tick)} y1={height} y2={height + 4} stroke="var(--color-ink)" />
            <text x={at(tick)} y={height + 15} textAnchor="middle">
              {plainDecimal(tick).replace('-', '−')}
            </text>
          </g>
        ))}
        <text x={width - 8} y={height + 27} fontSize="10" textAnchor="end" fill="var(--color-soft)">
          {unit}
        </text>
        {bracket(interval.low, interval.high, height + 42, 'var(--color-ink)', false, 'Monte Carlo')}
        {bracket(first.estimate - U, first.estimate + U, height + 68, 'var(--color-brick)', true, 'first order, ± U')}
      </svg>
      <figcaption className="text-sm text-soft">
        Share of the trials in each of {drawn.length} equal classes
        {outside > 0 && `; ${outside} of ${trials} trials lie further out`}.
      </figcaption>
    </figure>
  );
}
