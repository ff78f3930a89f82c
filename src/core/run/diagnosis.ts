import { weighedAtBench, type Weighed } from '../diagnose/diagnose';
import { causes, type Cause, type DiagnoseQuestion } from '../diagnose/diagnose-schema';
import { mean, pooledStandardDeviation, standardDeviation } from '../statistics/moments';
import { cochranTest } from '../statistics/outliers';
import { errorsTogether, type ErrorsTogether } from './errors-together';
import { failuresIn, failureSentence, type Failure } from './failures';
import { mainResult, type JudgedPoint } from './judged-points';
import { instanceTitle } from './place-words';
import { evaluationIfAny } from './run-results';
import { differenceInShownUnit, signed, significant, withPrintedUnit } from './shown-value';
import type { RunState } from '../state/run-state';

/** A cause of what the errors look like, as probable as the readings make it. */
export type Look = {
  cause: Cause;
  probability: number;
  /** The errors that it is read from. */ of: ErrorsTogether;
  /** Where it shows, for one that shows at some points only. */ at: JudgedPoint[];
  /** What it adds to each reading asked about, in the unit of the result. */ effect: number[];
  /** Sizes in the unit of the result. */ size: Record<string, number>;
  /** In words of the trade. */ sentence: string;
};

export type Diagnosis = {
  kind:
    | 'too-few'
    | 'quiet'
    | 'irregular'
    | 'elsewhere'
    | 'offset'
    | 'slope'
    | 'curve'
    | 'odd-point'
    | 'exchanged'
    | 'hysteresis'
    | 'scatter'
    | 'drift'
    | 'not-settled'
    | 'factor';
  /** One plain sentence for the person at the bench. */
  sentence: string;
  /** The point that scatters, and by how much (s) beside what all points have together, in words. */
  scatter?: string;
  /** All causes that the errors could show, most probable first; nothing but its usual scatter (`none`) among them. */
  looks: Look[];
  /** Standard deviation of the readings less what the first cause adds to them; null where nothing is said. */
  unexplained: number | null;
};

const kinds: Record<Cause, Diagnosis['kind']> = {
  none: 'irregular',
  offset: 'offset',
  span: 'slope',
  'offset-and-span': 'slope',
  curvature: 'curve',
  hysteresis: 'hysteresis',
  'odd-point': 'odd-point',
  scatter: 'scatter',
  drift: 'drift',
  'not-settled': 'not-settled',
  factor: 'factor',
  exchanged: 'exchanged',
  'nominal-for-certified': 'factor',
};
/** Causes in a few words. */
export const causeTitles: Record<Cause, string> = {
  none: 'Nothing but its usual scatter',
  offset: 'Off by the same everywhere',
  span: 'Grows along the range',
  'offset-and-span': 'Off, and grows along the range',
  curvature: 'Bends along the range',
  hysteresis: 'Up and down differ',
  'odd-point': 'One point stands apart',
  scatter: 'Scatters more than it should',
  drift: 'Moved while it was read',
  'not-settled': 'Read before it had settled',
  factor: 'Another unit, or a slipped point',
  exchanged: 'Standards exchanged',
  'nominal-for-certified': 'Nominal taken for certified',
};
/** Causes that an adjustment may take away; what else is wrong it would only hide. */
const mendable: ReadonlySet<Cause> = new Set(['none', 'offset', 'span', 'offset-and-span', 'curvature']);
/** So many results are looked at: those that use most of their limits. */
const mostLookedAt = 4;

/** How probable it is that no adjustment would take away what the errors show. @example unmendable(diagnose(run, 'as-found')) < 0.05 // true */
export const unmendable = (diagnosis: Diagnosis): number =>
  probabilityOf(
    diagnosis,
    causes.filter((c) => !mendable.has(c)),
  );

/** How probable it is that one of some causes is behind what the errors show. */
export const probabilityOf = ({ looks }: Diagnosis, of: readonly Cause[]): number =>
  looks.reduce((sum, l) => (of.includes(l.cause) ? sum + l.probability : sum), 0);

const told = new WeakMap<object, Diagnosis>();

/**
 * What the errors of a set look like, so that the cheap causes are looked at before anything is adjusted. What failed is named first:
 * a pattern of results that passed never speaks against another result, a statistic or an answer.
 * @example diagnose(run, 'as-found').kind // 'slope'
 */
export function diagnose(state: RunState, set: string): Diagnosis {
  const evaluation = evaluationIfAny(state, set);
  const known = told.get(evaluation);
  if (known && evaluation.series.length > 0) return known;
  const diagnosis = diagnosed(state, set);
  told.set(evaluation, diagnosis);
  return diagnosis;
}

