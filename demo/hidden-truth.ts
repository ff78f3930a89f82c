import { isDetermined } from '../src/core/evaluate/undetermined';
import type { Case } from '../src/core/evaluate/case-schema';
import { evaluate } from '../src/core/evaluate/evaluate';
import type { Evaluation } from '../src/core/evaluate/evaluation';
import { DocumentError } from '../src/core/faults';
import type { ProcedureDocument } from '../src/core/procedure/document-schema';
import { nextItem } from '../src/core/run/next-step';
import { caseOf } from '../src/core/state/run-case';
import { evaluationIn } from '../src/core/run/run-results';
import type { RunState, Slot } from '../src/core/state/run-state';
import { instrumentSnapshot } from '../src/service/run-service';
import { benchTruth, type Bench, type BenchTruth } from '../src/bench/bench';
import type { HiddenBench } from '../src/bench/works/family';
import { seededRandom } from '../src/bench/random';
import { instrumentRow, standardsOn } from '../src/bench/works/register-rows';
import { simulateRun } from '../src/bench/simulated-run';

/** How many results there were, and how many intervals held the truth. */
export type Share = { results: number; inside: number };
/** Of all as found and as left, and of each kind of result as found. */
export type Coverage = Share & { left: Share & { /** Runs that had any. */ runs: number }; of: Record<string, Share> };

/** A result with what is true of it, which nobody at the bench knows. */
export type Held = { kind: string; series: string; place: Slot; symbol: string; estimate: number; U: number; truth: number };

const day = '2026-11-24';

/** Whether the readings of a series follow from a true value of a result. */
const isTold = (bench: Bench, series: string, symbol: string): boolean =>
  Object.values(bench.series[series] ?? {}).some((f) => !f.file && new RegExp(`@${symbol}\\b`).test(f.is));

/** The results of a set that is read, with the truth: those of series whose readings follow from a true value of the result. */
function heldIn(state: RunState, set: string, bench: Bench, truth: BenchTruth): Held[] {
  return evaluationIn(state, set).series.flatMap((entry) =>
    entry.points.flatMap((point) =>
      Object.entries(point.results).flatMap(([symbol, result]): Held[] => {
        if (!isDetermined(result) || !isTold(bench, entry.id, symbol)) return [];
        // A result against the first point says nothing at that point itself.
        const doc = state.procedure.series.find((s) => s.id === entry.id)!.results.find((r) => r.symbol === symbol);
        if (point.id === 'p1' && JSON.stringify(doc).includes('at.first.')) return [];
        const place: Slot = {
          set,
          series: entry.id,
          ...(entry.each == null ? {} : { each: entry.each }),
          point: point.id,
          ...(point.sweep == null ? {} : { sweep: point.sweep }),
          repeat: 1,
          observation: '',
        };
        const { estimate, expandedUncertainty: U } = result;
        return [
          {
            kind: `${entry.id}.${symbol}`,
            series: entry.id,
            place,
            symbol,
            estimate,
            U,
            truth: truth.trueValue(state, place, symbol),
          },
        ];
      }),
    ),
  );
}

/** Whoever has adjusted so often stops, and asks somebody. */
const mostSets = 4;

/** A run played to its end at a bench where standards and influences are off by what their budgets allow. */
export type PlayedTruth = { found: Held[]; left: Held[]; /** What was read as found. */ asFound: Case };

/**
 * Plays a run through the real rules: to the judgement as found, or with an instrument that has gone wrong to its certificate, with
 * the adjustment where there is one.
 */
export function playHidden(
  { instrument: demo, bench }: HiddenBench,
  procedure: ProcedureDocument,
  seed: number,
  isSpoilt: boolean,
): PlayedTruth {
  const random = seededRandom(seed);
  const truth = benchTruth(bench, true)(random);
  if (isSpoilt) truth.spoil();
  const seen = new Map<string, Held[]>();
  let asFound: Case | null = null;
  const start = {
    instrument: instrumentSnapshot(instrumentRow(demo)),
    standards: standardsOn(demo, day, day),
    procedure,
    choices: demo.choices,
    timeZone: 'UTC',
  };
  simulateRun(start, truth, {
    start: `${day}T07:00:00.000Z`,
    technician: 'Ada',
    reviewer: null,
    certificate: 'C26-0001',
    random,
    issued: (_state, event) => event,
    isEnough: (state) => {
      // What is true is told before anything is adjusted.
      const item = nextItem(state);
      if (item?.type === 'judge' && !seen.has(item.set)) {
        seen.set(item.set, heldIn(state, item.set, bench, truth));
        asFound ??= caseOf(state, item.set);
      }
      return state.sets.length > mostSets || (!isSpoilt && seen.size > 0);
    },
  });
  const left = [...seen].filter(([set]) => set.startsWith('as-left')).at(-1)?.[1] ?? [];
  return { found: seen.get('as-found') ?? [], left, asFound: asFound! };
}

