/** An instrument in use with its due date; `days` from today, negative where it is late, null where it has none. */
export type DueLine = {
  id: string;
  identification: string;
  designation: string;
  kind: string;
  owner: string;
  place: string;
  nextDue: string | null;
  days: number | null;
};
export type DueWeek = { monday: string; count: number };
/** What comes due over the next year. */
export type DueBoard = {
  today: string;
  /** The first of them, in the order of their dates. */ lines: DueLine[];
  /** How many there are. */ listed: number;
  /** How many of them are late. */ overdue: number;
  /** Instruments that come due after that. */ later: number;
  weeks: DueWeek[];
  owners: string[];
  places: string[];
};