function diagnosed(state: RunState, set: string): Diagnosis {
  const { all, failures, failing } = sorted(state, set);
  const scattering = scatteringIn(state, all);
  const first = failures.length ? `${failureSentence(failures)} ` : '';
  if (failing?.length === 0)
    return {
      kind: 'elsewhere',
      sentence: first.trim(),
      looks: [],
      unexplained: null,
      ...(scattering && { scatter: scattering.scatter }),
    };
  const { looks, unexplained } = weighed(state, failing ?? all);
  const top = looks[0];
  const scatters = scattering && { scatter: scattering.scatter };
  const isNone = top === undefined || top.cause === 'none';
  if (isNone && scattering) return { kind: 'scatter', sentence: first + scattering.sentence, ...scatters, looks, unexplained };
  if (!top) return { kind: failures.length ? 'irregular' : 'too-few', sentence: first.trim(), looks, unexplained };
  if (isNone && failures.length === 0 && Math.max(...all.map(greatestUse)) < quietBelow)
    return { kind: 'quiet', sentence: 'All errors are small and show no pattern: leave it as it is.', looks, unexplained };
  // Where nothing but the instrument's own small differences shows, what failed is said, and no more.
  const words = isNone && failures.length > 0 ? '' : top.sentence;
  const sentence = [first.trim(), words, words && doubt(looks), scattering?.sentence].filter(Boolean).join(' ');
  return { kind: kinds[top.cause], sentence, ...scatters, looks, unexplained };
}

/** What else may be behind it, where the first cause is not all but sure. */
function doubt([first, second]: readonly Look[]): string {
  if (!first || !second || first.probability >= sure || first.cause === 'none') return '';
  const title = causeTitles[second.cause];
  return `Not sure: “${title}” has ${Math.round(100 * second.probability)} %.`;
}
const sure = 0.8;

/** The result that a run is about, where one of its points scatters. */
function scatteringIn(state: RunState, all: readonly ErrorsTogether[]): ReturnType<typeof scatterIn> {
  const main = mainResult(state);
  const ofMain = all.filter((g) => g.series.id === main?.series.id && g.result.symbol === main.result.symbol);
  // All instances together where they have the same limits, else the one that uses most of its own.
  const of = ofMain.find((g) => g.each === null) ?? lookedAt(ofMain)[0];
  return of ? scatterIn(of) : null;
}

/**
 * The point of a set that scatters far more than the others, in words; undefined where none does.
 * @example scatterOf(run, 'as-found') // undefined
 */
export const scatterOf = (state: RunState, set: string): string | undefined =>
  scatteringIn(state, errorsTogether(state, set))?.scatter;

const quietBelow = 1 / 4;

/** Whether something that failed is among errors looked at together, or is told from them. */
const isOf = (f: Failure, g: ErrorsTogether): boolean =>
  f.place.series === g.series.id &&
  (f.of === g.result.symbol
    ? g.all.some((p) => p.place.point === f.place.point && p.place.each === f.place.each && p.place.sweep === f.place.sweep)
    : g.series.aggregates.some((a) => a.id === f.of) && (g.each === null || (f.place.each ?? null) === g.each));

const halfOf = (p: JudgedPoint): number => (p.result.limits!.upper! - p.result.limits!.lower!) / 2;
const errorOf = (p: JudgedPoint): number => p.value - (p.result.limits!.upper! + p.result.limits!.lower!) / 2;
const greatestUse = (g: ErrorsTogether): number => Math.max(0, ...g.points.map((p) => Math.abs(errorOf(p)) / halfOf(p)));

/** What was weighed, by the question: each is asked many times, and may be answered elsewhere first. */
const answered = new Map<string, Weighed[]>();
const mostAnswered = 200;

/** Takes in an answer that was worked out beside the page. */
export function takeAnswer(question: DiagnoseQuestion, answer: Weighed[]): void {
  if (answered.size >= mostAnswered) answered.delete(answered.keys().next().value!);
  answered.set(JSON.stringify(question), answer);
}

function answerTo(question: DiagnoseQuestion): Weighed[] {
  const known = answered.get(JSON.stringify(question));
  if (known) return known;
  const answer = weighedAtBench(question);
  takeAnswer(question, answer);
  return answer;
}

/**
 * What `diagnose` will ask of the errors of a set and nobody has worked out yet.
 * @example openQuestions(run, 'as-found').length <= 1 // true
 */
export function openQuestions(state: RunState, set: string): DiagnoseQuestion[] {
  const { failing, all } = sorted(state, set);
  return lookedAt(failing ?? all)
    .map((g) => g.question)
    .filter((q) => !answered.has(JSON.stringify(q)));
}

/** The errors of a set; of those where something failed, where anything did. */
function sorted(state: RunState, set: string): { all: ErrorsTogether[]; failing: ErrorsTogether[] | null; failures: Failure[] } {
  const failures = failuresIn(state, set);
  const all = errorsTogether(state, set);
  return { all, failures, failing: failures.length ? all.filter((g) => failures.some((f) => isOf(f, g))) : null };
}