const isInside = ({ estimate, U, truth }: Held): boolean => Math.abs(estimate - truth) <= U;
const add = (to: Share, held: readonly Held[]): void => {
  to.results += held.length;
  to.inside += held.filter(isInside).length;
};

/** Every so many runs the instrument has gone wrong, and the run is played to its certificate. */
const wholeEvery = 4;

/** Plays runs of a family and counts the intervals that hold the truth. */
export function hiddenCoverage(bench: HiddenBench, procedure: ProcedureDocument, runs: number, seed = 1): Coverage {
  const count: Coverage = { results: 0, inside: 0, left: { results: 0, inside: 0, runs: 0 }, of: {} };
  for (let run = 0; run < runs; run++) {
    const { found, left } = playHidden(bench, procedure, seed * 100_003 + run, run % wholeEvery === 1);
    add(count, found);
    add(count.left, left);
    if (left.length > 0) count.left.runs++;
    for (const held of found) add((count.of[held.kind] ??= { results: 0, inside: 0 }), [held]);
  }
  return count;
}

/** A document with the sign of one quantity of one result turned round. */
export function withWrongSign(procedure: ProcedureDocument, series: string, symbol: string, quantity: string): ProcedureDocument {
  const name = new RegExp(`(?<![\\w.])${quantity}(?![\\w.(])`, 'g');
  const turned = (text: string) => text.replace(name, `(-${quantity})`);
  return {
    ...procedure,
    series: procedure.series.map((s) =>
      s.id !== series
        ? s
        : {
            ...s,
            results: s.results.map((r) =>
              r.symbol !== symbol
                ? r
                : { ...r, model: turned(r.model), where: r.where?.map((w) => ({ ...w, is: turned(w.is) })) },
            ),
          },
    ),
  };
}

export type WrongSign = { where: string; moved: number; stillInside: number };

function evaluatedOrRefused(procedure: ProcedureDocument, given: Case): Evaluation | null {
  try {
    return evaluate(procedure, given);
  } catch (error) {
    if (error instanceof DocumentError) return null;
    throw error;
  }
}

/**
 * What a wrong sign does to what was read as found: for each quantity of each result, how many results it moves by more than three
 * times their expanded uncertainty, and how many of those still hold the truth. A sign that moves nothing so far cannot be seen by
 * anybody at a bench.
 */
export function wrongSigns(played: readonly PlayedTruth[], procedure: ProcedureDocument): WrongSign[] {
  const kinds = new Map(played.flatMap((p) => p.found.map((h) => [h.kind, h] as const)));
  return [...kinds.values()].flatMap(({ series, symbol, kind }) => {
    const doc = procedure.series.find((s) => s.id === series)!.results.find((r) => r.symbol === symbol)!;
    return doc.quantities.map((q): WrongSign => {
      const wrong = withWrongSign(procedure, series, symbol, q.symbol);
      let [moved, stillInside] = [0, 0];
      for (const { found, asFound } of played) {
        const own = found.filter((h) => h.kind === kind);
        const answer = evaluatedOrRefused(wrong, asFound);
        // It leads where no function holds: then everybody is told.
        if (!answer) moved += own.length;
        for (const held of answer ? own : []) {
          const { each, point, sweep } = held.place;
          const entry = answer!.series.find((s) => s.id === series && (s.each ?? undefined) === each);
          const result = entry?.points.find((p) => p.id === point && (p.sweep ?? undefined) === sweep)?.results[symbol];
          if (!result || !isDetermined(result) || Math.abs(result.estimate - held.estimate) < 3 * held.U) continue;
          moved++;
          if (isInside({ ...held, estimate: result.estimate, U: result.expandedUncertainty })) stillInside++;
        }
      }
      return { where: `${kind}: ${q.symbol}`, moved, stillInside };
    });
  });
}
