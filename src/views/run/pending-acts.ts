type Done = NonNullable<RecordedEvent['done']>;

/** An act that the server has not confirmed yet. It is kept in the browser until it has, or the person leaves it out. */
export type PendingAct = { key: string; act: Act; person: string; done: Done };

export type Keep = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

/**
 * The acts of one run that are on their way, shared by all windows of this browser: each is an entry of its own, so that two windows
 * which add at once do not overwrite each other. What the keep has no room for is kept in this window alone.
 */
export class PendingActs {
  private readonly prefix: string;
  private homeless = new Map<string, PendingAct>();

  constructor(
    run: string,
    private readonly keep: Keep | null,
  ) {
    this.prefix = `just-twice-pending-${run}|`;
    this.takeOverFormer(run);
  }

  /** Whether something is kept in this window only. */
  get isFull(): boolean {
    return this.homeless.size > 0;
  }

  /** In the order in which they were done. */
  list(): PendingAct[] {
    return this.entries().map(([, pending]) => pending);
  }

  add(pending: PendingAct): void {
    // After all that is there, whatever the clock says.
    const [last] = this.entries().at(-1) ?? [];
    const order = Math.max(Date.now(), last === undefined ? 0 : Number.parseInt(last.slice(this.prefix.length), 10) + 1);
    const place = `${this.prefix}${String(order).padStart(15, '0')}-${pending.key}`;
    try {
      if (!this.keep) throw new Error('There is no keep.');
      this.keep.setItem(place, JSON.stringify(pending));
    } catch {
      this.homeless.set(place, pending);
    }
  }

  remove(key: string): void {
    for (const [place, pending] of this.entries()) {
      if (pending.key !== key) continue;
      this.homeless.delete(place);
      this.keep?.removeItem(place);
    }
  }

  /** Whether a change of the keep is about this run. */
  isMine = (place: string | null): boolean => place === null || place.startsWith(this.prefix);

  private entries(): [string, PendingAct][] {
    const places = Array.from({ length: this.keep?.length ?? 0 }, (_, i) => this.keep!.key(i)!).filter((p) =>
      p.startsWith(this.prefix),
    );
    const kept = places.flatMap((place): [string, PendingAct][] => {
      const text = this.keep!.getItem(place);
      return text ? [[place, JSON.parse(text) as PendingAct]] : [];
    });
    return [...kept, ...this.homeless].sort(([a], [b]) => (a < b ? -1 : 1));
  }

  /** Before each act had an entry of its own they lay in one. */
  private takeOverFormer(run: string): void {
    const former = `just-twice-pending-${run}`;
    const text = this.keep?.getItem(former);
    if (!text) return;
    for (const pending of JSON.parse(text) as PendingAct[]) this.add(pending);
    this.keep!.removeItem(former);
  }
}
import type { Act, RecordedEvent } from '../../core/acts/registry';
