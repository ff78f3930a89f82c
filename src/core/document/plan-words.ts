import type { Change } from './changes';
import { plainId } from '../evaluate/names/head';
import { nameWords } from '../evaluate/names/registry';
import { soleName, withNames } from '../formula/formula';
import { plainDecimal } from '../quantity/rounding';
import { printedUnit } from '../quantity/unit';
import type {
  DistributionTemplate,
  Num,
  ProcedureDocument,
  SeriesDocument,
  ToleranceTemplate,
} from '../procedure/document-schema';

/** Parts of a procedure document in words. */

/** A formula for people: its names in words. @example formulaWords('0.1 * each.upper') // '0.1 × its own upper' */
export const formulaWords = (is: string): string =>
  withNames(is, (name) => (name.includes('.') ? nameWords(name) : name))
    .replaceAll(' * ', ' × ')
    .replaceAll(' - ', ' − ');

/** @example numberWords(-0.5) // '−0.5' */
export const numberWords = (n: Num): string => (typeof n === 'number' ? plainDecimal(n).replace('-', '−') : formulaWords(n.is));

/** @example unitWords('um') // 'µm' */
export const unitWords = (unit: string | { of: string } | undefined): string =>
  unit === undefined ? '' : typeof unit === 'string' ? printedUnit(unit) : 'unit by row';

/** @example hoursWords(75) // '75 min' @example hoursWords(240) // '4 h' @example hoursWords(265) // '4 h 25 min' */
export function hoursWords(minutes: number): string {
  const whole = Math.round(minutes);
  if (whole < 90) return `${whole} min`;
  return whole % 60 === 0 ? `${whole / 60} h` : `${Math.floor(whole / 60)} h ${whole % 60} min`;
}

/** A share of the range in words; where each instance has its own, all of theirs. */
function sharesOf(series: SeriesDocument, share: Num): string[] {
  const percent = (value: number) => `${plainDecimal(value * 100)} %`;
  if (typeof share === 'number') return [percent(share)];
  const [head, name, ...more] = soleName(share.is)?.split('.') ?? [];
  const own =
    head === 'each' && name && more.length === 0 && series.forEach && 'of' in series.forEach
      ? series.forEach.of.map((instance) => instance[name])
      : [];
  return own.length > 0 && own.every((v) => typeof v === 'number') ? own.map(percent) : [formulaWords(share.is)];
}

/** Where and how often a series is read. */
export function pointsWords(series: SeriesDocument): string {
  const p = series.points;
  const unit = unitWords(p?.unit);
  const list = (numbers: readonly Num[]) => numbers.map(numberWords).join(' · ');
  const where = !p
    ? 'once'
    : p.table
      ? p.table
          .map(
            (row) =>
              (row.label !== undefined ? plainId(row.label) : undefined) ??
              (row.nominal === undefined ? '' : numberWords(row.nominal)),
          )
          .join(' · ')
      : Array.isArray(p.list)
        ? `${list(p.list)} ${unit}`
        : typeof p.list === 'string'
          ? `each of the instrument's ${p.list}`
          : p.offsets
            ? `${list(p.offsets)} ${unit} above the lower end`
            : p.fractions
              ? `${[...new Set(p.fractions.flatMap((f) => sharesOf(series, f)))].join(' · ')} of the range`
              : p.items
                ? 'every item of the standard'
                : p.from !== undefined && p.to !== undefined && p.step !== undefined
                  ? `${numberWords(p.from)} to ${numberWords(p.to)} ${unit} by ${numberWords(p.step)}`
                  : 'once';
  const sweeps = series.sweeps?.length ? `; ${series.sweeps.map((s) => s.title.toLowerCase()).join(', ')}` : '';
  const repeats = series.repeats === 1 ? '' : `; ${numberWords(series.repeats)} times each`;
  return `${where}${sweeps}${repeats}`;
}

/**
 * A distribution as it is written in a budget.
 * @example distributionWords({ type: 'rectangular', mean: 0, halfWidth: 0.5 }) // 'rectangular: about 0, ± 0.5'
 */
export function distributionWords(d: DistributionTemplate): string {
  if (d.type === 'readings') {
    const pool =
      d.pool === undefined || d.pool === 'none'
        ? ''
        : typeof d.pool === 'string'
          ? `, scatter pooled over the ${d.pool}`
          : ', scatter pooled with other work';
    return `readings of ${d.of}${pool}${d.floor === undefined ? '' : `, u at least ${numberWords(d.floor)}`}`;
  }
  const members = Object.entries(d)
    .filter(([key]) => key !== 'type')
    .map(([key, value]) => `${memberWords[key] ?? key} ${numberWords(value as Num)}`);
  return `${d.type}: ${members.join(', ')}`;
}

