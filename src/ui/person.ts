import { useSyncExternalStore } from 'react';

const changed = 'just-twice-person';
const asked = 'just-twice-who';

function readCookie(): string {
  const found = document.cookie.split('; ').find((c) => c.startsWith('person='));
  try {
    return found ? decodeURIComponent(found.slice('person='.length)) : '';
  } catch {
    return ''; // set by hand, or by something else
  }
}

/** Remembers who is at the bench on this device for half a year. */
export function choosePerson(name: string): void {
  document.cookie = `person=${encodeURIComponent(name)}; path=/; max-age=15552000; samesite=lax`;
  window.dispatchEvent(new Event(changed));
}

const subscribe = (listener: () => void): (() => void) => {
  window.addEventListener(changed, listener);
  return () => window.removeEventListener(changed, listener);
};

/** Who is at the bench; empty when nobody has said so. */
export function usePerson(initially = ''): string {
  return useSyncExternalStore(subscribe, readCookie, () => initially);
}

/** Asks who is at the bench, above whatever stands open. */
export const askWho = (): void => void window.dispatchEvent(new Event(asked));

/** Answers where somebody is asked who is at the bench. */
export function onAskWho(answer: () => void): () => void {
  window.addEventListener(asked, answer);
  return () => window.removeEventListener(asked, answer);
}
