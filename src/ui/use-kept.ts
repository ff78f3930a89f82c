import { useSyncExternalStore } from 'react';

/** What was read or kept since the page came; all that there is on a device that keeps nothing. */
const kept = new Map<string, string>();
const listeners = new Set<() => void>();

function read(name: string): string {
  if (!kept.has(name))
    try {
      kept.set(name, localStorage.getItem(name) ?? '');
    } catch {
      kept.set(name, '');
    }
  return kept.get(name)!;
}

function keep(name: string, text: string): void {
  kept.set(name, text);
  try {
    localStorage.setItem(name, text);
  } catch {
    // It lasts as long as the page.
  }
  for (const listener of listeners) listener();
}

/** A text that this device keeps under a name. */
export function useKept(name: string): [string, (text: string) => void] {
  const text = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => read(name),
    () => '',
  );
  return [text, (next) => keep(name, next)];
}
