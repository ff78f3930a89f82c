import { actSchema, type RecordedEvent } from './event-schema';
import { upcast, type RecordedEvent1 } from './version-1/upcast';

/** An event as it lies in the store, of any version. */
export type StoredEvent = Omit<RecordedEvent, 'act'> & { act: { type: string; version?: number } };

const known = new Set(actSchema.options.map((o) => o.shape.type.value as string));

const isVersion1 = (event: StoredEvent): boolean => event.act.version === undefined;

/**
 * A log in the present shape, whatever the version of its events. A log may begin in version 1 and go on in version 2.
 * @throws Error for an act that nobody knows: an event that is not understood may not be passed over
 */
export function readLog(stored: readonly StoredEvent[]): RecordedEvent[] {
  const first = stored.findIndex((e) => !isVersion1(e));
  const old = first < 0 ? stored : stored.slice(0, first);
  const present = first < 0 ? [] : stored.slice(first);
  for (const { act, sequence } of present)
    if (act.version !== 2 || !known.has(act.type))
      throw new Error(`Event ${sequence} is "${act.type}" of version ${act.version ?? 1}, which this program does not know.`);
  return [...(old.length ? upcast(old as unknown as RecordedEvent1[]) : []), ...(present as unknown as RecordedEvent[])];
}
