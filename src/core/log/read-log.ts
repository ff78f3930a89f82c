import type * as z from 'zod';
import { actSchemas, type RecordedEvent } from '../acts/registry';
import { upcast, type RecordedEvent1 } from './version-1/upcast';
import { actSchema as kept } from './version-2/acts';

/** An event as it lies in the store, of any version. */
export type StoredEvent = Omit<RecordedEvent, 'act'> & { act: { type: string; version?: number } };

/** By what shape an act of version 2 is read: the kept one, or its own where it is younger than those. */
const shapes = new Map<string, z.ZodType>([
  ...actSchemas.map((schema) => [schema.shape.type.value, schema.loose()] as const),
  ...kept.options.map((schema) => [schema.shape.type.value, schema] as const),
]);

const isVersion1 = (event: StoredEvent): boolean => event.act.version === undefined;

/** An event of version 2 with what its act leaves out. @throws Error naming what is missing or of another kind */
function readEvent(event: StoredEvent): RecordedEvent {
  const { act, sequence } = event;
  const shape = shapes.get(act.type);
  if (act.version !== 2 || !shape)
    throw new Error(`Event ${sequence} is "${act.type}" of version ${act.version ?? 1}, which this program does not know.`);
  const parsed = shape.safeParse(act);
  if (parsed.success) return { ...event, act: parsed.data as RecordedEvent['act'] };
  const { path, message } = parsed.error.issues[0]!;
  throw new Error(`Event ${sequence} ("${act.type}") is damaged at ${path.join('.')}: ${message}`);
}

/**
 * A log in the present shape, whatever the version of its events. A log may begin in version 1 and go on in version 2. Each version is
 * read by the shape that it was written in, kept in its folder.
 * @throws Error for an act that nobody knows or that lacks what it must hold: an event that is not understood may not be passed over
 * @example readLog(events).length // 41
 */
export function readLog(stored: readonly StoredEvent[]): RecordedEvent[] {
  const first = stored.findIndex((e) => !isVersion1(e));
  const old = first < 0 ? stored : stored.slice(0, first);
  const present = first < 0 ? [] : stored.slice(first);
  return [...(old.length ? upcast(old as unknown as RecordedEvent1[]) : []), ...present.map(readEvent)];
}
