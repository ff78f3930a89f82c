import { useSyncExternalStore } from 'react';

/*
 * Who acts at this device. The page comes with the name; when a bench is handed on without loading it anew, every window of the browser
 * hears it.
 */

const changed = 'just-twice-person';
const asked = 'just-twice-who';
const channelName = 'just-twice-person';

const page = () => document.documentElement.dataset;

function show(name: string): void {
  page()['person'] = name;
  window.dispatchEvent(new Event(changed));
}

/** Says who acts from now on, in every window; empty when nobody does. */
export function setPerson(name: string): void {
  show(name);
  const channel = new BroadcastChannel(channelName);
  channel.postMessage(name);
  channel.close();
}

/** Follows what other windows of this browser say of who acts. */
export function followPerson(): () => void {
  const channel = new BroadcastChannel(channelName);
  channel.onmessage = ({ data }) => show(String(data));
  return () => channel.close();
}

const subscribe = (listener: () => void): (() => void) => {
  window.addEventListener(changed, listener);
  return () => window.removeEventListener(changed, listener);
};

/** Who acts; empty when nobody does. */
export function usePerson(initially = ''): string {
  return useSyncExternalStore(
    subscribe,
    () => page()['person'] ?? '',
    () => initially,
  );
}

/** Asks who is at the bench, above whatever stands open. */
export const askWho = (): void => void window.dispatchEvent(new Event(asked));

/** Answers where somebody is asked who is at the bench. */
export function onAskWho(answer: () => void): () => void {
  window.addEventListener(asked, answer);
  return () => window.removeEventListener(asked, answer);
}
