import type { ProcedureDocument } from '../procedure/document-schema';
import type { Applied } from '../uncertainty/model-compile';
import { isSame } from '../standard/assigned-value';
import { DocumentError } from '../faults';
import { chosenOption, type Scope, type Setting } from './setting';

type Table = ProcedureDocument['tables'][number];

/** The value of a table of the document at x, with its slope: between rows of a linear table; elsewhere it is flat. */
export function tableValue(s: Setting, table: Table, named: string | undefined, x: number, scope: Scope): Applied {
  const index = columnIndex(s, table, named, scope);
  const rows = [...table.rows].sort((a, b) => a[0]! - b[0]!);
  const at = (row: readonly number[]): number => {
    const value = row[index];
    if (value === undefined)
      throw new DocumentError(`The table ${table.id} has no column ${index} in the row of ${row[0]}.`, scope.path);
    return value;
  };
  const same = rows.findIndex((r) => r[0] === x || isSame(r[0]!, x));
  const none = (): never => {
    throw new DocumentError(`The table ${table.id} has no row for ${Number(x.toPrecision(6))}.`, scope.path);
  };
  switch (table.pick) {
    case 'equal':
      return { value: at(rows[same] ?? none()), partials: [0] };
    case 'first-at-least':
      return { value: at(rows[same] ?? rows.find((r) => r[0]! >= x) ?? none()), partials: [0] };
    case 'last-at-most':
      return { value: at(rows[same] ?? rows.filter((r) => r[0]! <= x).at(-1) ?? none()), partials: [0] };
    case 'linear': {
      const slope = (i: number) =>
        i < 0 || i + 1 >= rows.length ? null : (at(rows[i + 1]!) - at(rows[i]!)) / (rows[i + 1]![0]! - rows[i]![0]!);
      if (same >= 0) {
        const sides = [slope(same - 1), slope(same)].filter((v) => v !== null);
        return { value: at(rows[same]!), partials: [sides.length ? sides.reduce((a, b) => a + b, 0) / sides.length : 0] };
      }
      const above = rows.findIndex((r) => r[0]! > x);
      if (above <= 0) return none();
      const k = slope(above - 1)!;
      return { value: at(rows[above - 1]!) + k * (x - rows[above - 1]![0]!), partials: [k] };
    }
  }
}

function columnIndex(s: Setting, table: Table, named: string | undefined, scope: Scope): number {
  const wanted =
    named ??
    (table.column === undefined
      ? undefined
      : typeof table.column === 'string'
        ? table.column
        : String(chosenOption(s, table.column.choice, scope.path).option['id']));
  if (wanted === undefined) {
    if ((table.columns?.length ?? 1) > 1)
      throw new DocumentError(`The table ${table.id} has several columns: name one, ${table.id}.<column>(x).`, scope.path);
    return 1;
  }
  const index = table.columns?.indexOf(wanted) ?? -1;
  if (index < 0) throw new DocumentError(`The table ${table.id} has no column "${wanted}".`, scope.path);
  return index + 1;
}
