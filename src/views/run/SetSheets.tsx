import { useMemo, useState } from 'react';
import { instanceTitle, seriesOf, setTitle, shownUnit } from '../../core/run/place-words';
import { offeredResults } from '../../core/run/reading-rules';
import { limitWords } from '../../core/run/shown-value';
import { unitIn } from '../../core/steps/step-context';
import { failuresIn, type Failure } from '../../core/run/failures';
import type { Verdict } from '../../core/conformity/decide';
import { aggregatesIn, entriesOf, evaluationIfAny, isSettled, setAsFound, verdictOfSeries } from '../../core/run/run-results';
import { placesKey, slotOf } from '../../core/state/place-keys';
import type { RunState, Slot } from '../../core/state/run-state';
import { ruleWords } from '../../ui/rule-words';
import { AggregateList } from './AggregateList';
import { progressOf } from './sheet-layout';
import { SeriesSheet, type OpenResult } from './SeriesSheet';
import { Tabs } from './Tabs';

type Props = {
  state: RunState;
  /** Where the next reading goes; null when none is wanted. */
  cursor: Slot | null;
  onSelect?: (slot: Slot) => void;
  onOpen: (result: OpenResult) => void;
};

type Shown = { set: string; series: string; each: string | null };

/** Sets, series and instances that the plan reads, in its order. */
export function placesRead(plan: RunState['plan']): Shown[] {
  const seen = new Map<string, Shown>();
  for (const i of plan) {
    if (i.type !== 'reading') continue;
    const key = `${i.set}|${i.series}|${i.each ?? ''}`;
    if (!seen.has(key)) seen.set(key, { set: i.set, series: i.series!, each: i.each ?? null });
  }
  return [...seen.values()];
}

/** A number of readings above which statistics over all of them wait until all are there. */
const manyReadings = 200;

/** The sheets of a run: set, series and instance by tabs, the readings, the statistics over them. */
export function SetSheets({ state, cursor, onSelect, onOpen }: Props) {
  const { plan } = state;
  const places = useMemo(() => placesRead(plan), [plan]);
  const current: Shown | null = cursor
    ? { set: cursor.set, series: cursor.series, each: cursor.each ?? null }
    : foundFirst(lastRead(state, places, onSelect === undefined), places, onSelect === undefined);
  const [chosen, setChosen] = useState<{ at: string; shown: Shown } | null>(null);
  const key = JSON.stringify(current);
  // What was chosen stays until the work moves on.
  const shown = chosen && chosen.at === key ? chosen.shown : current;
  if (!shown) return null;
  const show = (next: Shown) => setChosen({ at: key, shown: next });
  const inTabOrder = onSelect === undefined;
  const sets = [...new Set(places.map((p) => p.set))];
  const inSet = places.filter((p) => p.set === shown.set);
  const allSeries = [...new Set(inSet.map((p) => p.series))];
  const inSeries = inSet.filter((p) => p.series === shown.series);
  const failed = failedIn(state, shown.set);
  const note = (series: string, each?: string | null) => {
    const { taken, wanted } = progressOf(state, shown.set, series, each);
    if (taken !== wanted) return { note: `${taken} of ${wanted}` };
    const here = failed.filter((f) => f.place.series === series && (each == null || (f.place.each ?? null) === each));
    // A tick says that it is inside; what nothing limits was only read.
    if (here.length === 0)
      return { note: isSettled(state, shown.set) && isInside(verdictIn(state, shown.set, series)) ? '✓' : 'read' };
    return { note: here.some((f) => f.verdict !== 'not-determined') ? 'outside' : 'not determined', isFailed: true };
  };
  const series = seriesOf(state, shown.series)!;
  const pairWith = pairOf(state, places, shown);
  const { taken, wanted } = progressOf(state, shown.set, shown.series);
  const isReady = wanted <= manyReadings || taken === wanted;
  /** The statistics of a set stand under its own readings. */
  const summaryOf = (set: string, isComplete: boolean) => (
    <AggregateList
      state={state}
      series={series}
      aggregates={aggregatesIn(state, set, shown.series).filter((a) => a.each === null || a.each === shown.each)}
      place={{ ...shown, set }}
      isComplete={isComplete}
    />
  );
  return (
    <Tabs
      label="Which set"
      inTabOrder={inTabOrder}
      tabs={sets.map((s) => ({ id: s, title: `${s.startsWith('as-found') ? '○' : '●'} ${setTitle(s)}` }))}
      shown={shown.set}
      onShow={(set) => show(places.find((p) => p.set === set && p.series === shown.series) ?? places.find((p) => p.set === set)!)}
    >
      <Tabs
        label="Which readings"
        inTabOrder={inTabOrder}
        tabs={allSeries.map((id) => ({ id, title: seriesOf(state, id)!.title, ...note(id) }))}
        shown={shown.series}
        onShow={(id) => show(inSet.find((p) => p.series === id)!)}
      >
        <Tabs
          label="Of which"
          inTabOrder={inTabOrder}
          tabs={inSeries.map((p) => ({
            id: p.each ?? '',
            title: instanceTitle(state, p.series, p.each),
            ...note(p.series, p.each),
          }))}
          shown={shown.each ?? ''}
          onShow={(each) => show(inSeries.find((p) => (p.each ?? '') === each)!)}
        >
          {inTabOrder && pairWith !== null && <h3 className="mt-3 mb-1 px-2">{setTitle(shown.set)}</h3>}
          <SeriesSheet
            key={`${shown.set}|${shown.series}|${shown.each}`}
            state={state}
            place={shown}
            pairWith={pairWith}
            cursor={
              cursor && cursor.set === shown.set && cursor.series === shown.series && (cursor.each ?? null) === shown.each
                ? cursor
                : null
            }
            onOpen={onOpen}
            {...(onSelect && shown.set === current?.set ? { onSelect } : {})}
          />
          {isReady && summaryOf(shown.set, taken === wanted)}
          {inTabOrder && pairWith !== null && (
            <>
              <h3 className="mt-5 mb-1 px-2">{setTitle(pairWith)}</h3>
              <SeriesSheet
                key={`${pairWith}|${shown.series}|${shown.each}`}
                state={state}
                place={{ ...shown, set: pairWith }}
                pairWith={shown.set}
                cursor={null}
                onOpen={onOpen}
              />
              {summaryOf(pairWith, isSettled(state, pairWith))}
            </>
          )}
          <RuleLine state={state} place={shown} />
          {series.gate && (
            <p className="mt-1 px-2 text-sm text-ochre">The run goes on from here only when this is inside its limits.</p>
          )}
        </Tabs>
      </Tabs>
    </Tabs>
  );
}

