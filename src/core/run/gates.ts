import type { PlanItem } from '../plan/plan-schema';
import type { EvaluatedAggregate, EvaluatedResult } from '../evaluate/evaluation';
import type { Undetermined } from '../evaluate/undetermined';
import { isDetermined } from '../evaluate/undetermined';
import { unitIn, withUnit } from '../steps/step-context';
import { seriesOf } from './place-words';
import { entriesOf, evaluationIfAny } from './run-results';
import type { RunState } from '../state/run-state';
import { limitWords } from './shown-value';

export type GateStanding = { passes: boolean; sentence: string };

type Judged = Pick<EvaluatedResult, 'limits' | 'verdict'> & { value: number };

const rounded = (value: number): number => Number(value.toPrecision(4));

/** Whether what has to pass before the plan goes on does, in words with its limits. */
export function gateStanding(state: RunState, item: Extract<PlanItem, { type: 'gate' }>): GateStanding {
  const series = seriesOf(state, item.series)!;
  const doc = [...series.results, ...series.aggregates].find((x) => ('symbol' in x ? x.symbol : x.id) === item.id)!;
  const unit = unitIn(state, doc.unit, item);
  const all = judgedOf(state, item);
  const found = all.filter(isDetermined);
  const untold = all.find((j) => !isDetermined(j));
  if (untold && !isDetermined(untold)) return { passes: false, sentence: `${doc.title} cannot be told: ${untold.why}` };
  const judged = found.find((j) => j.verdict === 'fail' || j.verdict === 'conditional-fail') ?? found[0];
  if (!judged) return { passes: false, sentence: `${doc.title} cannot be told: nothing was read for it.` };
  const { lower, upper } = judged.limits ?? {};
  const limits =
    lower === undefined || lower === 0
      ? `at most ${withUnit(rounded(upper ?? Infinity), unit)}`
      : upper === undefined
        ? `at least ${withUnit(rounded(lower), unit)}`
        : limitWords({ lower: rounded(lower), upper: rounded(upper) }, unit, unit);
  const passes = judged.verdict === 'pass' || judged.verdict === 'conditional-pass';
  return {
    passes,
    sentence: `${doc.title}: ${withUnit(rounded(judged.value), unit)}; ${passes ? 'allowed is' : 'the procedure wants'} ${limits}.`,
  };
}

function judgedOf(state: RunState, item: Extract<PlanItem, { type: 'gate' }>): (Judged | Undetermined)[] {
  const entries = entriesOf(evaluationIfAny(state, item.set), item.series!).filter(
    (e) => item.each === undefined || (e.each ?? item.each) === item.each,
  );
  const results = entries.flatMap((e) =>
    e.points
      .filter(
        (p) =>
          (item.point === undefined || p.id === item.point) &&
          (item.sweep === undefined || (p.sweep ?? item.sweep) === item.sweep),
      )
      .flatMap((p): (Judged | Undetermined)[] => {
        const r = p.results[item.id];
        return r ? [isDetermined(r) ? { ...r, value: r.estimate } : r] : [];
      }),
  );
  const aggregates = entries.flatMap((e) =>
    e.aggregates.filter(
      (a: EvaluatedAggregate) =>
        a.id === item.id &&
        (item.point === undefined || (a.at ?? item.point) === item.point) &&
        (item.sweep === undefined || (a.sweep ?? item.sweep) === item.sweep),
    ),
  );
  return [...results, ...aggregates];
}
