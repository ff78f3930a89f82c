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

/** What a quick check of an instrument needs. */
export type QuickStart = {
  /** The run that is on the bench for it; null: none. */ open: string | null;
  purpose: 'calibration' | 'quick' | null;
  procedure: {
    id: string;
    title: string;
    statement: string | null;
    how: string | null;
    /** What to rule out when it gives an alarm: the check standard's own causes first. */ causes: {
      title: string;
      instruction: string;
    }[];
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
};
