import type { Place } from '../plan/plan-schema';
import type { AggregateDocument, ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { plainDecimal } from '../quantity/rounding';
import { printedUnit } from '../quantity/unit';
import { columnOf, unitIn, withUnit } from '../steps/step-context';
import { ownFormIn, shownNominal } from '../state/own-units';
import { placedPoint, type RunState } from '../state/run-state';

/** Places of a run in the words of its document. */

const setTitles: Record<string, string> = {
  'as-found': 'As found',
  'as-left': 'As left',
  check: 'Independent check',
  quick: 'Quick check',
};

/** @example setTitle('as-found-2') // 'As found 2' */
export function setTitle(set: string): string {
  const [, kind = set, number] = /^(.*?)(?:-(\d+))?$/.exec(set) ?? [];
  return `${setTitles[kind] ?? kind}${number ? ` ${number}` : ''}`;
}

/** @example seriesOf(run, 'error').title // 'Error of indication' */
export const seriesOf = (state: RunState, id: string | undefined): SeriesDocument | undefined =>
  state.procedure.series.find((s) => s.id === id);

/** The title of an instance; empty where nothing is read for each of anything. @example instanceTitle(run, 'error', null) // '' */
export function instanceTitle(state: RunState, series: string, each: string | null | undefined): string {
  if (each === null || each === undefined) return '';
  const title = columnOf(state, 'title', { set: '', series, each });
  return typeof title === 'string' && title !== '' ? title : each;
}

/** @example sweepTitle(run, 'error', null) // '' */
export const sweepTitle = (state: RunState, series: string, sweep: string | null | undefined): string =>
  seriesOf(state, series)?.sweeps?.find((s) => s.id === sweep)?.title ?? sweep ?? '';

/** The unit in which the nominal values of a series are shown. @example pointUnit(run, place) // 'mm' */
export function pointUnit(state: RunState, place: Place): string {
  const unit = seriesOf(state, place.series)?.points?.unit;
  return ownFormIn(state, unit)?.unit ?? unitIn(state, unit, place);
}

/** The unit in which a result is shown. @example shownUnit(run, result) // 'um' */
export const shownUnit = (state: RunState, result: Pick<ResultDocument, 'unit' | 'shownIn'>, place: Place): string =>
  ownFormIn(state, result.unit)?.unit ?? unitIn(state, result.shownIn ?? result.unit, place);

/**
 * The unit in which a statistic is shown: that of the result that it is of, where both have the same unit.
 * @example shownUnitOfAggregate(run, series, series.aggregates[0], place) // 'um'
 */
export function shownUnitOfAggregate(
  state: RunState,
  series: SeriesDocument,
  aggregate: AggregateDocument,
  place: Place,
): string {
  const own = ownFormIn(state, aggregate.unit)?.unit;
  if (own !== undefined) return own;
  const unit = unitIn(state, aggregate.unit, place);
  const of = series.results.find((r) => r.symbol === aggregate.of);
  return of && unitIn(state, of.unit, place) === unit ? shownUnit(state, of, place) : unit;
}

/** A label such as `frontLeft` in words. */
const spoken = (label: string): string =>
  label.includes(' ') ? label : label.replace(/([a-z])([A-Z])/g, '$1 $2').replace(/^./, (c) => c.toUpperCase());

/**
 * What a point is called on sheet and record: its label, its nominal value with its unit, or its number.
 * @example pointTitle(run, place) // '7.7 mm'
 */
export function pointTitle(state: RunState, place: Place, decimals?: number): string {
  const point = placedPoint(state, place);
  if (!point) return '';
  if (point.label !== undefined) {
    const title = point.columns['title'];
    return typeof title === 'string' ? title : spoken(point.label.replace(/[-_]/g, ' '));
  }
  const nominal = shownNominal(state, place);
  if (nominal === undefined) return seriesOf(state, place.series)?.title ?? '';
  const unit = printedUnit(pointUnit(state, place));
  const number = decimals === undefined ? plainDecimal(nominal) : nominal.toFixed(decimals);
  return (unit === '' || unit === '1' ? number : `${number} ${unit}`).replace('-', '−');
}

/** Whether no other series runs over the same ranges or positions. */
function isAlone(state: RunState, series: string): boolean {
  const over = (of: SeriesDocument | undefined) => JSON.stringify(of?.forEach ?? null);
  const own = over(seriesOf(state, series));
  return state.procedure.series.every((s) => s.id === series || over(s) !== own);
}

/** Where a reading stands, in one phrase. @example 'Low range, 20.2 mm, up' */
export function placeTitle(state: RunState, place: Place): string {
  const { series } = place;
  if (series === undefined) return '';
  const of = instanceTitle(state, series, place.each);
  const point = place.point === undefined ? '' : pointTitle(state, place);
  return [
    of,
    // The only point of a range or position has no name of its own, unless something else is read there too.
    of && point === seriesOf(state, series)?.title && isAlone(state, series) ? '' : point,
    place.sweep === undefined ? '' : sweepTitle(state, series, place.sweep).toLowerCase(),
  ]
    .filter(Boolean)
    .join(', ');
}

const literal = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** The nominal value of a point in a text: in the instrument's own unit, with the document's behind it where it was converted. */
function nominalWords(state: RunState, place: Place, nominal: number): string {
  const unit = seriesOf(state, place.series)?.points?.unit;
  const shown = withUnit(shownNominal(state, place)!, pointUnit(state, place));
  return ownFormIn(state, unit) ? `${shown} (${withUnit(Number(nominal.toPrecision(5)), unitIn(state, unit, place))})` : shown;
}

/**
 * Fills `{point.nominal}`, `{point.label}` and `{each.title}` in a text of the document.
 * @example filledText(run, 'Lay {point.nominal} here', place) // 'Lay 7.7 mm here'
 */
export function filledText(state: RunState, text: string, place: Place): string {
  const unit = unitIn(state, seriesOf(state, place.series)?.points?.unit, place);
  // Documents written before numbers printed their own unit have it behind them.
  const behind = new RegExp(
    `(\\{point\\.nominal\\})[\\s\u00a0]?(?:${[printedUnit(unit), unit].map(literal).join('|')})(?![\\p{L}/])`,
    'gu',
  );
  const written = unit === '' || unit === '1' ? text : text.replace(behind, '$1');
  return written.replace(/\{(point|each)\.(\w+)\}/g, (whole, what: string, name: string) => {
    if (what === 'each')
      return name === 'title'
        ? instanceTitle(state, place.series ?? '', place.each)
        : String(columnOf(state, name, place) ?? whole);
    const point = placedPoint(state, place);
    if (name === 'nominal' && point?.nominal !== undefined) return nominalWords(state, place, point.nominal);
    const value = name === 'label' ? point?.label : point?.columns[name];
    return value === undefined ? whole : typeof value === 'number' ? plainDecimal(value) : String(value);
  });
}
