import { kindOfSet } from '../src/core/evaluate/evaluate';
import type { ProcedureDocument } from '../src/core/procedure/document-schema';
import { evaluationIn } from '../src/core/run/run-results';
import { nextItem } from '../src/core/run/next-step';
import { runState } from '../src/core/run/run-state';
import { instrumentSnapshot } from '../src/service/run-service';
import { benchTruth } from './bench';
import type { DemoFamily } from './family';
import { seededRandom } from './random';
import { instrumentRow, standardsOn } from './register-rows';
import { simulateRun } from './simulated-run';

/** How many results there were, and how many intervals held the truth: of all, and of each kind of result. */
export type Coverage = { results: number; inside: number; of: Record<string, { results: number; inside: number }> };

const day = '2026-11-24';

/**
 * Plays as-found sets of a family through the real rules, with standards and influences off by what their budgets allow, and counts
 * the results whose interval holds the truth: those of series whose readings follow from a true value of the result.
 */
export function hiddenCoverage(family: DemoFamily, procedure: ProcedureDocument, runs: number, seed = 1): Coverage {
  const demo = family.instruments[0]!;
  const start = {
    instrument: instrumentSnapshot(instrumentRow(demo)),
    standards: standardsOn(demo, day, day),
    procedure,
    choices: demo.choices,
    timeZone: 'UTC',
  };
  const count: Coverage = { results: 0, inside: 0, of: {} };
  for (let run = 0; run < runs; run++) {
    const random = seededRandom(seed * 100_003 + run);
    const truth = benchTruth(family.bench, true)(random);
    const events = simulateRun(start, truth, {
      start: `${day}T07:00:00.000Z`,
      technician: 'Ada',
      reviewer: null,
      certificate: '',
      random,
      issued: (_state, event) => event,
      isEnough: (state) => nextItem(state)?.type === 'judge' || kindOfSet(state.sets.at(-1)!.id) !== 'as-found',
    });
    const state = runState(events);
    for (const entry of evaluationIn(state, 'as-found').series)
      for (const point of entry.points)
        for (const [symbol, result] of Object.entries(point.results)) {
          const formulas = Object.values(family.bench.series[entry.id] ?? {});
          // A result against the first point says nothing at that point itself.
          const doc = procedure.series.find((s) => s.id === entry.id)!.results.find((r) => r.symbol === symbol);
          if (point.id === 'p1' && JSON.stringify(doc).includes('at.first.')) continue;
          if (!formulas.some((f) => !f.file && new RegExp(`@${symbol}\\b`).test(f.is))) continue;
          const slot = {
            set: 'as-found',
            series: entry.id,
            ...(entry.each == null ? {} : { each: entry.each }),
            point: point.id,
            ...(point.sweep == null ? {} : { sweep: point.sweep }),
            repeat: 1,
            observation: '',
          };
          const isInside = Math.abs(result.estimate - truth.trueValue(state, slot, symbol)) <= result.expandedUncertainty;
          for (const counted of [count, (count.of[`${entry.id}.${symbol}`] ??= { results: 0, inside: 0 })]) {
            counted.results++;
            if (isInside) counted.inside++;
          }
        }
  }
  return count;
}
