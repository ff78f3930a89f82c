import { Bar, BarChart, CartesianGrid, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { DueWeek } from '../../core/interval/due-board';
import { roundTicks } from '../../ui/axis-ticks';
import { axisStyle } from './axis';
import { weekChartHeight } from './heights';

const monthNames = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** The name of a month under its first week; the last week of a month has no room for its name before the next. */
const monthAt = (weeks: readonly DueWeek[], i: number): string => {
  const month = (at: number) => weeks[at]?.monday.slice(0, 7);
  const isFirst = i === 0 ? month(0) === month(1) : month(i) !== month(i - 1);
  return isFirst ? monthNames[Number(weeks[i]!.monday.slice(5, 7)) - 1]! : '';
};

type Line = { monday: string | null; name: string; count: number };
type ShapeProps = { x?: number; y?: number; width?: number; height?: number; payload?: Line };

/** How many come due each week: a bar a week, pressed to see which; before the first stands what is overdue. */
export function WeekChart({
  weeks,
  overdue,
  week,
  onWeek,
}: {
  weeks: readonly DueWeek[];
  overdue: number;
  week: string | null;
  onWeek: (week: string | null) => void;
}) {
  const most = Math.max(1, overdue, ...weeks.map((w) => w.count));
  const late: Line = { monday: null, name: overdue > 0 ? 'late' : '', count: overdue };
  const lines: Line[] = [late, ...weeks.map((w, i) => ({ monday: w.monday, name: monthAt(weeks, i), count: w.count }))];
  const bar = ({ x = 0, y = 0, width = 0, height = 0, payload }: ShapeProps) => {
    if (!payload || payload.count === 0) return <g />;
    const { monday, count } = payload;
    if (monday === null) return <rect x={x} y={y} width={width} height={height} fill="var(--color-brick)" />;
    const isChosen = monday === week;
    const choose = () => onWeek(isChosen ? null : monday);
    return (
      <g
        role="button"
        tabIndex={0}
        aria-pressed={isChosen}
        aria-label={`Week of ${monday}: ${count}`}
        className="cursor-pointer"
        onClick={choose}
        onKeyDown={(e) => {
          if (e.key !== 'Enter' && e.key !== ' ') return;
          e.preventDefault();
          choose();
        }}
      >
        <rect x={x - 2} y={0} width={width + 4} height={y + height} fill="transparent" />
        <rect x={x} y={y} width={width} height={height} fill={isChosen ? 'var(--color-ink)' : 'var(--color-verdigris)'} />
      </g>
    );
  };
  return (
    <ResponsiveContainer width="100%" height={weekChartHeight}>
      <BarChart data={lines} margin={{ top: 12, right: 8, bottom: 0, left: 0 }} barCategoryGap={2} accessibilityLayer={false}>
        <CartesianGrid stroke="var(--color-rule)" vertical={false} />
        <XAxis
          {...axisStyle}
          stroke="var(--color-ink)"
          interval={0}
          tickLine={false}
          tickFormatter={(_: unknown, i: number) => lines[i]?.name ?? ''}
        />
        <YAxis
          {...axisStyle}
          type="number"
          domain={[0, most]}
          ticks={roundTicks(0, most, 5).filter(Number.isInteger)}
          width={36}
          axisLine={false}
          tickLine={false}
        />
        <Bar dataKey="count" shape={bar} isAnimationActive={false} />
      </BarChart>
    </ResponsiveContainer>
  );
}
