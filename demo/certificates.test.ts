import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { certificateOf, type Certificate } from '../src/core/certificate/certificate';
import type { CertificateCell } from '../src/core/certificate/certificate-tables';
import { convertDifference } from '../src/core/quantity/unit';
import { readDocument } from '../src/core/document/read-document';
import { pairsOfRun } from '../src/core/run/run-pairs';
import { evaluationIn } from '../src/core/run/run-results';
import type { RunState } from '../src/core/state/run-state';
import { summarizeRun } from '../src/core/run/run-summary';
import { instrumentSnapshot } from '../src/service/run-service';
import { instruments } from '../src/bench/works/instruments';
import { seededRandom } from '../src/bench/random';
import { instrumentRow, standardsOn } from '../src/bench/works/register-rows';
import { simulateRun } from '../src/bench/simulated-run';
import { laboratory } from './works';

/** What the certificate of any family says must be what its run has, printed as numbers with their uncertainty are printed. */

const today = '2026-11-24';

function played(demo: (typeof instruments)[number], seed: number): RunState {
  const random = seededRandom(seed);
  const truth = demo.truth(random);
  truth.ages(random);
  const start = {
    instrument: instrumentSnapshot(instrumentRow(demo)),
    standards: standardsOn(demo, today, today),
    procedure: readDocument(JSON.parse(readFileSync(`procedures/${demo.procedure}.json`, 'utf8'))),
    choices: demo.choices,
    timeZone: 'UTC',
  };
  return simulateRun(start, truth, {
    start: `${today}T07:00:00.000Z`,
    technician: 'Maud Ellery',
    reviewer: null,
    certificate: 'C26-0001',
    random,
    issued: (_state, event) => event,
  }).state;
}

/** A printed number, with a power of ten where it has one. */
function printed(text: string): { value: number; half: number; digits: number } {
  const [mantissa, power] = text.replace('−', '-').split(' × 10') as [string, string | undefined];
  const superscripts = '⁰¹²³⁴⁵⁶⁷⁸⁹';
  const exponent = power ? Number([...power].map((c) => (c === '⁻' ? '-' : superscripts.indexOf(c))).join('')) : 0;
  const decimals = mantissa.split('.')[1]?.length ?? 0;
  const digits = mantissa.replace(/^-?[0.]*/, '').replace('.', '').length;
  return { value: Number(mantissa) * 10 ** exponent, half: 0.5 * 10 ** (exponent - decimals), digits };
}

function checkCell(cell: CertificateCell): void {
  const { value, expandedUncertainty: U } = cell.computed!;
  expect(Number.isFinite(value) && U >= 0).toBe(true);
  const shown = printed(cell.value);
  expect(Math.abs(shown.value - value), `${cell.value} for ${value}`).toBeLessThanOrEqual(
    shown.half * (1 + 1e-6) + 1e-12 * Math.abs(value),
  );
  if (U === 0) return;
  const uncertainty = printed(cell.expandedUncertainty);
  expect(Math.abs(uncertainty.value - U), `${cell.expandedUncertainty} for ${U}`).toBeLessThanOrEqual(
    uncertainty.half * (1 + 1e-6),
  );
  // Two digits, and further ones only where two would not say what was decided.
  expect(uncertainty.digits, cell.expandedUncertainty).toBeLessThanOrEqual(cell.verdict ? 8 : 2);
  // Both stand at one decimal place.
  expect(shown.half / uncertainty.half).toBeCloseTo(1, 6);
}

/** What the run itself gives for a result of a table, whichever set it was read in, in the unit of the table. */
function evaluated(state: RunState, series: string, result: string): { value: number; U: number; k: number }[] {
  return state.procedure.series
    .filter((s) => series.startsWith(s.title))
    .flatMap((s) =>
      s.results
        .filter((r) => r.title === result)
        .flatMap((doc) =>
          state.sets.flatMap((set) =>
            evaluationIn(state, set.id)
              .series.filter((e) => e.id === s.id)
              .flatMap((e) =>
                e.points.flatMap(({ results }) => {
                  const r = results[doc.symbol];
                  if (!r || !('estimate' in r)) return [];
                  const inTable = (x: number) =>
                    typeof doc.unit === 'string' && typeof doc.shownIn === 'string'
                      ? convertDifference(x, doc.unit, doc.shownIn)
                      : x;
                  return [{ value: inTable(r.estimate), U: inTable(r.expandedUncertainty), k: r.coverageFactor }];
                }),
              ),
          ),
        ),
    );
}

/** A cell says what its run gives: value, U and k, each as far as it is printed. */
function checkAgainstRun(cell: CertificateCell, given: ReturnType<typeof evaluated>): void {
  const [value, U, k] = [cell.value, cell.expandedUncertainty, cell.coverageFactor].map(printed);
  const isSaid = (said: ReturnType<typeof printed>, x: number) =>
    Math.abs(said.value - x) <= said.half * (1 + 1e-6) + 1e-9 * Math.abs(x);
  expect(
    given.some((g) => isSaid(value!, g.value) && isSaid(U!, g.U) && isSaid(k!, g.k)),
    `${cell.value} ± ${cell.expandedUncertainty}, k ${cell.coverageFactor}: ${JSON.stringify(given.slice(0, 4))}`,
  ).toBe(true);
}

