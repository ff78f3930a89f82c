import { dueInWords, type DueStanding } from '../core/traceability/standing';

const from = -45;
const until = 90;

/** A due date on a line of days: the upright is today, to its left is overdue. */
export function DueTrack({ days, width = 200 }: { days: number | null; width?: number }) {
  const at = (d: number) => ((Math.max(from, Math.min(until, d)) - from) / (until - from)) * (width - 12) + 6;
  const overdue = days !== null && days < 0;
  return (
    <svg width={width} height={20} viewBox={`0 0 ${width} 20`} aria-hidden className="block">
      <line x1={0} x2={width} y1={10} y2={10} stroke="var(--color-rule)" />
      {days !== null && (
        <line
          x1={at(0)}
          x2={at(days)}
          y1={10}
          y2={10}
          stroke={overdue ? 'var(--color-brick)' : 'var(--color-verdigris)'}
          strokeWidth={5}
        />
      )}
      <line x1={at(0)} x2={at(0)} y1={1} y2={19} stroke="var(--color-ink)" strokeWidth={1.5} />
      {days !== null && (
        <path
          d={overdue ? `M${at(days)} 4 v12` : `M${at(days)} 5 v10`}
          stroke={overdue ? 'var(--color-brick)' : 'var(--color-verdigris)'}
          strokeWidth={3}
        />
      )}
    </svg>
  );
}

/** A due date in words, with a word and not only a colour for what is late. */
export function DueWords({ standing }: { standing: DueStanding }) {
  const tone =
    standing.standing === 'expired'
      ? 'font-bold text-brick'
      : standing.standing === 'nearly-due'
        ? 'font-bold text-ochre'
        : 'text-soft';
  return <span className={`whitespace-nowrap ${tone}`}>{dueInWords(standing)}</span>;
}
