import type { RecordedEvent } from '../../core/acts/registry';
import { useEffect, useRef, useState, type RefObject } from 'react';
import { useNow } from '../../ui/clock';
import { deviceAhead, deviceNow, lastContact, serverNow } from '../../ui/server-clock';
import { fetchLater } from '../../ui/later';
import { runKeys } from './keymap';

export type Done = NonNullable<RecordedEvent['done']>;

/** When an act is done: by this device's clock, with what that is ahead of the server's and when the server last answered. */
export function doneNow(): Done {
  const device = deviceNow();
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
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
      if (document.querySelector('[role="dialog"]')) return;
      const meant = isTyping() ? undefined : event.key === runKeys.help.keys ? onHelp : more[event.key];
      if (meant) {
        event.preventDefault();
        return meant();
      }
      // A click beside everything leaves no key dead: the present entry takes them up again.
      takeUpKeys();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  // What had the keyboard may go when a panel changes: what stands there now takes it up.
  useEffect(() => {
    const region = document.querySelector('[aria-label="Now"]');
    if (!region) return;
    const observer = new MutationObserver(() => takeUpKeys());
    observer.observe(region, { childList: true, subtree: true });
    return () => observer.disconnect();
  }, []);
}

/** Gives the keyboard to what is done now, where nothing has it. */
function takeUpKeys(): void {
  if (document.querySelector('[role="dialog"]')) return;
  if (document.activeElement === document.body || document.activeElement === null)
    document.querySelector<HTMLElement>('[aria-label="Now"] [data-keys]')?.focus();
}

/** So long a key that bounces cannot decide anything, in ms. */
const pauseBeforeDeciding = 400;

/** The button that decides has the keyboard only after a pause: the Enter that came before, bouncing, does not reach it. */
export function useDecidingButton(): { ref: RefObject<HTMLButtonElement | null>; 'data-keys': true | undefined } {
  const ref = useRef<HTMLButtonElement>(null);
  const [isReady, setReady] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => {
      setReady(true);
      if (document.activeElement === document.body || document.activeElement === null) ref.current?.focus();
    }, pauseBeforeDeciding);
    return () => clearTimeout(timer);
  }, []);
  return { ref, 'data-keys': isReady || undefined };
}

/** Moves among the buttons of a region by the arrows, as far as it has any; Escape gives the keyboard back. @returns whether the key was one of these */
export function moveAmongButtons(region: HTMLElement, key: string): boolean {
  if (key === 'Escape') {
    (document.activeElement as HTMLElement | null)?.blur();
    takeUpKeys();
    return true;
  }
  const buttons = [...region.querySelectorAll<HTMLButtonElement>('button:not(:disabled)')];
  const at = buttons.findIndex((b) => b === document.activeElement);
  if (at < 0) return false;
  const row = (b: HTMLElement) => b.closest('tr, li');
  const inRow = (b: HTMLElement) => buttons.filter((x) => row(x) === row(b));
  const column = inRow(buttons[at]!).indexOf(buttons[at]!);
  const beside = (by: 1 | -1): HTMLButtonElement | undefined => {
    let to = at;
    while (buttons[to] && row(buttons[to]!) === row(buttons[at]!)) to += by;
    const there = buttons[to] && inRow(buttons[to]!);
    return there && (there[Math.min(column, there.length - 1)] ?? there[0]);
  };
  const next =
    key === 'ArrowRight'
      ? buttons[at + 1]
      : key === 'ArrowLeft'
        ? buttons[at - 1]
        : key === 'ArrowDown'
          ? beside(1)
          : key === 'ArrowUp'
            ? beside(-1)
            : undefined;
  next?.focus();
  next?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  return key.startsWith('Arrow');
}

/** Whether a letter belongs to what is being typed: everywhere but in a field for numbers that is empty. */
export const isTyping = (): boolean => {
  const field = document.activeElement;
  if (field instanceof HTMLTextAreaElement) return true;
  if (!(field instanceof HTMLInputElement) || ['checkbox', 'radio', 'button', 'file'].includes(field.type)) return false;
  return field.value !== '' || field.inputMode !== 'decimal';
};