const bad = new Set(['fail', 'conditional-fail']);

function checkVerdicts(certificate: Certificate): void {
  const found = certificate.tables.flatMap((t) => [...t.rows, ...t.lines].flatMap((r) => r.found?.verdict ?? []));
  if (certificate.asFound.verdict === 'pass') expect(found.filter((v) => bad.has(v))).toEqual([]);
  for (const { rows } of certificate.tables)
    for (const { found: cell, limits } of rows) {
      if (!cell?.verdict || !limits) continue;
      const { value } = cell.computed!;
      const isInside = (limits.lower === null || value >= limits.lower) && (limits.upper === null || value <= limits.upper);
      const shown = printed(cell.value);
      const toPlace = (limit: number) => 2 * shown.half * Math.round(limit / (2 * shown.half));
      const isShownInside =
        (limits.lower === null || shown.value >= toPlace(limits.lower) - 1e-9 * Math.abs(limits.lower)) &&
        (limits.upper === null || shown.value <= toPlace(limits.upper) + 1e-9 * Math.abs(limits.upper));
      expect(isShownInside, `${cell.value} printed for ${value}`).toBe(isInside);
      // A rule that keeps away from the limits may say less of what is inside, never more of what is outside.
      if (cell.verdict === 'pass') expect(isInside, `${value} in ${JSON.stringify(limits)}`).toBe(true);
      if (cell.verdict === 'fail' && isInside) expect(certificate.decisionRule).not.toMatch(/^Simple acceptance/);
    }
}

const one = [...new Map(instruments.map((demo) => [instrumentRow(demo).kind, demo])).values()];

describe(`the certificate of each of ${one.length} families`, () => {
  it.each(one.map((demo) => [instrumentRow(demo).kind, demo] as const))('%s: says what its run has', (_kind, demo) => {
    const state = played(demo, 4711);
    const certificate = certificateOf(state, laboratory);
    expect(JSON.stringify(certificate)).not.toMatch(/undefined|NaN|Infinity|\[object/);
    expect(certificate.tables.length).toBeGreaterThan(0);
    for (const table of certificate.tables) {
      expect(table.rows.length + table.lines.length, table.result).toBeGreaterThan(0);
      const given = evaluated(state, table.series, table.result);
      for (const row of table.rows)
        for (const cell of [row.found, row.left]) {
          if (!cell) continue;
          checkCell(cell);
          checkAgainstRun(cell, given);
        }
    }
    checkVerdicts(certificate);
    // Every number that was evaluated as found and is reported stands in a table.
    const reported = certificate.tables.flatMap((t) => t.rows.flatMap((r) => r.found?.computed!.value ?? []));
    expect(reported.length + certificate.tables.flatMap((t) => t.lines).length).toBeGreaterThan(0);
    expect(certificate.asFound.verdict).toBe(evaluationIn(state, 'as-found').verdict);
    expect(certificate.persons).toMatchObject({ measuredBy: ['Maud Ellery'], finishedBy: 'Maud Ellery', reviewedBy: null });
    expect(certificate.standards.length).toBeGreaterThan(0);
    for (const s of certificate.standards) expect(s.due === '' || s.due >= today, s.identification).toBe(true);
    expect(certificate.next.date > today).toBe(true);
  });
  it.each(one.map((demo) => [instrumentRow(demo).kind, demo] as const))(
    '%s: its history keeps the pairs that were judged',
    (_kind, demo) => {
      const state = played(demo, 4712);
      const { pairs, certificates } = pairsOfRun(state);
      const summary = summarizeRun(state);
      expect(pairs.length).toBeGreaterThan(0);
      expect(certificates.length).toBeGreaterThan(0);
      expect(new Set(pairs.map((p) => p.key)).size).toBe(pairs.length);
      for (const { key, found, left } of pairs)
        for (const m of [found, left]) {
          if (!m) continue;
          expect(Number.isFinite(m.value) && m.expandedUncertainty >= m.standardUncertainty, key).toBe(true);
          expect(m.sharedUncertainty).toBeLessThanOrEqual(m.standardUncertainty * (1 + 1e-12));
          expect(m.lower !== null || m.upper !== null, key).toBe(true);
          // What the rule accepts lies within the limits.
          if (m.acceptLower !== null && m.lower !== null) expect(m.acceptLower).toBeGreaterThanOrEqual(m.lower - 1e-12);
          if (m.acceptUpper !== null && m.upper !== null) expect(m.acceptUpper).toBeLessThanOrEqual(m.upper + 1e-12);
        }
      expect(summary.adjusted).toBe(state.adjusted.length > 0);
      if (!summary.adjusted) expect(pairs.filter((p) => p.left && !p.found && !p.isCheck)).toEqual([]);
    },
  );
});
