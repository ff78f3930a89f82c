import { decimalsNeeded } from '../../core/quantity/rounding';
import type { Place } from '../../core/plan/plan-schema';
import { useMemo } from 'react';
import type { EvaluatedResult } from '../../core/evaluate/evaluation';
import { isDetermined, type Undetermined } from '../../core/evaluate/undetermined';
import type { ResultDocument } from '../../core/procedure/document-schema';
import { completedText } from '../../core/quantity/reading';
import { printedUnit } from '../../core/quantity/unit';
import { pointTitle, pointUnit, seriesOf, shownUnit, sweepTitle } from '../../core/run/place-words';
import { isHiddenFrom, observationOf, observedResolution, observedUnit, offeredResults } from '../../core/run/reading-rules';
import { shownNominal } from '../../core/state/own-units';
import { pointIn } from '../../core/run/run-results';
import { isPointRead, skipOf } from '../../core/state/progress';
import { placesKey, slotKey } from '../../core/state/place-keys';
import type { Reading, RunState, Slot } from '../../core/state/run-state';
import { limitWords, shownPair } from '../../core/run/shown-value';
import { unitIn } from '../../core/steps/step-context';
import { later } from '../../ui/later';
import { PairMark, type Mark } from '../../ui/PairMark';
import { VerdictWord } from '../../ui/VerdictWord';
import { sheetLayout, slotAt, type SheetColumn, type SheetPlace, type SheetRow } from './sheet-layout';

const LongSheet = later(async () => (await import('./LongSheet')).LongSheet);

export type OpenResult = { place: Place; symbol: string };

type Props = {
  state: RunState;
  place: SheetPlace;
  /** The set that is compared with this one on the strip; null where there is none. */
  pairWith: string | null;
  /** Where the next reading goes; null when none is wanted. */
  cursor: Slot | null;
  onSelect?: (slot: Slot) => void;
  onOpen: (result: OpenResult) => void;
};

/** Above this number of rows only those in sight are drawn. */
const fewRows = 80;
const rowHeight = 49;

/** Results that have a column: those of the document that stand for a point; two at the most, the judged ones first. */
const shownResults = (results: readonly ResultDocument[]): ResultDocument[] =>
  [...results].sort((a, b) => Number(isJudged(b)) - Number(isJudged(a))).slice(0, 2);
const isJudged = (r: ResultDocument): boolean => (r.tolerance ?? r.tolerances) !== undefined;

/** The readings of one series as a sheet, with its results and the pair on its strip. */
export function SeriesSheet(props: Props) {
  const { state, place, cursor } = props;
  const series = seriesOf(state, place.series)!;
  const layout = useMemo(() => sheetLayout(state, place), [state, place]);
  const struck = new Map(state.readings.flatMap((r) => (r.struck ? [[slotKey(r.slot), r] as const] : [])));
  const at: Place = { set: place.set, series: place.series, ...(place.each === null ? {} : { each: place.each }) };
  const results = shownResults(offeredResults(state, at));
  const points = state.places.get(placesKey(place.set, place.series, place.each))?.points ?? [];
  const nominals = points.flatMap((p) => (p.label === undefined ? (shownNominal(state, { ...at, point: p.id }) ?? []) : []));
  const decimals = decimalsNeeded(nominals);
  const isLong = layout.rows.length > fewRows;
  const unit = printedUnit(pointUnit(state, at));
  const pointHead = !series.points
    ? ''
    : nominals.length
      ? `Point${unit === '' || unit === '1' ? '' : `, ${unit}`}`
      : points.some((p) => p.nominal !== undefined)
        ? 'Point'
        : 'Position';
  // Where no limits were chosen nothing is judged: the first result tells.
  const first = firstResult(state, at, layout.rows, results);
  const judged = first && !first.limits && !first.verdict ? undefined : results.find(isJudged);
  const head = (
    <thead className={isLong ? 'sticky top-0 z-10 bg-paper' : ''}>
      <tr className="border-y border-rule-strong [&>th]:px-2 [&>th]:py-1.5 [&>th]:text-right">
        <th scope="col">{pointHead}</th>
        {layout.columns.map((c, i) => (
          <th scope="col" key={i}>
            {columnTitle(state, place, layout.columns, c)}
          </th>
        ))}
        {results.flatMap((r) => [
          <th scope="col" key={`${r.symbol}-v`}>
            {withUnit(r.title, shownUnit(state, r, at))}
          </th>,
          <th scope="col" key={`${r.symbol}-u`}>
            {withUnit('U', shownUnit(state, r, at))}
          </th>,
        ])}
        {judged && (
          <>
            <th scope="col" className="!text-center">
              {props.pairWith === null ? 'Within the limits' : 'Found and left'}
            </th>
            <th scope="col" className="!text-left">
              Verdict
            </th>
          </>
        )}
      </tr>
    </thead>
  );
  const row = (r: SheetRow, i: number) => (
    <Row
      key={r.key}
      {...props}
      row={r}
      columns={layout.columns}
      slots={layout.slots}
      struck={struck}
      results={results}
      judged={judged}
      title={pointTitleOf(state, { ...at, point: r.point }, decimals, layout.rows[i - 1], r)}
    />
  );
  if (isLong)
    return (
      <LongSheet
        head={head}
        count={layout.rows.length}
        rowHeight={rowHeight}
        columns={3 + layout.columns.length + 2 * results.length}
        here={cursor ? layout.rows.findIndex((r) => isRowOf(r, cursor)) : -1}
        row={(i) => row(layout.rows[i]!, i)}
      />
    );
  return (
    <table className="w-full border-collapse bg-sheet text-base">
      {head}
      <tbody>{layout.rows.map(row)}</tbody>
    </table>
  );
}

