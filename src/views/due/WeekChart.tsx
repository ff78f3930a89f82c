import type { DueWeek } from '../../core/interval/due-board';
import { roundTicks } from '../../ui/axis-ticks';

const width = 1180;
const height = 190;
const edge = { left: 36, right: 8, top: 12, bottom: 26 };
const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** How many come due each week: a bar a week, pressed to see which; before the first stands what is overdue. */
export function WeekChart({
  weeks,
  today,
  overdue,
  week,
  onWeek,
}: {
  weeks: readonly DueWeek[];
  today: string;
  overdue: number;
  week: string | null;
  onWeek: (week: string | null) => void;
}) {
  const most = Math.max(1, overdue, ...weeks.map((w) => w.count));
  const step = (width - edge.left - edge.right) / (weeks.length + 2);
  const y = (n: number) => height - edge.bottom - ((height - edge.top - edge.bottom) * n) / most;
  const x = (i: number) => edge.left + step * (i + 2);
  return (
    <figure className="mt-4 border-y border-rule bg-sheet px-2 pt-2">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="block h-auto w-full"
        role="group"
        aria-label="How many come due each week"
      >
        {roundTicks(0, most, 5)
          .filter(Number.isInteger)
          .map((n) => (
            <g key={n}>
              <line x1={edge.left} x2={width - edge.right} y1={y(n)} y2={y(n)} stroke="var(--color-rule)" />
              <text x={edge.left - 6} y={y(n) + 4} textAnchor="end" fontSize={12} fill="var(--color-soft)">
                {n}
              </text>
            </g>
          ))}
        {overdue > 0 && (
          <g>
            <rect x={edge.left + 4} y={y(overdue)} width={step * 1.4} height={y(0) - y(overdue)} fill="var(--color-brick)" />
            <text x={edge.left + 2} y={height - 8} fontSize={12} fill="var(--color-brick)" fontWeight={700}>
              late
            </text>
          </g>
        )}
        {weeks.map((w, i) => {
          const month = (at: number) => weeks[at]?.monday.slice(0, 7);
          // The last week of a month has no room for its name before the next.
          const isMonth = i === 0 ? month(0) === month(1) : month(i) !== month(i - 1);
          const isChosen = w.monday === week;
          return (
            <g key={w.monday}>
              {isMonth && (
                <text x={x(i)} y={height - 8} fontSize={12} fill="var(--color-soft)">
                  {months[Number(w.monday.slice(5, 7)) - 1]}
                </text>
              )}
              {w.count > 0 && (
                <g
                  role="button"
                  tabIndex={0}
                  aria-pressed={isChosen}
                  aria-label={`Week of ${w.monday}: ${w.count}`}
                  className="cursor-pointer"
                  onClick={() => onWeek(isChosen ? null : w.monday)}
                  onKeyDown={(e) => {
                    if (e.key !== 'Enter' && e.key !== ' ') return;
                    e.preventDefault();
                    onWeek(isChosen ? null : w.monday);
                  }}
                >
                  <rect x={x(i)} y={edge.top} width={step} height={y(0) - edge.top} fill="transparent" />
                  <rect
                    x={x(i) + 2}
                    y={y(w.count)}
                    width={step - 4}
                    height={y(0) - y(w.count)}
                    fill={isChosen ? 'var(--color-ink)' : 'var(--color-verdigris)'}
                  />
                </g>
              )}
            </g>
          );
        })}
        <line x1={edge.left} x2={width - edge.right} y1={y(0)} y2={y(0)} stroke="var(--color-ink)" />
      </svg>
      <figcaption className="px-2 pb-2 text-sm text-soft">
        A bar a week from {today} on; press one to see which they are.
      </figcaption>
    </figure>
  );
}
