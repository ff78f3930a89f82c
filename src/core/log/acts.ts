import type { Act, NewAct, RecordedEvent } from './event-schema';

/** When an act was done: by the bench's clock set right by what it was ahead, else when it was recorded. */
export const doneAt = (event: Pick<RecordedEvent, 'at' | 'done'>): string =>
  event.done ? new Date(Date.parse(event.done.at) - 1000 * event.done.ahead).toISOString() : event.at;

/** Acts that bring a part of the plan. */
const bringsPlan: ReadonlySet<string> = new Set(['plan-resolved', 'set-begun', 'adjustment-decided', 'ruling-out']);

/**
 * An act in the shape in which a log keeps it, with its version and what has a default. What was typed is looked at by `admit`, and the
 * shape by the schema where it arrives.
 */
export const asAct = (entry: NewAct): Act =>
  ({ ...(bringsPlan.has(entry.type) ? { plan: { items: [], places: [] } } : {}), ...entry, version: 2 }) as Act;
