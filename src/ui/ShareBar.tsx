import { roundToDecimals } from '../core/quantity/rounding';

const percent = (share: number): string => `${roundToDecimals(share * 100, 1)} %`.replace('-', '−');

/** A share of the variance as the length of a bar, on a track that is the whole, and in figures. A negative one (correlation) is ochre. */
export function ShareBar({ share }: { share: number }) {
  return (
    <span className="flex min-w-36 items-center gap-2">
      <svg viewBox="0 0 100 12" preserveAspectRatio="none" className="h-3 min-w-16 flex-1" aria-hidden>
        <rect y="5" width="100" height="2" fill="var(--color-rule)" />
        <rect
          width={Math.min(100, 100 * Math.abs(share))}
          height="12"
          fill={share < 0 ? 'var(--color-ochre)' : 'var(--color-verdigris)'}
        />
      </svg>
      <span className="figure w-[4.2rem] text-right">{percent(share)}</span>
    </span>
  );
}