const lookedAt = (all: readonly ErrorsTogether[]): ErrorsTogether[] =>
  [...all].sort((a, b) => greatestUse(b) - greatestUse(a)).slice(0, mostLookedAt);

/**
 * One cause at the most, in one of the results or in all instances of one alike: each weighed against none by what its own readings say.
 */
function weighed(state: RunState, all: readonly ErrorsTogether[]): Pick<Diagnosis, 'looks' | 'unexplained'> {
  const asked = lookedAt(all);
  if (asked.length === 0) return { looks: [], unexplained: null };
  const answers = asked.map((of) => ({ of, causes: answerTo(of.question) }));
  // What all instances have in common is as probable as what one of them has, before anything is read.
  const isWhole = (g: ErrorsTogether) => g.each === null;
  const wholes = all.filter(isWhole).length;
  const shareOf = (g: ErrorsTogether) =>
    wholes === 0 || wholes === all.length ? 1 / all.length : isWhole(g) ? 1 / (2 * wholes) : 1 / (2 * (all.length - wholes));
  const told = answers.flatMap(({ of, causes }) => {
    const none = causes.find((c) => c.cause === 'none')!;
    return causes
      .filter((c) => c.cause !== 'none')
      .map((c) => ({ of, c, log: c.prior + Math.log(shareOf(of)) + c.evidence - none.evidence }));
  });
  const sound = answers[0]!.causes.find((c) => c.cause === 'none')!;
  const hypotheses = [{ of: answers[0]!.of, c: sound, log: sound.prior }, ...told].filter((h) => h.log > -Infinity);
  const greatest = Math.max(...hypotheses.map((h) => h.log));
  const total = hypotheses.reduce((sum, h) => sum + Math.exp(h.log - greatest), 0);
  const looks = hypotheses
    .map(({ of, c, log }) => lookOf(state, of, c, Math.exp(log - greatest) / total))
    .sort((a, b) => b.probability - a.probability);
  const first = looks[0]!;
  const errors = first.of.question.points.flatMap((p) => p.readings.map((r) => r.error));
  const rest = errors.map((e, i) => e - first.effect[i]!);
  return { looks, unexplained: rest.length > 1 ? standardDeviation(rest) : null };
}

function lookOf(state: RunState, of: ErrorsTogether, c: Weighed, probability: number): Look {
  const at = (c.at ?? []).map((id) => of.points[Number(id)]!);
  const size = c.size ?? {};
  const look = { cause: c.cause, probability, of, at, effect: c.effect, size };
  return { ...look, sentence: sentenceOf(state, look) };
}

function sentenceOf(state: RunState, { cause, of, at, size, effect }: Omit<Look, 'sentence'>): string {
  const say = (value: number) =>
    withPrintedUnit(significant(differenceInShownUnit(Math.abs(value), of.unit, of.shownIn), 2), of.shownIn);
  const sayOf = (value: number) =>
    signed(withPrintedUnit(significant(differenceInShownUnit(value, of.unit, of.shownIn), 2), of.shownIn));
  const means = state.procedure.looks?.means?.[cause];
  const adding = means ? ` Most often: ${means}` : '';
  const whose = of.each === null ? '' : `${instanceTitle(state, of.series.id, of.each)}: `;
  const values = of.points.map(errorOf);
  const [first] = at;
  const words = (): string => {
    switch (cause) {
      case 'none':
        return 'Nothing shows beyond the small differences that every instrument has.';
      case 'offset': {
        if (of.points.length === 1) return '';
        const worst = worstLeft(
          of.points,
          values.map((v) => v - size['offset']!),
          sayOf,
        );
        return `All errors lie near ${sayOf(size['offset']!)}: ${of.unit === '%' ? 'alike at all points' : 'a constant offset'}. Taking it away would leave at most ${worst}.`;
      }
      case 'offset-and-span':
      case 'span': {
        const offset = mean(values);
        const worst = worstLeft(
          of.points,
          values.map((v) => v - offset),
          sayOf,
        );
        const [low, high] = ends(of, effect);
        const changes = `changes by ${sayOf(high - low)} over the range, in a line: taking a constant away would still leave ${worst}.`;
        return cause === 'span' ? `The error ${changes}` : `The error is ${sayOf(offset)} on the average and ${changes}`;
      }
      case 'curvature':
        return `The error bends over the range, by ${say(size['curvature']!)} in the middle: no line takes that away.`;
      case 'hysteresis':
        return `Going down it reads ${sayOf(size['hysteresis']!)} against going up, in the middle of the range.`;
      case 'odd-point':
        return `${first!.title} stands apart at ${sayOf(errorOf(first!))}, where the others lead one to expect ${sayOf(errorOf(first!) - size['displacement']!)}: before adjusting, check what it was compared with there and read it again.`;
      case 'exchanged':
        return `${at.map((p) => p.title).join(' and ')} look exchanged: compare the markings of what was used there with the record.`;
      case 'scatter':
        return `Repeats lie ${size['ratio']!.toFixed(1)} times as far apart as they should: look for the cause before adjusting.`;
      case 'drift':
        return `It moved by ${sayOf(size['drift']!)} while it was read, from the first reading to the last: let it stand and read again.`;
      case 'not-settled':
        return `First readings lag by ${say(size['displacement']!)} behind those that follow: it was read before it had settled.`;
      case 'factor':
      case 'nominal-for-certified':
        return 'The readings are in another unit, or in other steps, than they should be.';
    }
  };
  const said = words();
  return said === '' ? adding.trim() : `${whose}${said}${adding}`;
}

