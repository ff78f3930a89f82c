import type { Plan, PlanItem } from './plan-schema';
import type { ProcedureDocument } from '../procedure/document-schema';
import { isShared } from './shared';

const isSameReading = (a: PlanItem, b: PlanItem): boolean =>
  a.type === 'reading' &&
  b.type === 'reading' &&
  a.series === b.series &&
  a.each === b.each &&
  a.point === b.point &&
  a.sweep === b.sweep &&
  a.repeat === b.repeat;

/** Whether the reference is read at the beginning only: then every second repeat is read from its end. */
function isOneWay(procedure: ProcedureDocument, group: readonly PlanItem[]): boolean {
  const first = group[0]!;
  const last = group.at(-1)!;
  return isShared(procedure, first) && !isShared(procedure, last);
}

/**
 * The plan of one instrument in a set-up of several. Each passage over the instruments begins or ends with the reference, so that a
 * steady drift falls out of the mean: where a document reads the reference before the instrument, every second repeat has it after.
 * @example of S, a (1), S, a (2) it makes S, a (1), a, S (2); with b and c beside a: S, a, b, c, c, b, a, S
 */
export function thereAndBack(plan: Plan, procedure: ProcedureDocument): Plan {
  const items: PlanItem[] = [];
  for (let i = 0; i < plan.items.length;) {
    let end = i + 1;
    while (end < plan.items.length && isSameReading(plan.items[i]!, plan.items[end]!)) end++;
    const group = plan.items.slice(i, end);
    const { repeat = 1 } = group[0] as { repeat?: number };
    if (repeat % 2 === 0 && isOneWay(procedure, group)) group.reverse();
    for (const item of group) items.push(item);
    i = end;
  }
  return { ...plan, items };
}
