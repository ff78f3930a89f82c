import type { Place } from '../../core/plan/plan-schema';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { MoveLeft, MoveRight } from 'lucide-react';
import { completedText } from '../../core/quantity/reading';
import { printedUnit } from '../../core/quantity/unit';
import { instanceTitle, pointTitle, seriesOf, setTitle, shownUnit, sweepTitle } from '../../core/run/place-words';
import { observationOf, observedResolution, observedUnit, offeredResults } from '../../core/run/reading-rules';
import { isDetermined } from '../../core/evaluate/undetermined';
import { pointIn } from '../../core/run/run-results';
import { isPointRead, skipOf } from '../../core/state/progress';
import { slotKey, slotOf } from '../../core/state/place-keys';
import type { RunState, Slot } from '../../core/state/run-state';
import { shownPair } from '../../core/run/shown-value';
import { isShared } from '../../core/plan/shared';
import { itemNamed } from '../../core/set-up/turn';
import { unitIn } from '../../core/steps/step-context';
import { PairMark } from '../../ui/PairMark';
import { VerdictWord } from '../../ui/VerdictWord';
import type { OpenResult } from '../run/SeriesSheet';
import { placesRead } from '../run/SetSheets';
import type { SheetPlace } from '../run/sheet-layout';
import { Tabs } from '../run/Tabs';
import { setUpLayout, type PassageRow, type PointRows } from './set-up-layout';

/** A slot of one run of the set-up. */
export type MemberSlot = { member: number; slot: Slot };

type Props = {
  states: readonly RunState[];
  /** What is read now, or looked at; null between readings. */ cursor: MemberSlot | null;
  onSelect: (at: MemberSlot) => void;
  onOpen: (member: number, result: OpenResult) => void;
};

/** All readings of a set-up on one sheet: a column for the reference, one for each instrument; a line for each way over them. */
export function SetUpSheet({ states, cursor, onSelect, onOpen }: Props) {
  const places = [...new Map(states.flatMap((s) => placesRead(s.plan)).map((p) => [JSON.stringify(p), p] as const)).values()];
  const last = states
    .flatMap((s) => s.readings.filter((r) => !r.struck))
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .at(-1)?.slot;
  const here = cursor?.slot ?? last;
  const current = here ? { set: here.set, series: here.series, each: here.each ?? null } : (places[0] ?? null);
  const [chosen, setChosen] = useState<{ at: string; shown: SheetPlace } | null>(null);
  const key = JSON.stringify(current);
  // What was chosen stays until the work moves on.
  const shown = chosen?.at === key ? chosen.shown : current;
  if (!shown) return null;
  const show = (next: SheetPlace) => setChosen({ at: key, shown: next });
  const inSet = places.filter((p) => p.set === shown.set);
  const inSeries = inSet.filter((p) => p.series === shown.series);
  const first = states.find((s) => s.plan.some((i) => i.set === shown.set && i.series === shown.series)) ?? states[0]!;
  return (
    <Tabs
      label="Which set"
      inTabOrder={false}
      tabs={[...new Set(places.map((p) => p.set))].map((s) => ({
        id: s,
        title: `${s.startsWith('as-found') ? '○' : '●'} ${setTitle(s)}`,
      }))}
      shown={shown.set}
      onShow={(set) => show(places.find((p) => p.set === set && p.series === shown.series) ?? places.find((p) => p.set === set)!)}
    >
      <Tabs
        label="Which readings"
        inTabOrder={false}
        tabs={[...new Set(inSet.map((p) => p.series))].map((id) => ({ id, title: seriesOf(first, id)!.title }))}
        shown={shown.series}
        onShow={(id) => show(inSet.find((p) => p.series === id)!)}
      >
        <Sheet states={states} places={inSeries} first={first} cursor={cursor} onSelect={onSelect} onOpen={onOpen} />
      </Tabs>
    </Tabs>
  );
}

