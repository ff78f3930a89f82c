/**
 * The server's time as this page knows it: learnt from every answer, counted on by a clock that nobody can set and that only runs
 * forward. What stood in the page when it was made is never taken for the present: it may have come from the browser's own store.
 */

type Contact = { server: number; steady: number };
let contact: Contact | null = null;
/** The latest time that was told by the server's clock: later ones are never earlier. */
let latest = 0;

/** What a practice bench has let pass beside the time that went by, in ms; elsewhere nothing. */
let passed = 0;

/** Lets time pass at once, at a bench where nothing real is waited for. */
export function letPass(ms: number): void {
  passed += Math.max(0, ms);
}

/** This device's clock, with what was let pass. */
export const deviceNow = (): number => Date.now() + passed;

/** Takes up the server's time from an answer; what is no time is passed over. */
export function learnServerTime(iso: string | null, steady = performance.now()): void {
  const server = iso === null ? NaN : Date.parse(iso);
  if (Number.isFinite(server)) contact = { server, steady };
}

/** The time in milliseconds: the server's where it has ever answered, else this device's own. */
export function serverNow(steady = performance.now(), device = deviceNow()): number {
  if (!contact) return device;
  latest = Math.max(latest, contact.server + (steady - contact.steady) + passed);
  return latest;
}

/** By how many seconds this device's clock is ahead of the server's; 0 as long as nothing is known. */
export const deviceAhead = (): number => (contact ? (deviceNow() - serverNow()) / 1000 : 0);

/** When the server last answered, by its own clock; null where it never has. */
export const lastContact = (): string | null => (contact ? new Date(contact.server + passed).toISOString() : null);

let asking: Promise<void> | null = null;

async function ask(): Promise<void> {
  try {
    const response = await fetch('/api/time', { cache: 'no-store' });
    learnServerTime(response.headers.get(serverTimeHeader));
    // Read to its end, so that its connection is free again.
    await response.text();
  } catch {
    // Without an answer what is known counts on.
  }
}

/**
 * Asks for the time alone: as a page comes, and when a device wakes, since no clock of a browser counts while it sleeps. Many timers
 * of a page ask once.
 */
export const askServerTime = (): Promise<void> => (asking ??= ask().finally(() => (asking = null)));

export const serverTimeHeader = 'x-server-time';

/** Forgets everything: for tests. */
export function forgetServerTime(): void {
  contact = null;
  latest = 0;
  passed = 0;
}
