import type { ProcedureDocument, SeriesDocument } from '../../procedure/document-schema';
import { Absent } from '../../faults';
import type { Scope, Setting } from '../setting';

/** What a formula of a document can see where it stands. */
export type View = {
  series: SeriesDocument | null;
  /** Names of the moment, such as an aggregate's own id in its tolerance. */ own?: readonly string[];
  /** Whether observations, results and the like of the series are offered. */ readings?: boolean;
  /** Computed values before this one, where only earlier ones may be named. */ computedBefore?: number;
};

/** The names that begin with one word, such as `condition.air`: when they are offered, what they are, and how a person says them. */
export type Head = {
  /** What is wrong with a name where it stands in a document; null where something offers it. */
  problem: (doc: ProcedureDocument, rest: string[], view: View, name: string) => string | null;
  /** @throws Absent when it cannot be had (yet), LeftOut when it is left out, DocumentError when nothing offers it */
  value: (s: Setting, rest: string[], scope: Scope, name: string) => number;
  words: (rest: string[]) => string;
  /** Whether one more reading, condition or step of the set may make it another. */ isGrowing?: true;
};

export const nobody = (name: string): string => `"${name}" is a name that nothing offers here.`;

/** An id as words. @example plainId('frontLeft') // 'front left' */
export const plainId = (id: string): string =>
  [...id].map((c, i) => (/[A-Z]/.test(c) && /[a-z0-9]/.test(id[i - 1] ?? '') ? ` ${c.toLowerCase()}` : c)).join('');
export const lastWord = (rest: string[]): string => plainId(rest.at(-1)!);

export const known = (value: number | undefined, what: string, waitsFor: 'reading' | 'record' = 'reading'): number => {
  if (value === undefined || Number.isNaN(value)) throw new Absent(what, waitsFor);
  return value;
};
