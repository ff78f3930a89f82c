import type { Refusal } from '../../core/state/refusal';
import type { RunLogStore } from './run-log-store';

/** Why nothing can be recorded at present, whatever it is; null where it can. */
export function refusedBefore(person: string, stores: readonly RunLogStore[]): Refusal | null {
  if (!person) return { message: 'Say who is at the bench first.', path: ['person'] };
  if (stores.some((s) => s.getSnapshot().trouble))
    return { message: 'First decide what becomes of what was not recorded: it is listed at the top.', path: ['pending'] };
  return null;
}