/** The first result of a sheet that is worked out; undefined as long as there is none. */
function firstResult(state: RunState, at: Place, rows: readonly SheetRow[], results: readonly ResultDocument[]) {
  const judged = results.filter(isJudged);
  for (const { point, sweep } of rows.slice(0, fewRows)) {
    const [found] = Object.values(pointIn(state, { ...at, point, ...(sweep === null ? {} : { sweep }) }, judged) ?? {});
    if (found) return found;
  }
  return undefined;
}

const withUnit = (title: string, unit: string): string => {
  const printed = printedUnit(unit);
  return printed === '' || printed === '1' ? title : `${title}, ${printed}`;
};

const isRowOf = (row: SheetRow, slot: Slot): boolean =>
  row.point === slot.point &&
  (row.sweep === null || row.sweep === slot.sweep) &&
  (row.repeat === null || row.repeat === slot.repeat);

function pointTitleOf(state: RunState, place: Place, decimals: number, before: SheetRow | undefined, row: SheetRow): string {
  const sweep = row.sweep === null ? '' : sweepTitle(state, place.series!, row.sweep);
  const point = state.places.get(placesKey(place.set, place.series!, place.each))?.points.find((p) => p.id === row.point);
  const nominal = shownNominal(state, place);
  const title = point?.label === undefined && nominal !== undefined ? nominal.toFixed(decimals) : pointTitle(state, place);
  const own = seriesOf(state, place.series)?.points ? title : '';
  if (!row.isFirst) return String(row.repeat);
  const named = row.sweep !== null && before?.sweep !== row.sweep ? `${sweep} ${own}` : own;
  return row.repeat === null ? named : `${named ? `${named} · ` : ''}${row.repeat}`;
}

/** What a column of readings is called: as little as tells it from the others. */
function columnTitle(state: RunState, place: SheetPlace, columns: readonly SheetColumn[], c: SheetColumn): string {
  const series = seriesOf(state, place.series)!;
  const observation = series.observe.find((o) => o.id === c.observation)!;
  const at = { set: place.set, series: place.series, ...(place.each === null ? {} : { each: place.each }) };
  const several = new Set(columns.map((x) => x.observation)).size > 1;
  const repeats = new Set(columns.map((x) => x.repeat)).size;
  const number = c.repeat !== null && repeats > 1 ? ` ${c.repeat}` : '';
  const unit = observation.type === 'number' ? printedUnit(observedUnit(state, at, observation)) : '';
  const title =
    c.sweep === null
      ? (observation.title ?? c.observation)
      : `${sweepTitle(state, place.series, c.sweep)}${several ? ` ${observation.title ?? c.observation}` : ''}`;
  if (number && c.repeat! > 1 && !several && c.sweep === null) return String(c.repeat);
  return `${title}${number}${unit ? `, ${unit}` : ''}`;
}

