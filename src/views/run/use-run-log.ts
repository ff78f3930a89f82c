import { useEffect, useState } from 'react';
import type { RecordedEvent } from '../../core/log/event-schema';
import { askServer } from '../../ui/ask-server';
import { RunLogStore, type RunLogOptions } from './run-log-store';

/** What was recorded, told between the windows of this browser. */
function othersOf(run: string): { others: RunLogOptions['others']; close: () => void } {
  const channel = new BroadcastChannel(`just-twice-run-${run}`);
  return {
    others: {
      tell: (event) => channel.postMessage(event),
      hear: (listener) => channel.addEventListener('message', ({ data }) => listener(data as RecordedEvent)),
    },
    close: () => channel.close(),
  };
}

/** The log of a run in this window, shared with the other windows of this browser. */
export function useRunLog(run: string, events: RecordedEvent[]): RunLogStore {
  const [{ store, close }] = useState(() => {
    const isHere = typeof localStorage !== 'undefined';
    const channel = isHere && typeof BroadcastChannel !== 'undefined' ? othersOf(run) : null;
    const store = new RunLogStore({
      run,
      events,
      send: (request) => askServer('POST', `/api/runs/${run}/events`, request),
      storage: isHere ? localStorage : null,
      ...(channel ? { others: channel.others } : {}),
      ...(isHere && navigator.locks
        ? { alone: async (work: () => Promise<void>) => void (await navigator.locks.request(`just-twice-run-${run}`, work)) }
        : {}),
    });
    return { store, close: channel?.close };
  });
  useEffect(() => {
    store.resume();
    const onStorage = (event: StorageEvent) => store.shelfChanged(event.key);
    window.addEventListener('storage', onStorage);
    return () => {
      window.removeEventListener('storage', onStorage);
      close?.();
    };
  }, [store, close]);
  return store;
}
