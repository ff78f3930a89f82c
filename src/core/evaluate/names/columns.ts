import type { ProcedureDocument, SeriesDocument } from '../../procedure/document-schema';
import { DocumentError, NoColumn } from '../../faults';
import { isNum, numberOf, type Scope, type Setting } from '../setting';

/** Columns of items of a standard, beside its declared properties. */
const itemColumns = ['nominal', 'certified', 'expandedUncertainty', 'coverageFactor'];

/** Columns that the items of a use have. */
export function itemColumnsOf(doc: ProcedureDocument, series: SeriesDocument, use: string): string[] {
  const role = doc.standards.find((r) => r.role === (series.uses[use]?.role ?? use));
  return [...itemColumns, ...(role?.properties.map((p) => p.id) ?? [])];
}

/** Columns of a list of the instrument. */
export const listColumns = (doc: ProcedureDocument, list: string): string[] =>
  doc.instrument.lists.find((l) => l.id === list)?.columns.map((c) => c.id) ?? [];

/** Columns of rows that are being worked out now: one that hangs on itself is told. */
const beingRead = new WeakMap<object, Set<string>>();

/** A column of a row as a number: of a formula its value where the row stands. @throws NoColumn when the row has none */
export function columnOf(s: Setting, row: Record<string, unknown>, column: string, what: string, scope: Scope): number {
  const value = row[column];
  if (typeof value === 'number') return value;
  if (typeof value === 'string' && value.trim() !== '' && Number.isFinite(Number(value))) return Number(value);
  if (!isNum(value)) throw new NoColumn(`${what}.${column}`);
  const reading = beingRead.get(row) ?? new Set<string>();
  beingRead.set(row, reading);
  if (reading.has(column)) throw new DocumentError(`${what}.${column} depends on itself.`, scope.path);
  reading.add(column);
  try {
    return numberOf(s, value, scope);
  } finally {
    reading.delete(column);
  }
}
