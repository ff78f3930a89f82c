import type { Pass } from '../../core/run/event-schema';
import type { PointResult } from '../../core/run/point-results';
import { isPointSettled, liveReadings, type RunState } from '../../core/run/run-state';
import { roundToDecimals } from '../../core/quantity/rounding';
import { PairMark, inMicrometres, uncertaintyInMicrometres } from '../../ui/PairMark';
import { VerdictWord } from '../../ui/VerdictWord';

export type Slot = { point: string; index: number };

type Props = {
  state: RunState;
  /** The pass whose readings stand in the columns. */
  pass: Pass;
  found: PointResult[];
  left: PointResult[];
  /** Where the next reading goes; null when none is wanted. */
  cursor: Slot | null;
  onSelect?: (slot: Slot) => void;
  onOpen: (result: PointResult) => void;
};

const decimalsOf = (resolution: number): number => Math.max(0, Math.round(-Math.log10(resolution)));

/** The points as a sheet: readings, error with uncertainty, and the pair on its strip. */
export function PointSheet({ state, pass, found, left, cursor, onSelect, onOpen }: Props) {
  const repeats = state.procedure.points.repeats;
  const decimals = decimalsOf(state.instrument.resolution);
  const current = new Map((pass === 'as-found' ? found : left).map((r) => [r.point.id, r]));
  const foundBy = new Map(found.map((r) => [r.point.id, r]));
  const leftBy = new Map(left.map((r) => [r.point.id, r]));
  const mark = (result: PointResult | undefined) =>
    result ? { error: result.conformity.error, expandedUncertainty: result.uncertainty.expandedUncertainty } : null;

  return (
    <table className="w-full table-fixed border-collapse bg-sheet text-base">
      <colgroup>
        <col className="w-[5.6rem]" />
        {Array.from({ length: repeats }, (_, i) => (
          <col key={i} className="w-[5.4rem]" />
        ))}
        <col className="w-[5.4rem]" />
        <col className="w-[4.4rem]" />
        <col className="min-w-[12rem]" />
        <col className="w-[7.4rem]" />
      </colgroup>
      <thead>
        <tr className="border-y border-rule-strong [&>th]:px-2 [&>th]:py-1.5 [&>th]:text-right">
          <th scope="col">Point, mm</th>
          {Array.from({ length: repeats }, (_, i) => (
            <th scope="col" key={i}>
              {i === 0 ? (repeats > 1 ? 'Reading 1' : 'Reading') : i + 1}
            </th>
          ))}
          <th scope="col">Error, µm</th>
          <th scope="col">U, µm</th>
          <th scope="col" className="!text-center">
            Found and left
          </th>
          <th scope="col" className="!text-left">
            Verdict
          </th>
        </tr>
      </thead>
      <tbody>
        {state.points.map((point) => {
          const record = state.passes[pass][point.id]!;
          const readings = liveReadings(record);
          const result = current.get(point.id);
          const settled = isPointSettled(state, pass, point.id);
          const isHere = cursor?.point === point.id;
          const scale = foundBy.get(point.id) ?? leftBy.get(point.id);
          return (
            <tr
              key={point.id}
              data-point={point.id}
              className={`h-[3.05rem] border-b border-rule [&>td]:px-1 ${isHere ? 'bg-verdigris-tint' : ''}`}
            >
              <th scope="row" className={`!text-base ${isHere ? '!font-bold' : ''} !text-ink pr-2 !text-right`}>
                <span className="figure">{point.nominal.toFixed(1)}</span>
              </th>
              {record.skipped !== null ? (
                <td colSpan={repeats} className="text-sm text-ochre" title={record.skipped}>
                  skipped: {record.skipped}
                </td>
              ) : (
                Array.from({ length: repeats }, (_, i) => {
                  const reading = readings[i];
                  const isCursor = isHere && cursor.index === i;
                  const label = reading
                    ? `${point.nominal} mm, reading ${i + 1}: ${reading.text}`
                    : `${point.nominal} mm, reading ${i + 1}, open`;
                  return (
                    <td key={i} className="text-right">
                      {onSelect ? (
                        <button
                          type="button"
                          tabIndex={-1}
                          aria-label={label}
                          aria-current={isCursor || undefined}
                          onClick={() => onSelect({ point: point.id, index: Math.min(i, readings.length) })}
                          className={`figure h-11 w-full cursor-pointer px-1 text-right ${isCursor ? 'bg-sheet outline-2 outline-verdigris' : ''}`}
                        >
                          {reading?.text ?? <span className="text-rule-strong">{isCursor ? '_'.repeat(3) : '·'}</span>}
                        </button>
                      ) : (
                        <span className="figure px-1">{reading?.text ?? '–'}</span>
                      )}
                    </td>
                  );
                })
              )}
              <td className="text-right">
                {result && (
                  <button
                    type="button"
                    tabIndex={onSelect ? -1 : 0}
                    onClick={() => onOpen(result)}
                    className="figure h-11 cursor-pointer px-1 font-bold underline decoration-dotted underline-offset-4"
                    title={`Mean ${roundToDecimals(result.mean, decimals + 1)} mm: what this is made of`}
                  >
                    {inMicrometres(result.conformity.error, 2)}
                  </button>
                )}
              </td>
              <td className="figure text-right text-soft">
                {result && uncertaintyInMicrometres(result.uncertainty.expandedUncertainty)}
              </td>
              <td>
                {scale && (
                  <span className="flex justify-center">
                    <PairMark
                      width={176}
                      height={30}
                      limit={scale.conformity.limits.upper!}
                      guard={scale.conformity.limits.upper! - (scale.conformity.acceptance.upper ?? 0)}
                      found={mark(foundBy.get(point.id))}
                      left={mark(leftBy.get(point.id))}
                    />
                  </span>
                )}
              </td>
              <td className="text-sm">{result && settled && <VerdictWord verdict={result.conformity.verdict} short />}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
