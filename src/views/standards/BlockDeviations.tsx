import type { StandardItem } from '../../core/run/event-schema';
import { roundToDecimals } from '../../core/quantity/rounding';
import { inMicrometres } from '../../ui/PairMark';

/** Each block's certified deviation as a dot with its expanded uncertainty, on one scale. */
export function BlockDeviations({ items }: { items: StandardItem[] }) {
  const deviation = (i: StandardItem) => i.certified - i.nominal;
  const extent = Math.max(0.0001, ...items.map((i) => Math.abs(deviation(i)) + i.expandedUncertainty)) * 1.1;
  const width = 240;
  const at = (mm: number) => width / 2 + (mm / extent) * (width / 2);
  return (
    <div className="mt-2 columns-1 gap-8 border-y border-rule bg-sheet px-4 py-2 xl:columns-2">
      {items.map((i) => (
        <div
          key={i.id}
          className="grid break-inside-avoid grid-cols-[3.6rem_5.6rem_1fr_3.4rem] items-center gap-2 text-sm"
          title={`Certified ${roundToDecimals(i.certified, 5)} mm, U ${roundToDecimals(i.expandedUncertainty * 1000, 3)} µm (k = ${i.coverageFactor})`}
        >
          <span className="figure text-right font-bold">{i.nominal}</span>
          <span className="figure text-right text-soft">{roundToDecimals(i.certified, 5)}</span>
          <svg viewBox={`0 0 ${width} 22`} className="h-[22px] w-full" preserveAspectRatio="none" aria-hidden>
            <line x1={width / 2} x2={width / 2} y1={0} y2={22} stroke="var(--color-rule-strong)" />
            <line
              x1={at(deviation(i) - i.expandedUncertainty)}
              x2={at(deviation(i) + i.expandedUncertainty)}
              y1={11}
              y2={11}
              stroke="var(--color-ink)"
              strokeWidth={1.4}
            />
            <circle cx={at(deviation(i))} cy={11} r={3.2} fill="var(--color-ink)" />
          </svg>
          <span className="figure text-right">{inMicrometres(deviation(i), 2)}</span>
        </div>
      ))}
      <p className="break-inside-avoid pt-2 text-sm text-soft">
        Nominal and certified length in mm; deviation in µm with its expanded uncertainty.
      </p>
    </div>
  );
}
