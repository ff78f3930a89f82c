import { useEffect } from 'react';
import type { RecordedEvent } from '../../core/log/event-schema';
import { useNow } from '../../ui/clock';
import { deviceAhead, lastContact, serverNow } from '../../ui/server-clock';
import { fetchLater } from '../../ui/later';
import { runKeys } from './keymap';

export type Done = NonNullable<RecordedEvent['done']>;

/** When an act is done: by this device's clock, with what that is ahead of the server's and when the server last answered. */
export function doneNow(): Done {
  const device = Date.now();
  const contact = lastContact();
  return {
    at: new Date(device).toISOString(),
    ahead: (device - serverNow()) / 1000,
    ...(contact === null ? {} : { contact }),
  };
}

/** The server's time, and whether this device's clock differs from it by minutes. @param startedAt what the markup says */
export function useBenchClock(startedAt: string): { now: string; isOff: boolean } {
  const now = useNow(startedAt);
  return { now, isOff: now !== startedAt && Math.abs(deviceAhead()) > clockTolerance };
}

/** Seconds by which a device's clock may differ before it is said. */
const clockTolerance = 120;

/** Fetches what comes later, and keeps the keyboard alive: the page of keys, and a key pressed after a click beside everything. */
export function useBenchKeys(onHelp: () => void, more: Record<string, () => void> = {}): void {
  useEffect(fetchLater, []);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (document.querySelector('[role="dialog"]')) return;
      const meant = event.key === runKeys.help.keys ? onHelp : isTyping() ? undefined : more[event.key];
      if (meant) {
        event.preventDefault();
        return meant();
      }
      // A click beside everything leaves no key dead: the present entry takes them up again.
      if (document.activeElement === document.body || document.activeElement === null)
        document.querySelector<HTMLElement>('[aria-label="Now"] [data-keys]')?.focus();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
}

/** Whether a letter belongs to what is being typed. */
const isTyping = (): boolean => {
  const field = document.activeElement;
  return (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement) && field.value !== '';
};
