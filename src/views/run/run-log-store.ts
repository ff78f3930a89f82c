import { doneAt } from '../../core/state/logged';
import type { Act, RecordedEvent } from '../../core/acts/registry';
import { admit } from '../../core/acts/admit';
import { runState, withEvent } from '../../core/acts/fold';
import type { RunState } from '../../core/state/run-state';
import { isUnreachable, type Answer } from '../../ui/ask-server';
import { newKey } from '../../ui/new-key';
import { PendingActs, type PendingAct, type Keep } from './pending-acts';

type Done = PendingAct['done'];

/** Why nothing is sent until the person decides: all that is pending stays, in its order. */
export type Trouble = { message: string };

export type RunLogSnapshot = {
  state: RunState;
  pending: readonly PendingAct[];
  isUnreachable: boolean;
  /** Why it waits: whoever did it is not at the bench. */ waiting: string | null;
  trouble: Trouble | null;
  /** The browser has no room left: what is pending is kept in this window alone. */ isFull: boolean;
};

type Appended = { event: RecordedEvent };
type SendRequest = { expectedSequence: number; idempotencyKey: string; person: string; done: Done; act: Act };

export type RunLogOptions = {
  run: string;
  events: RecordedEvent[];
  send: (request: SendRequest) => Promise<Answer<Appended>>;
  /** Where unconfirmed acts survive a reload, for all windows; null where there is none. */ storage: Keep | null;
  /** Lets one window at a time send; alone where nothing is given. */
  alone?: (work: () => Promise<void>) => Promise<void>;
  /** Tells the other windows what was recorded, and hears it from them. */
  others?: { tell: (event: RecordedEvent) => void; hear: (listener: (event: RecordedEvent) => void) => void };
  retryAfter?: number;
};

/**
 * The log of one run as this window sees it: what the server has confirmed, and behind it what is still on its way. Acts show at
 * once and are sent one after the other; when the server does not answer they wait here and are sent again under the same key. What
 * the server refuses, or answers in a way that cannot be read, stays in the list until the person decides.
 */
export class RunLogStore {
  private events: RecordedEvent[];
  private pending: PendingAct[] = [];
  private unreachable = false;
  private waiting: string | null = null;
  private trouble: Trouble | null = null;
  private sending = false;
  private sentDone: Done | undefined;
  private listeners = new Set<() => void>();
  private state: RunState;
  private snapshot: RunLogSnapshot;
  private readonly kept: PendingActs;

  constructor(private readonly options: RunLogOptions) {
    this.events = [...options.events];
    this.kept = new PendingActs(options.run, options.storage);
    this.state = runState(this.events);
    this.snapshot = this.look();
  }

  getSnapshot = (): RunLogSnapshot => this.snapshot;

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Takes up what an earlier page, or another window, could not send; from now on hears what others record. */
  resume(): void {
    this.options.others?.hear((event) => {
      if (event.sequence !== this.events.at(-1)!.sequence + 1) return;
      this.events.push(event);
      this.takeStock();
    });
    this.takeStock();
    void this.flush();
  }

  /** What the server has recorded since, from another bench: taken in while nothing of this one is on its way. */
  follow(recorded: readonly RecordedEvent[]): void {
    if (this.pending.length > 0 || this.sending) return;
    const last = this.events.at(-1)!.sequence;
    const news = recorded.filter((e) => e.sequence > last);
    if (news.length === 0 || news[0]!.sequence !== last + 1) return;
    this.events.push(...news);
    this.takeStock();
  }

  /** The keep was changed by another window. */
  keepChanged = (place: string | null): void => {
    if (this.kept.isMine(place)) this.takeStock();
  };

  append(act: Act, person: string, done: Done): void {
    const pending = { key: newKey(), act, person, done };
    this.kept.add(pending);
    this.state = withEvent(this.state, this.ahead(pending, this.pending.length));
    this.pending = [...this.pending, pending];
    this.publish();
    void this.flush();
  }

  /** The person wants what is pending sent once more. */
  sendAgain = (): void => {
    this.trouble = null;
    this.takeStock();
    void this.flush();
  };

  /** The person leaves an act out: it was never recorded, and goes. */
  leaveOut = (key: string): void => {
    this.kept.remove(key);
    this.sendAgain();
  };

