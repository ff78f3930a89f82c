import type { CheckChart, CheckStanding } from './quick-checks';
import type { NamedResult } from './visit';

/** A quick check that is wanted, or whose latest gives an alarm. */
export type QuickDue = {
  id: string;
  identification: string;
  designation: string;
  place: string;
  /** The laboratory's day of the last check; null before the first. */ last: string | null;
  /** "each day", "every 8 hours". */ how: string;
  standing: CheckStanding;
};
export type QuickBoard = {
  wanted: QuickDue[];
  /** How many more are wanted than are listed. */ more: number;
  alarms: QuickDue[];
  /** Some are still being worked out. */ isPending: boolean;
};

export type NamedChart = CheckChart & NamedResult;

/** A cause to rule out, with how often a check after looking for it was quiet again. */
export type CheckCause = { id: string; title: string; instruction: string; minutes: number; tried: number; helped: number };

/** What a quick check of an instrument needs. */
export type QuickStart = {
  /** The run that is on the bench for it; null: none. */ open: string | null;
  purpose: 'calibration' | 'quick' | null;
  procedure: {
    id: string;
    title: string;
    statement: string | null;
    how: string | null;
    /** What to rule out when it gives an alarm: the check standard's own causes first. */ causes: CheckCause[];
  } | null;
  standards: {
    role: string;
    title: string;
    standard: { id: string; identification: string; designation: string } | null;
    refusal: string | null;
  }[];
};

/** What was measured with an instrument since its last good check, or is a reference that was used. */
export type InDoubt = { run: string; certificate: string | null; identification: string; day: string };

export type ChecksPage = {
  instrument: { id: string; identification: string; designation: string; place: string };
  today: string;
  charts: NamedChart[];
  standing: CheckStanding;
  start: QuickStart;
  inDoubt: InDoubt[];
  /** The cause that was looked for before the latest check, and whether it was that; null where none was. */
  lookedFor: { title: string; helped: boolean } | null;
};

/** Minutes that looking for a cause takes, where its document does not say. */
export const usualCauseMinutes = 5;

/**
 * Causes in the order in which looking for them pays: what it was here before first; the standard's own before others; then by how
 * often it was that, over the minutes that it takes.
 * @example causesInOrder([]).length // 0
 */
export function causesInOrder<C extends CheckCause & { isStandards: boolean }>(causes: readonly C[]): C[] {
  const pays = ({ tried, helped, minutes }: C) => (2 * (helped + 1)) / (tried + 2) / minutes;
  return causes.toSorted(
    (a, b) => Number(b.helped > 0) - Number(a.helped > 0) || Number(b.isStandards) - Number(a.isStandards) || pays(b) - pays(a),
  );
}
