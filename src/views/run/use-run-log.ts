import type { RecordedEvent } from '../../core/acts/registry';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { ask } from '../../ui/ask-server';
import { RunLogStore, type RunLogOptions, type RunLogSnapshot } from './run-log-store';

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

export type OpenLog = {
  run: string;
  events: RecordedEvent[];
  /** A run of the laboratory, where nothing is said, or one to practise on. */ of?: 'practice' | undefined;
};

type Opened = { run: string; store: RunLogStore; close: (() => void) | undefined; of: OpenLog['of'] };

function openLog({ run, events, of }: OpenLog): Opened {
  const isHere = typeof localStorage !== 'undefined';
  const channel = isHere && typeof BroadcastChannel !== 'undefined' ? othersOf(run) : null;
  const store = new RunLogStore({
    run,
    events,
    send: (request) =>
      ask(of === 'practice' ? 'POST /api/practice/[id]/events' : 'POST /api/runs/[id]/events', { id: run, body: request }),
    storage: isHere ? localStorage : null,
    ...(channel ? { others: channel.others } : {}),
    ...(isHere && navigator.locks
      ? { alone: async (work: () => Promise<void>) => void (await navigator.locks.request(`just-twice-run-${run}`, work)) }
      : {}),
  });
  return { run, store, close: channel?.close, of };
}

/** How often what another bench has recorded is asked for, in ms. */
const followEvery = 3000;

async function follow({ run, store, of }: Opened): Promise<void> {
  const { state, pending } = store.getSnapshot();
  if (pending.length > 0) return;
  const address = of === 'practice' ? 'GET /api/practice/[id]/events' : 'GET /api/runs/[id]/events';
  const answer = await ask(address, { id: run, query: { after: String(state.sequence) } });
  if (answer.ok) store.follow(answer.body.events);
}

/** One of the runs that are on the bench, as it stands. */
export type BenchLog = { run: string; store: RunLogStore; snapshot: RunLogSnapshot };

/** The logs of some runs in this window, in their order, each shared with the other windows of this browser. */
export function useRunLogs(logs: readonly OpenLog[]): BenchLog[] {
  const [open] = useState(() => logs.map(openLog));
  const [stores] = useState(() => open.map((o) => o.store));
  const [joined] = useState(() => join(stores));
  const snapshots = useSyncExternalStore(joined.subscribe, joined.getSnapshot, joined.getSnapshot);
  useEffect(() => {
    const onStorage = (event: StorageEvent) => open.forEach(({ store }) => store.keepChanged(event.key));
    for (const { store } of open) store.resume();
    // Another bench may record in the same run: this one follows, as long as somebody looks at it.
    const timer = setInterval(() => {
      if (document.visibilityState !== 'visible') return;
      for (const one of open) void follow(one);
    }, followEvery);
    window.addEventListener('storage', onStorage);
    return () => {
      clearInterval(timer);
      window.removeEventListener('storage', onStorage);
      for (const { close } of open) close?.();
    };
  }, [open]);
  return open.map(({ run, store }, i) => ({ run, store, snapshot: snapshots[i]! }));
}

/** Some stores looked at as one: the same list as long as none of them has changed. */
function join(stores: readonly RunLogStore[]) {
  let snapshots = stores.map((s) => s.getSnapshot());
  return {
    getSnapshot: () => {
      if (stores.some((s, i) => s.getSnapshot() !== snapshots[i])) snapshots = stores.map((s) => s.getSnapshot());
      return snapshots;
    },
    subscribe: (listener: () => void) => {
      const off = stores.map((s) => s.subscribe(listener));
      return () => off.forEach((f) => f());
    },
  };
}