const memberWords: Record<string, string> = {
  mean: 'about',
  halfWidth: '±',
  standardUncertainty: 'u',
  expandedUncertainty: 'U',
  coverageFactor: 'k',
  value: '',
};

/** A tolerance as a statement. @example toleranceWords({ upper: 5 }, '%') // 'at most 5 %' */
export function toleranceWords(t: ToleranceTemplate, unit: string): string {
  const withUnit = (number: string) => (unit === '' ? number : `${number} ${unit}`);
  if (!('terms' in t)) {
    if (t.lower !== undefined && t.upper !== undefined) return withUnit(`${numberWords(t.lower)} to ${numberWords(t.upper)}`);
    return t.upper !== undefined
      ? withUnit(`at most ${numberWords(t.upper)}`)
      : t.lower !== undefined
        ? withUnit(`at least ${numberWords(t.lower)}`)
        : 'none';
  }
  const terms = t.terms.map((term) => {
    if ('absolute' in term) return withUnit(numberWords(term.absolute));
    if ('ofReading' in term) return `${numberWords(term.ofReading)} of the reading`;
    if ('ofReference' in term) return `${numberWords(term.ofReference)} of the reference`;
    if ('ofRange' in term) return `${numberWords(term.ofRange)} of the range ${numberWords(term.range)}`;
    if ('counts' in term) return `${numberWords(term.counts)} counts`;
    return `${numberWords(term.perLength)} for each unit of length`;
  });
  const said = terms.join(t.combine === 'greatest' ? ', whichever is greater; ' : ' + ');
  return terms.length > 1 ? `± (${said})` : `± ${said}`;
}

type Policy = NonNullable<ProcedureDocument['adjustments'][number]['policy']>;

/** When an adjustment is proposed. @example policyWords() // 'never while inside its limits' */
export function policyWords(policy: Policy = { kind: 'never-while-inside' }): string {
  switch (policy.kind) {
    case 'never-while-inside':
      return 'never while inside its limits';
    case 'beyond-share':
      return `beyond ${Math.round(policy.share * 100)} % of the tolerance`;
    case 'always-centre':
      return 'always: it is centred';
    case 'beyond':
      return `beyond ${policy.is}`;
  }
}

const members: Record<string, string> = {
  estimate: 'estimate',
  expandedUncertainty: 'U',
  standardUncertainty: 'u',
  verdict: 'verdict',
  value: 'value',
  coefficients: 'coefficient',
};

/**
 * A path of a worked example in words: `series.1.points.2.results.E.estimate` is "E of entry 3, estimate".
 * @example pathWords('series.1.points.2.results.E.estimate') // 'E of entry 3, estimate'
 */
export function pathWords(path: string): string {
  const result = /^series\.\d+\.points\.(\d+)\.results\.(\w+)\.(\w+)$/.exec(path);
  if (result) return `${result[2]} of entry ${Number(result[1]) + 1}, ${members[result[3]!] ?? result[3]}`;
  const aggregate = /^series\.(\d+)\.aggregates\.(\d+)\.(\w+)$/.exec(path);
  if (aggregate)
    return `Statistic ${Number(aggregate[2]) + 1} of series ${Number(aggregate[1]) + 1}, ${members[aggregate[3]!] ?? aggregate[3]}`;
  const fit = /^series\.\d+\.fits\.(\w+)\.(\w+)\.(\d+)$/.exec(path);
  if (fit) return `Fit ${fit[1]}, ${members[fit[2]!] ?? fit[2]} ${fit[3]}`;
  const proposed = /^adjustments\.\d+\.proposed\.(\w+)$/.exec(path);
  if (proposed) return `Proposed ${proposed[1]}`;
  const wanted = /^adjustments\.(\d+)\.wanted$/.exec(path);
  if (wanted) return `Adjustment ${Number(wanted[1]) + 1} wanted`;
  return path;
}

/** At most this much of a changed text is shown. */
const longest = 160;
const short = (value: unknown): string => {
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  return text.length > longest ? `${text.slice(0, longest)}…` : text;
};

/** A change between two revisions in words. @example changedWords({ before: 3, after: 5 }) // '3 → 5' */
export function changedWords({ before, after }: Pick<Change, 'before' | 'after'>): string {
  if (before === undefined) return `new: ${titleIn(after)}`;
  if (after === undefined) return `left out: ${titleIn(before)}`;
  return `${short(before)} → ${short(after)}`;
}

const titleIn = (value: unknown): string => {
  const title = typeof value === 'object' && value !== null ? (value as { title?: unknown }).title : undefined;
  return typeof title === 'string' ? title : short(value);
};