const worstLeft = (points: readonly JudgedPoint[], left: readonly number[], say: (v: number) => string): string => {
  const i = left.reduce((w, v, k) => (Math.abs(v) > Math.abs(left[w]!) ? k : w), 0);
  return `${say(left[i]!)} (${points[i]!.title})`;
};

/** What a cause adds at the lowest and at the highest point. */
function ends(of: ErrorsTogether, effect: readonly number[]): [number, number] {
  const x = of.owners.map((i) => of.points[i]!.nominal ?? 0);
  return [effect[x.indexOf(Math.min(...x))]!, effect[x.indexOf(Math.max(...x))]!];
}

/** A point whose repeats scatter far more than those of the others, or by a great part of what is allowed; null where none does. */
export function scatterIn({
  all: points,
  unit,
  shownIn,
}: Pick<ErrorsTogether, 'all' | 'unit' | 'shownIn'>): { sentence: string; scatter: string } | null {
  if (points.length < 4) return null;
  const shown = (value: number) => withPrintedUnit(significant(differenceInShownUnit(value, unit, shownIn), 2), shownIn);
  const jump = stepOf(points.map((p) => p.repeats));
  const steps = points.map((p) => p.resolution ?? jump);
  // Repeats that differ by a step of the display at the most do not scatter: the display rounds.
  const repeats = points.map((p, i) => (spread(p.repeats) > steps[i]! * 1.01 ? p.repeats : p.repeats.map(() => mean(p.repeats))));
  const scatterAt = (i: number) =>
    `${points[i]!.title} (s = ${shown(standardDeviation(repeats[i]!))}; over all points ${shown(pooledStandardDeviation(repeats.filter((r) => r.length > 1))!.standardDeviation)})`;
  const cochran = repeats.every((r) => r.length > 1) ? cochranTest(repeats, 0.01, Math.max(...steps)) : null;
  // Nor is one accused whose display shows a step to either side of its middle at the most.
  if (cochran?.isOutlier && spread(repeats[cochran.index]!) > steps[cochran.index]! * 2.01)
    return {
      sentence: `Repeats at ${points[cochran.index]!.title} scatter far more than at the other points (Cochran’s test at 1 %), so their scatter should not be pooled: strike these readings out with the reason and read the point again. If it stays, look for the cause there before anything else.`,
      scatter: scatterAt(cochran.index),
    };
  const scatters = repeats.map((r) => (r.length > 1 ? standardDeviation(r) : 0));
  const used = (i: number) => scatters[i]! / halfOf(points[i]!);
  const widest = scatters.reduce((w, _, i) => (used(i) > used(w) ? i : w), 0);
  return used(widest) > 1 / 3
    ? {
        sentence: `Repeats at ${points[widest]!.title} scatter by ${shown(scatters[widest]!)} (s): look for the cause before adjusting.`,
        scatter: scatterAt(widest),
      }
    : null;
}

/** The step in which repeats differ, where all their differences are a few of one: a display that nobody stated; else 0. */
function stepOf(repeats: readonly number[][]): number {
  const gaps = repeats.flatMap((r) => {
    const sorted = [...r].sort((a, b) => a - b);
    return sorted.slice(1).map((v, i) => v - sorted[i]!);
  });
  const greatest = Math.max(0, ...gaps);
  const step = Math.min(...gaps.filter((g) => g > greatest * 1e-6));
  const isCounted = gaps.every((g) => Math.abs(g / step - Math.round(g / step)) < 0.02);
  return Number.isFinite(step) && isCounted && greatest / step < mostSteps ? step : 0;
}
/** Differences of more steps than this may be multiples of anything. */
const mostSteps = 20;

/** From the least to the greatest. */
const spread = (values: readonly number[]): number => (values.length ? Math.max(...values) - Math.min(...values) : 0);