type SheetProps = Props & { /** Instances of one series in one set. */ places: readonly SheetPlace[]; first: RunState };

function Sheet({ states, places, first, cursor, onSelect, onOpen }: SheetProps) {
  const place = places[0]!;
  const at: Place = { set: place.set, series: place.series, ...(place.each === null ? {} : { each: place.each }) };
  const series = seriesOf(first, place.series)!;
  const layouts = places.map((p) => ({ place: p, points: setUpLayout(states, p) }));
  const layout = layouts.flatMap((l) => l.points);
  const members = states.flatMap((s, member) =>
    s.plan.some((i) => i.type === 'reading' && i.set === place.set && i.series === place.series) ? [member] : [],
  );
  const results = offeredResults(first, at);
  const result = results.find((r) => (r.tolerance ?? r.tolerances) !== undefined) ?? results[0];
  const hasShared = layout.some((p) => p.rows.some((r) => r.shared.length > 0));
  const hasOwn = layout.some((p) => p.rows.some((r) => r.own !== null));
  const read = series.observe.filter((o) => layout.length > 0 && o.type === 'number');
  const unitOf = (shared: boolean) => {
    const units = read
      .filter((o) => isShared(first.procedure, { type: 'reading', ...at, id: o.id }) === shared)
      .map((o) => printedUnit(observedUnit(first, at, o)));
    return new Set(units).size === 1 && units[0] ? `, ${units[0]}` : '';
  };
  return (
    <table className="w-full border-collapse bg-sheet text-base">
      <thead className="sticky top-0 z-10 bg-paper">
        <tr className="border-y border-rule-strong [&>th]:px-2 [&>th]:py-1.5 [&>th]:text-right">
          <th scope="col" className="!text-left">
            Point
          </th>
          {hasShared && <th scope="col">Reference{unitOf(true)}</th>}
          {hasOwn && (
            <th scope="col" className="w-8">
              <span className="sr-only">Which way</span>
            </th>
          )}
          {members.map((m) => (
            <th scope="col" key={m} className={cursor?.member === m ? '!text-ink' : ''}>
              <span className="ident">{states[m]!.instrument.identification}</span>
              {hasOwn && unitOf(false)}
            </th>
          ))}
        </tr>
      </thead>
      {layouts
        .flatMap((l) => l.points.map((point) => ({ ...l, point })))
        .map(({ place, point }) => (
          <tbody key={`${place.each}|${point.sweep ?? ''}|${point.name}`} className="border-b border-rule-strong">
            {point.rows.map((row, i) => (
              <tr key={i} className="[&>td]:px-1">
                {i === 0 && (
                  <th
                    scope="row"
                    rowSpan={point.rows.length}
                    className="scroll-mt-10 !text-base !text-ink px-2 py-1 !text-left align-top"
                  >
                    {places.length > 1 && (
                      <span className="block font-normal">{instanceTitle(first, place.series, place.each)}</span>
                    )}
                    <span className="figure">{nameOf(states, place, point, series.points !== undefined)}</span>
                  </th>
                )}
                {hasShared && (
                  <td className="text-right">
                    {row.shared.map((name) => (
                      <SharedCell key={name} states={states} name={name} cursor={cursor} onSelect={onSelect} />
                    ))}
                  </td>
                )}
                {hasOwn && <Way row={row} />}
                {members.map((m) => (
                  <td key={m} className="text-right">
                    {row.own !== null && (
                      <Cell
                        state={states[m]!}
                        member={m}
                        name={row.own}
                        isHere={isAt(states, cursor, m, row.own)}
                        onSelect={onSelect}
                      />
                    )}
                  </td>
                ))}
              </tr>
            ))}
            {result && (
              <tr className="border-t border-rule [&>td]:px-1 [&>td]:pb-1.5">
                <th scope="row" colSpan={1 + Number(hasShared) + Number(hasOwn)} className="px-2 !text-left text-sm align-top">
                  {result.title}
                  {printedUnit(shownUnit(first, result, at)) && `, ${printedUnit(shownUnit(first, result, at))}`}
                </th>
                {members.map((m) => (
                  <td key={m} className="text-right align-top">
                    <ResultCell
                      state={states[m]!}
                      point={point}
                      place={place}
                      symbol={result.symbol}
                      onOpen={(r) => onOpen(m, r)}
                    />
                  </td>
                ))}
              </tr>
            )}
          </tbody>
        ))}
    </table>
  );
}