type RowProps = Props & {
  row: SheetRow;
  columns: readonly SheetColumn[];
  slots: ReadonlySet<string>;
  /** The last reading that was struck out of a slot. */ struck: ReadonlyMap<string, Reading>;
  results: readonly ResultDocument[];
  judged: ResultDocument | undefined;
  title: string;
};

function Row({
  state,
  place,
  pairWith,
  cursor,
  onSelect,
  onOpen,
  row,
  columns,
  slots,
  struck,
  results,
  judged,
  title,
}: RowProps) {
  const at: Place = {
    set: place.set,
    series: place.series,
    ...(place.each === null ? {} : { each: place.each }),
    point: row.point,
    ...(row.sweep === null ? {} : { sweep: row.sweep }),
  };
  const skipped = skipOf(state, at);
  const isHere = cursor !== null && isRowOf(row, cursor);
  return (
    <tr data-point={row.point} className={`h-[3.05rem] border-b border-rule [&>td]:px-1 ${isHere ? 'bg-verdigris-tint' : ''}`}>
      <th scope="row" className={`!text-base whitespace-nowrap ${isHere ? '!font-bold' : ''} !text-ink px-2 !text-right`}>
        <span className="figure">{title.replace('-', '−')}</span>
      </th>
      {skipped ? (
        <td colSpan={columns.length} className="text-sm text-ochre" title={skipped.reason}>
          skipped: {skipped.reason || 'not wanted'}
        </td>
      ) : (
        columns.map((column, i) => (
          <Cell
            key={i}
            state={state}
            slot={slotAt(place, row, column)}
            isAsked={slots.has(slotKey(slotAt(place, row, column)))}
            struck={struck}
            cursor={cursor}
            onSelect={onSelect}
          />
        ))
      )}
      {row.isFirst && results.length > 0 && !isHiddenFrom(state, at, cursor) && (
        <Results
          state={state}
          at={at}
          pairWith={pairWith}
          results={results}
          judged={judged}
          onOpen={onOpen}
          inTabOrder={!onSelect}
        />
      )}
      {results.length > 0 && (!row.isFirst || isHiddenFrom(state, at, cursor)) && (
        <td colSpan={2 * results.length + (judged ? 2 : 0)} />
      )}
    </tr>
  );
}

/** What a reading shows: its text, or what was chosen; of a file only that it is there. */
function shownText(state: RunState, slot: Slot): string | null {
  const reading = state.live.get(slotKey(slot));
  if (!reading) return null;
  const observation = observationOf(state, slot);
  if (observation?.type === 'choice') return observation.options?.find((o) => o.id === reading.value)?.title ?? reading.text;
  if (observation?.type === 'file') return 'file';
  const step = observation ? observedResolution(state, slot, observation) : null;
  return completedText(reading.text, step).replace('-', '−');
}

function Cell({
  state,
  slot,
  isAsked,
  struck,
  cursor,
  onSelect,
}: {
  state: RunState;
  slot: Slot;
  isAsked: boolean;
  struck: ReadonlyMap<string, Reading>;
  cursor: Slot | null;
  onSelect: ((slot: Slot) => void) | undefined;
}) {
  if (!isAsked) return <td />;
  const read = shownText(state, slot);
  const text = read !== null && isHiddenFrom(state, slot, cursor) ? 'hidden' : read;
  const isCursor = cursor !== null && slotKey(cursor) === slotKey(slot);
  const out = struck.get(slotKey(slot));
  const trace = out?.struck && (
    <s
      className="figure pointer-events-none absolute -top-0.5 right-1 max-w-full truncate text-[0.7rem] text-ochre"
      title={`Struck out: ${out.struck.reason}`}
    >
      {out.text.replace('-', '−')}
    </s>
  );
  if (!onSelect)
    return (
      <td className="relative text-right">
        <span className="figure px-1">{text ?? '–'}</span>
        {trace}
      </td>
    );
  const title = `${pointTitle(state, slot)}${slot.sweep ? `, ${sweepTitle(state, slot.series, slot.sweep)}` : ''}, ${observationOf(state, slot)?.title ?? slot.observation} ${slot.repeat}`;
  return (
    <td className="relative text-right">
      <button
        type="button"
        tabIndex={-1}
        aria-label={`${title}: ${text ?? 'open'}`}
        aria-current={isCursor || undefined}
        // The entry keeps the keyboard: a click here only says where it goes.
        onMouseDown={(e) => e.preventDefault()}
        onClick={() => onSelect(slot)}
        className={`figure h-11 w-full min-w-16 cursor-pointer px-1 text-right ${isCursor ? 'bg-sheet outline-2 outline-verdigris' : ''}`}
      >
        {text ?? <span className="text-rule-strong">{isCursor ? '_'.repeat(3) : '·'}</span>}
      </button>
      {trace}
    </td>
  );
}