  private async flush(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    const alone = this.options.alone ?? ((work) => work());
    await alone(async () => {
      this.takeStock();
      while (this.pending.length > 0 && !this.trouble) await this.sendFirst();
    });
    this.sending = false;
    // What was added while the last answer was on its way out.
    if (this.pending.length > 0 && !this.trouble) void this.flush();
  }

  private async sendFirst(): Promise<void> {
    const { key, act, person, done } = this.pending[0]!;
    this.sentDone = done;
    const answer = await this.options.send({
      expectedSequence: this.events.at(-1)!.sequence,
      idempotencyKey: key,
      person,
      done,
      act,
    });
    if (answer.ok && answer.body.event) this.confirmed(key, answer.body.event);
    else if (!answer.ok && (isUnreachable(answer.refusal) || answer.refusal.status === 401)) {
      this.unreachable = isUnreachable(answer.refusal);
      this.waiting = this.unreachable ? null : answer.refusal.message;
      this.publish();
      await new Promise((resolve) => setTimeout(resolve, this.options.retryAfter ?? 2000));
    } else this.refused(answer.ok ? { message: 'The server gave an answer that cannot be read.', details: {} } : answer.refusal);
  }

  private confirmed(key: string, event: RecordedEvent): void {
    this.unreachable = false;
    this.waiting = null;
    this.kept.remove(key);
    this.pending = this.pending.filter((p) => p.key !== key);
    // A repeated request is answered with the event it made the first time, which this window may hold already.
    if (event.sequence > this.events.at(-1)!.sequence) {
      this.events.push(event);
      this.options.others?.tell(event);
    }
    // What this window showed ahead is what was recorded, so nothing is folded anew; otherwise it is.
    const sent = this.sentDone;
    const isAsShown =
      sent !== undefined && Math.abs(Date.parse(doneAt(event)) - Date.parse(doneAt({ at: sent.at, done: sent }))) < 1000;
    if (event.sequence !== this.events.at(-1)!.sequence || !isAsShown) this.refold();
    this.publish();
  }

  private refused({ message, details }: { message: string; details: Record<string, unknown> }): void {
    this.unreachable = false;
    this.waiting = null;
    const missed = details['missed'] as RecordedEvent[] | undefined;
    if (missed) this.events.push(...missed.filter((e) => e.sequence > this.events.at(-1)!.sequence));
    // What another window recorded in between is no trouble where all that is pending may still follow it.
    const still = missed ? this.whyNot() : message;
    if (still !== null) this.trouble = { message: missed ? `${message} ${still}` : message };
    this.refold();
    this.publish();
  }

  /** Why something pending may not follow what is recorded; null when all may. */
  private whyNot(): string | null {
    let state = runState(this.events);
    for (const [i, pending] of this.pending.entries()) {
      const at = new Date(Date.parse(pending.done.at) - 1000 * pending.done.ahead).toISOString();
      const refusal = admit(state, pending.act, pending.person, at);
      if (refusal) return refusal.message;
      state = withEvent(state, this.ahead(pending, i));
    }
    return null;
  }

  /** Reads the keep anew: other windows may have added to it, or sent from it. */
  private takeStock(): void {
    const list = this.kept.list();
    const isSame = list.length === this.pending.length && list.every((p, i) => p.key === this.pending[i]!.key);
    if (!isSame || this.state.sequence !== this.events.at(-1)!.sequence + list.length) {
      this.pending = list;
      this.refold();
    }
    this.publish();
  }

  /** A pending act as the event that it is going to be. */
  private ahead({ act, person, done }: PendingAct, index: number): RecordedEvent {
    return { sequence: this.events.at(-1)!.sequence + index + 1, at: done.at, done, person, act };
  }

  /** In trouble only what is recorded is shown: what is pending stands in its list. */
  private refold(): void {
    this.state = runState(this.trouble ? this.events : [...this.events, ...this.pending.map((p, i) => this.ahead(p, i))]);
  }

  private look(): RunLogSnapshot {
    return {
      state: this.state,
      pending: this.pending,
      isUnreachable: this.unreachable,
      waiting: this.waiting,
      trouble: this.trouble,
      isFull: this.kept.isFull,
    };
  }

  private publish(): void {
    this.snapshot = this.look();
    for (const listener of this.listeners) listener();
  }
}