const Way = ({ row }: { row: PassageRow }): ReactNode => (
  <td className="text-center text-soft">
    {row.own !== null &&
      (row.isBack ? (
        <MoveLeft size={18} aria-label="back" className="inline" />
      ) : (
        <MoveRight size={18} aria-label="there" className="inline" />
      ))}
  </td>
);

/** The reading item of the point's first passage in some run, which tells its name and its place there. */
const placeOfPoint = (state: RunState, point: PointRows): Slot | null => {
  const name = point.rows.find((r) => r.own !== null)?.own ?? point.rows[0]?.shared[0];
  const item = name === undefined ? undefined : itemNamed(state, name);
  return item?.type === 'reading' ? slotOf(item) : null;
};

function nameOf(states: readonly RunState[], place: SheetPlace, point: PointRows, isNamed: boolean): string {
  for (const state of states) {
    const slot = placeOfPoint(state, point);
    if (!slot) continue;
    const sweep = point.sweep === null ? '' : sweepTitle(state, place.series, point.sweep);
    return `${sweep} ${isNamed ? pointTitle(state, slot) : ''}`.trim().replace('-', '−');
  }
  return '';
}

function isAt(states: readonly RunState[], cursor: MemberSlot | null, member: number, name: string): boolean {
  if (cursor?.member !== member) return false;
  const item = itemNamed(states[member]!, name);
  return item?.type === 'reading' && slotKey(slotOf(item)) === slotKey(cursor.slot);
}

/** What was read once for all: shown from the first run that has it. */
function SharedCell({ states, name, cursor, onSelect }: { name: string } & Omit<Props, 'onOpen'>) {
  const having = states.findIndex((s) => {
    const item = itemNamed(s, name);
    return item?.type === 'reading' && s.live.has(slotKey(slotOf(item)));
  });
  const member = having >= 0 ? having : states.findIndex((s) => itemNamed(s, name));
  const isHere = states.some((_, m) => isAt(states, cursor, m, name));
  return <Cell state={states[member]!} member={member} name={name} isHere={isHere} onSelect={onSelect} />;
}

type CellProps = {
  state: RunState;
  member: number;
  isHere: boolean;
  onSelect: (at: MemberSlot) => void;
};

function Cell({ name, ...rest }: CellProps & { name: string }) {
  const item = itemNamed(rest.state, name);
  return item?.type === 'reading' ? <SlotCell {...rest} slot={slotOf(item)} /> : null;
}

/** Moves the sheet, never the page, until a cell stands in sight. */
function bringIntoSight(cell: HTMLElement): void {
  const sheet = cell.closest<HTMLElement>('[aria-label="Readings"]');
  if (!sheet) return;
  const [here, seen] = [cell.getBoundingClientRect(), sheet.getBoundingClientRect()];
  const headHeight = 40;
  if (here.top < seen.top + headHeight) sheet.scrollTop -= seen.top + headHeight - here.top;
  else if (here.bottom > seen.bottom) sheet.scrollTop += here.bottom - seen.bottom;
  if (here.right > seen.right) sheet.scrollLeft += here.right - seen.right;
  else if (here.left < seen.left) sheet.scrollLeft -= seen.left - here.left;
}