const markOf = (r: EvaluatedResult | Undetermined | undefined): Mark | null =>
  r && isDetermined(r) ? { value: r.estimate, expandedUncertainty: r.expandedUncertainty } : null;

function Results({
  state,
  at,
  pairWith,
  results,
  judged,
  onOpen,
  inTabOrder,
}: {
  state: RunState;
  at: Place;
  pairWith: string | null;
  results: readonly ResultDocument[];
  judged: ResultDocument | undefined;
  onOpen: (result: OpenResult) => void;
  inTabOrder: boolean;
}) {
  const sweepless: Place = { ...at };
  delete sweepless.sweep;
  const placeOfResult = (r: ResultDocument): Place => (r.over?.includes('sweeps') ? sweepless : at);
  const here = pointIn(state, at, results);
  const other = pairWith === null ? null : pointIn(state, { ...at, set: pairWith }, results);
  const result = judged && here?.[judged.symbol];
  const paired = judged && other?.[judged.symbol];
  const shown = result ?? paired;
  // A point is judged when all of it has been read.
  const isWhole = judged !== undefined && isPointRead(state, placeOfResult(judged));
  const order = state.sets.map((s) => s.id);
  const isFoundHere = pairWith === null || order.indexOf(at.set) < order.indexOf(pairWith);
  return (
    <>
      {results.map((r) => {
        const own = here?.[r.symbol];
        const unit = unitIn(state, r.unit, at);
        const pair =
          own && isDetermined(own)
            ? shownPair(own.estimate, own.expandedUncertainty, unit, shownUnit(state, r, at), own.limits, own.acceptance)
            : undefined;
        return [
          <td key={`${r.symbol}-v`} className="text-right">
            {pair && (
              <button
                type="button"
                tabIndex={inTabOrder ? 0 : -1}
                onMouseDown={(e) => !inTabOrder && e.preventDefault()}
                onClick={() => onOpen({ place: placeOfResult(r), symbol: r.symbol })}
                className="figure h-11 cursor-pointer px-1 font-bold whitespace-nowrap underline decoration-dotted underline-offset-4"
                title="What this is made of"
              >
                {pair.value}
              </button>
            )}
          </td>,
          <td key={`${r.symbol}-u`} className="figure text-right whitespace-nowrap text-soft">
            {pair?.U}
          </td>,
        ];
      })}
      {judged && (
        <>
          <td title={shown?.limits && limitWords(shown.limits, unitIn(state, judged.unit, at), shownUnit(state, judged, at))}>
            {shown?.limits && isDetermined(shown) && (
              <span className="flex justify-center">
                <PairMark
                  width={150}
                  height={30}
                  limits={{ lower: shown.limits.lower ?? null, upper: shown.limits.upper ?? null }}
                  acceptance={shown.acceptance}
                  found={markOf(isFoundHere ? result : paired)}
                  left={markOf(isFoundHere ? paired : result)}
                  unit={unitIn(state, judged.unit, at)}
                  shownIn={shownUnit(state, judged, at)}
                />
              </span>
            )}
          </td>
          <td className="text-sm" title={result && !isDetermined(result) ? result.why : undefined}>
            {result?.verdict && isWhole && <VerdictWord verdict={result.verdict} short />}
          </td>
        </>
      )}
    </>
  );
}
