import { dueStanding, type DueStanding } from '../traceability/standing';
import type { RunState } from '../state/run-state';

/** What is laid out before the bench is taken: the standards of the run with their due dates, and what the procedure names. */
export type KitList = {
  standards: { role: string; identification: string; designation: string; due: string | null; standing: DueStanding | null }[];
  parts: { title: string; number: string }[];
  things: string[];
};

/** @param today ISO day by which due dates are judged @example kitOf(run, '2026-11-24').standards.length // 1 */
export function kitOf(state: RunState, today: string): KitList {
  const { procedure, instrument, standards } = state;
  return {
    standards: procedure.standards.flatMap((role) =>
      (standards[role.role] ?? []).map(({ document: d }) => ({
        role: role.title,
        identification: d.identification,
        designation: d.designation,
        due: d.certificate?.due ?? null,
        standing: d.certificate?.due ? dueStanding(d.certificate.due, today) : null,
      })),
    ),
    parts: procedure.instrument.parts.flatMap((p) =>
      instrument.parts[p.id] ? [{ title: p.title, number: instrument.parts[p.id]! }] : [],
    ),
    things: procedure.kit ?? [],
  };
}
