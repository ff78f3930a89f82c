import { stageNames, type Stage } from '../../core/run/next-step';

/** The stages of the work along the way; the present one stands out. */
export function StageTrack({
  stages,
  present,
  onPrepare,
}: {
  stages: readonly Stage[];
  present: Stage;
  /** Shows what was prepared; null while that is in sight. */ onPrepare: (() => void) | null;
}) {
  const reached = present === 'done' ? stages.length : stages.indexOf(present);
  return (
    <ol className="flex max-sm:w-full sm:shrink-0" aria-label="Stages of the run">
      {stages.map((stage, i) => (
        <li
          key={stage}
          aria-current={i === reached ? 'step' : undefined}
          className="relative flex flex-col items-center gap-1 px-1 text-xs max-sm:flex-1 sm:min-w-[3.9rem] lg:min-w-[4.6rem] lg:text-sm"
        >
          {i > 0 && (
            <span aria-hidden className={`absolute top-[7px] right-1/2 h-[3px] w-full ${i <= reached ? 'bg-ink' : 'bg-rule'}`} />
          )}
          <svg width="16" height="16" className="relative z-10" aria-hidden>
            <circle
              cx="8"
              cy="8"
              r={i === reached ? 7 : 5}
              fill={i < reached ? 'var(--color-ink)' : i === reached ? 'var(--color-verdigris)' : 'var(--color-paper)'}
              stroke={i > reached ? 'var(--color-rule-strong)' : 'none'}
              strokeWidth="2"
            />
          </svg>
          {stage === 'prepare' && onPrepare && (
            <button
              type="button"
              tabIndex={-1}
              className="absolute inset-0 z-20 cursor-pointer"
              onMouseDown={(e) => e.preventDefault()}
              onClick={onPrepare}
              aria-label="Look at the preparation again"
              title="Look at the preparation again"
            />
          )}
          <span className={i === reached ? 'font-bold' : i < reached ? '' : 'text-soft'}>{stageNames[stage]}</span>
        </li>
      ))}
    </ol>
  );
}
