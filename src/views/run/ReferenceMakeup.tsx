import type { RunPoint } from '../../core/run/run-state';
import type { ReferenceValue } from '../../core/run/point-results';
import { roundToDecimals } from '../../core/quantity/rounding';
import { inMicrometres } from '../../ui/PairMark';

/** The reference value and what it is made of: certified blocks, and what temperature does to blocks and instrument. */
export function ReferenceMakeup({
  point,
  reference,
  onStack,
}: {
  point: RunPoint;
  reference: ReferenceValue;
  onStack?: () => void;
}) {
  return (
    <div>
      <div className="flex items-end gap-1" aria-label={`Stack: ${point.stack.map((b) => b.nominal).join(' and ')} mm`}>
        {point.stack.map((block) => (
          <span
            key={block.id}
            className="figure grid h-9 min-w-14 place-items-center border-[1.5px] border-ink bg-sheet px-2 font-bold"
            style={{ flexGrow: Math.max(1, block.nominal) }}
          >
            {block.marking || block.nominal}
          </span>
        ))}
        {point.stack.length === 0 && <span className="fault flex-1">No blocks in the set add to this length.</span>}
        {onStack && (
          <button type="button" tabIndex={-1} className="button button-quiet !min-h-9 shrink-0" onClick={onStack}>
            Other blocks <span className="key">s</span>
          </button>
        )}
      </div>
      {point.stack.length > 0 && (
        <dl className="figure mt-2 grid grid-cols-[1fr_auto] text-sm [&>dd]:text-right">
          <dt>Certified length at 20 °C</dt>
          <dd>{roundToDecimals(reference.certified, 5)} mm</dd>
          <dt>
            Blocks {reference.temperatures.standard.toFixed(1)} °C, instrument {reference.temperatures.instrument.toFixed(1)} °C
          </dt>
          <dd>{inMicrometres(reference.expansion, 2)} µm</dd>
          <dt className="border-t border-rule pt-0.5 font-bold">Reference value</dt>
          <dd className="border-t border-rule pt-0.5 font-bold">{roundToDecimals(reference.value, 5)} mm</dd>
        </dl>
      )}
    </div>
  );
}
