import { useCallback, useEffect, useState } from 'react';
import { useNow } from '../../ui/clock';
import { fetchLater } from '../../ui/later';
import { runKeys } from './keymap';

/**
 * The time by the server's clock, and the seconds by which the clock of this bench was ahead of it as the page came.
 * @param startedAt the server's time as it made the page
 */
export function useBenchClock(startedAt: string): { now: string; ahead: number; serverTime: (at: Date) => string } {
  const [ahead] = useState(() => (typeof window === 'undefined' ? 0 : (Date.now() - Date.parse(startedAt)) / 1000));
  const benchNow = useNow(startedAt);
  const serverTime = useCallback((at: Date) => new Date(at.getTime() - 1000 * ahead).toISOString(), [ahead]);
  // The first moment is the server's own: the markup that came from there says the same.
  return { now: benchNow === startedAt ? startedAt : serverTime(new Date(benchNow)), ahead, serverTime };
}

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