const isInside = (verdict: Verdict | null): boolean => verdict === 'pass' || verdict === 'conditional-pass';

/** The verdict of a series, else of its gates; null where nothing limits what it gave. */
function verdictIn(state: RunState, set: string, id: string): Verdict | null {
  const series = seriesOf(state, id)!;
  const entries = entriesOf(evaluationIfAny(state, set), id);
  const plain = <T extends { gate?: boolean | undefined }>(of: T): T => ({ ...of, gate: false });
  const gates = { ...plain(series), results: series.results.map(plain), aggregates: series.aggregates.map(plain) };
  return verdictOfSeries(series, entries) ?? verdictOfSeries(gates, entries);
}

/** Limits and rule in sight: the limits where they are the same at every point, else those of each line are on its strip. */
function RuleLine({ state, place }: { state: RunState; place: Shown }) {
  const series = seriesOf(state, place.series)!;
  const at = { set: place.set, series: place.series, ...(place.each === null ? {} : { each: place.each }) };
  const judged = offeredResults(state, at).find((r) => (r.tolerance ?? r.tolerances) !== undefined);
  if (!judged || series.gate || (isSettled(state, place.set) && verdictIn(state, place.set, place.series) === null)) return null;
  const points = state.places.get(placesKey(place.set, place.series, place.each))?.points ?? [];
  const words = new Set(
    points.map((p) => {
      const limits = p.limits[judged.symbol];
      return limits ? limitWords(limits, unitIn(state, judged.unit, at), shownUnit(state, judged, at)) : '';
    }),
  );
  const [limits] = words.size === 1 ? words : [''];
  const rule = state.instrument.decisionRule ?? judged.decisionRule ?? series.decisionRule ?? state.procedure.decisionRule;
  return (
    <p className="mt-1 px-2 text-sm text-soft">
      {limits ? `Limits ${limits}. ` : 'Limits of each line on its strip. '}
      {ruleWords(rule)} Green is accepted.
    </p>
  );
}

/** The set that the strip compares with: the one before or after that read the same. */
function pairOf(state: RunState, places: readonly Shown[], shown: Shown): string | null {
  const read = places
    .filter((p) => p.series === shown.series && p.each === shown.each && !p.set.startsWith('check'))
    .map((p) => p.set);
  if (read.length < 2) return null;
  const first = setAsFound(state);
  return shown.set === first ? read.at(-1)! : first;
}

/** What a set that is read to its end shows outside, or cannot decide. */
const failedIn = (state: RunState, set: string): Failure[] => (isSettled(state, set) ? failuresIn(state, set) : []);

/** A record opens on the first set that read the same, with what was left below it. */
function foundFirst(shown: Shown | null, places: readonly Shown[], isRecord: boolean): Shown | null {
  if (!isRecord || !shown) return shown;
  return places.find((p) => p.series === shown.series && p.each === shown.each) ?? shown;
}

const isAt = (shown: Shown, place: Failure['place']): boolean =>
  shown.series === place.series && (place.each === undefined || shown.each === place.each);

/** What was read last: where a finished run, or one between its readings, is opened. */
function lastRead(state: RunState, places: readonly Shown[], isRecord: boolean): Shown | null {
  const last = [...state.readings].reverse().find((r) => !r.struck);
  const item = last ? null : state.plan.find((i) => i.type === 'reading');
  const slot = last?.slot ?? (item?.type === 'reading' ? slotOf(item) : null);
  if (!slot) return places[0] ?? null;
  const { set } = slot;
  // A finished set is shown where it fails first, a record and what is inside from its first judged series on.
  const [failure] = isRecord ? [] : failedIn(state, set);
  const failed = failure && places.find((p) => p.set === set && isAt(p, failure.place));
  if (failed) return failed;
  const judged = places.find(
    (p) =>
      p.set === set &&
      seriesOf(state, p.series)!.results.some((r) => (r.tolerance ?? r.tolerances) !== undefined) &&
      !seriesOf(state, p.series)!.gate,
  );
  return (
    judged ??
    places.find((p) => p.set === slot.set && p.series === slot.series && p.each === (slot.each ?? null)) ??
    places[0] ??
    null
  );
}
