import type { Act, RecordedEvent } from '../../core/log/event-schema';
import { runState, withEvent, type RunState } from '../../core/run/run-state';
import { isUnreachable, type Answer } from '../../ui/ask-server';
import { newKey } from '../../ui/new-key';

/** An act that the server has not confirmed yet. It is kept in the browser until it has. */
type Done = NonNullable<RecordedEvent['done']>;
type PendingAct = { key: string; act: Act; person: string; done: Done };

export type Trouble =
  /** The run moved on elsewhere; these acts were not recorded. */
  | { kind: 'conflict'; message: string; lost: Act[] }
  /** The server refused an act that looked admissible here. */
  | { kind: 'refused'; message: string; lost: Act[] };

export type RunLogSnapshot = { state: RunState; pending: number; isUnreachable: boolean; trouble: Trouble | null };

type Appended = { event: RecordedEvent };
type SendRequest = { expectedSequence: number; idempotencyKey: string; person: string; done: Done; act: Act };

export type RunLogOptions = {
  run: string;
  events: RecordedEvent[];
  send: (request: SendRequest) => Promise<Answer<Appended>>;
  /** Where unconfirmed acts survive a reload; null where there is none. */
  storage: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> | null;
  retryAfter?: number;
};

/**
 * The log of one run as this window sees it: what the server has confirmed, and behind it what is still on its way. Acts show at
 * once and are sent one after the other; when the server does not answer they wait here and are sent again under the same key.
 */
export class RunLogStore {
  private events: RecordedEvent[];
  private pending: PendingAct[] = [];
  private unreachable = false;
  private trouble: Trouble | null = null;
  private sending = false;
  private listeners = new Set<() => void>();
  private state: RunState;
  private snapshot: RunLogSnapshot;
  private readonly place: string;

  constructor(private readonly options: RunLogOptions) {
    this.events = [...options.events];
    this.place = `just-twice-pending-${options.run}`;
    this.state = runState(this.events);
    this.snapshot = this.look();
  }

  getSnapshot = (): RunLogSnapshot => this.snapshot;

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Takes up what an earlier page of this window could not send. */
  resume(): void {
    const kept = this.options.storage?.getItem(this.place);
    if (!kept || this.pending.length > 0) return;
    this.pending = JSON.parse(kept) as PendingAct[];
    this.refold();
    this.publish();
    void this.flush();
  }

  append(act: Act, person: string, done: Done): void {
    const pending = { key: newKey(), act, person, done };
    this.state = withEvent(this.state, this.ahead(pending, this.pending.length));
    this.pending.push(pending);
    this.trouble = null;
    this.publish();
    void this.flush();
  }

  dismissTrouble = (): void => {
    this.trouble = null;
    this.publish();
  };

  private async flush(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    while (this.pending.length > 0) {
      const { key, act, person, done } = this.pending[0]!;
      const answer = await this.options.send({
        expectedSequence: this.events.at(-1)!.sequence,
        idempotencyKey: key,
        person,
        done,
        act,
      });
      if (answer.ok) {
        this.unreachable = false;
        this.pending.shift();
        // A repeated request is answered with the event it made the first time, which this window may hold already.
        const { event } = answer.body;
        if (event.sequence > this.events.at(-1)!.sequence) this.events.push(event);
        // What this window showed ahead is what was recorded, so nothing is folded anew; otherwise it is.
        if (event.sequence !== this.events.at(-1)!.sequence) this.refold();
      } else if (isUnreachable(answer.refusal)) {
        this.unreachable = true;
        this.publish();
        await new Promise((resolve) => setTimeout(resolve, this.options.retryAfter ?? 2000));
        continue;
      } else {
        this.unreachable = false;
        const missed = answer.refusal.details['missed'] as RecordedEvent[] | undefined;
        if (missed) this.events.push(...missed.filter((e) => e.sequence > this.events.at(-1)!.sequence));
        this.trouble = {
          kind: missed ? 'conflict' : 'refused',
          message: answer.refusal.message,
          lost: this.pending.map((p) => p.act),
        };
        this.pending = [];
        this.refold();
      }
      this.publish();
    }
    this.sending = false;
  }

  /** A pending act as the event that it is going to be. */
  private ahead({ act, person, done }: PendingAct, index: number): RecordedEvent {
    return { sequence: this.events.at(-1)!.sequence + index + 1, at: done.at, done, person, act };
  }

  private refold(): void {
    this.state = runState([...this.events, ...this.pending.map((p, i) => this.ahead(p, i))]);
  }

  private look(): RunLogSnapshot {
    return { state: this.state, pending: this.pending.length, isUnreachable: this.unreachable, trouble: this.trouble };
  }

  private publish(): void {
    if (this.pending.length > 0) this.options.storage?.setItem(this.place, JSON.stringify(this.pending));
    else this.options.storage?.removeItem(this.place);
    this.snapshot = this.look();
    for (const listener of this.listeners) listener();
  }
}