function SlotCell({ state, member, slot, isHere, onSelect }: CellProps & { slot: Slot }) {
  const observation = observationOf(state, slot);
  const reading = state.live.get(slotKey(slot));
  const struck = state.readings.findLast((r) => r.struck && slotKey(r.slot) === slotKey(slot));
  const step = observation?.type === 'number' ? observedResolution(state, slot, observation) : null;
  const option = observation?.options?.find((o) => o.id === reading?.value)?.title;
  const text = reading ? (option ?? completedText(reading.text, step).replace('-', '−')) : skipOf(state, slot) ? 'skipped' : null;
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (isHere && button.current) bringIntoSight(button.current);
  }, [isHere]);
  const title = `${state.instrument.identification}, ${pointTitle(state, slot)}, ${observation?.title ?? slot.observation} ${slot.repeat}`;
  return (
    <button
      ref={button}
      type="button"
      tabIndex={-1}
      aria-label={`${title}: ${text ?? 'open'}`}
      aria-current={isHere || undefined}
      // The entry keeps the keyboard: a click here only says where it goes.
      onMouseDown={(e) => e.preventDefault()}
      onClick={() => onSelect({ member, slot })}
      className={`figure relative h-8 w-full min-w-16 cursor-pointer px-1 text-right pointer-coarse:h-11 ${isHere ? 'bg-verdigris-tint outline-2 outline-verdigris' : ''} ${text === 'skipped' ? 'text-sm text-ochre' : ''}`}
    >
      {text ?? <span className="text-rule-strong">{isHere ? '_'.repeat(3) : '·'}</span>}
      {struck?.struck && (
        <s className="absolute -top-1 right-1 text-[0.7rem] text-ochre" title={`Struck out: ${struck.struck.reason}`}>
          {struck.text.replace('-', '−')}
        </s>
      )}
    </button>
  );
}

function ResultCell({
  state,
  point,
  place,
  symbol,
  onOpen,
}: {
  state: RunState;
  point: PointRows;
  place: SheetPlace;
  symbol: string;
  onOpen: (result: OpenResult) => void;
}) {
  const slot = placeOfPoint(state, point);
  const doc = seriesOf(state, place.series)?.results.find((r) => r.symbol === symbol);
  if (!slot || !doc) return null;
  const { set, series, each, point: id, sweep } = slot;
  const at: Place = { set, series, ...(each === undefined ? {} : { each }), point: id };
  if (sweep !== undefined && !doc.over?.includes('sweeps')) at.sweep = sweep;
  const result = pointIn(state, at, [doc])?.[symbol];
  if (!result) return null;
  if (!isDetermined(result))
    return (
      <span className="pr-1 text-sm" title={result.why}>
        <VerdictWord verdict={result.verdict} short />
      </span>
    );
  const unit = unitIn(state, doc.unit, at);
  const shownIn = shownUnit(state, doc, at);
  const pair = shownPair(result.estimate, result.expandedUncertainty, unit, shownIn, result.limits, result.acceptance);
  return (
    <span className="flex flex-col items-end pr-1">
      <button
        type="button"
        tabIndex={-1}
        onMouseDown={(e) => e.preventDefault()}
        onClick={() => onOpen({ place: at, symbol })}
        className="figure cursor-pointer font-bold whitespace-nowrap underline decoration-dotted underline-offset-4"
        title="What this is made of"
      >
        {pair.value}
        <span className="font-normal text-soft"> ± {pair.U}</span>
      </button>
      {result.limits && (
        <PairMark
          width={104}
          height={18}
          limits={{ lower: result.limits.lower ?? null, upper: result.limits.upper ?? null }}
          acceptance={result.acceptance}
          found={set.startsWith('as-left') ? null : { value: result.estimate, expandedUncertainty: result.expandedUncertainty }}
          left={set.startsWith('as-left') ? { value: result.estimate, expandedUncertainty: result.expandedUncertainty } : null}
          unit={unit}
          shownIn={shownIn}
        />
      )}
      {result.verdict && isPointRead(state, at) && (
        <span className="text-sm">
          <VerdictWord verdict={result.verdict} short />
        </span>
      )}
    </span>
  );
}
