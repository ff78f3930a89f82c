import { runState } from '../../core/acts/fold';
import type { Act, RecordedEvent } from '../../core/acts/registry';
import { describe, expect, it, vi } from 'vitest';
import { TestBench } from '../../core/run/fixtures/bench';
import type { Answer } from '../../ui/ask-server';
import { RunLogStore, type RunLogOptions } from './run-log-store';

type Send = RunLogOptions['send'];
const reading = (text: string, repeat = 1): Act => ({
  type: 'observed',
  version: 2,
  set: 'as-found',
  series: 'error',
  point: 'p1',
  repeat,
  observation: 'R',
  text,
});
const refused = (status: number, message = 'no', details: Record<string, unknown> = {}): Answer<never> => ({
  ok: false,
  refusal: { status, message, path: [], details },
});

function memory(room = Infinity): NonNullable<RunLogOptions['storage']> {
  const kept = new Map<string, string>();
  return {
    get length() {
      return kept.size;
    },
    key: (i) => [...kept.keys()][i] ?? null,
    getItem: (k) => kept.get(k) ?? null,
    setItem: (k, v) => {
      if (kept.size >= room) throw new Error('QuotaExceededError');
      kept.set(k, v);
    },
    removeItem: (k) => void kept.delete(k),
  };
}

/** A server that records, and can be gone. */
function server(events: RecordedEvent[]) {
  const byKey = new Map<string, RecordedEvent>();
  const self = {
    gone: false,
    answerLost: false,
    events: [...events],
    send: (async (request) => {
      if (self.gone) return refused(0);
      const known = byKey.get(request.idempotencyKey);
      if (known) return { ok: true, body: { event: known } };
      if (request.expectedSequence !== self.events.length)
        return refused(409, 'moved on', { missed: self.events.slice(request.expectedSequence) });
      const event: RecordedEvent = {
        sequence: self.events.length + 1,
        at: '2026-11-24T10:00:00.000Z',
        person: request.person,
        act: request.act,
        done: request.done,
      };
      self.events.push(event);
      byKey.set(request.idempotencyKey, event);
      if (self.answerLost) {
        self.answerLost = false;
        return refused(0);
      }
      return { ok: true, body: { event } };
    }) as Send,
  };
  return self;
}

const texts = (store: RunLogStore) => store.getSnapshot().state.readings.map((r) => r.text);
const open = (events: RecordedEvent[], send: Send, storage = memory()) =>
  new RunLogStore({ run: 'r', events, send, storage, retryAfter: 5 });

describe('the log in a window', () => {
  const bench = new TestBench().prepared();
  const done = { at: bench.at, ahead: 2 };

  it('shows an act at once and confirms it behind', async () => {
    const there = server(bench.events);
    const store = open(bench.events, there.send);
    store.append(reading('2.500'), 'Ada', done);
    expect(texts(store)).toEqual(['2.500']);
    expect(store.getSnapshot().pending).toHaveLength(1);
    await vi.waitFor(() => expect(store.getSnapshot().pending).toHaveLength(0));
    expect(there.events.at(-1)!.act).toEqual(reading('2.500'));
  });
  it('keeps what one did while another is at the bench, says so, and sends it when that person is back', async () => {
    const there = server(bench.events);
    let isOther = true;
    const store = open(bench.events, (request) =>
      isOther ? Promise.resolve(refused(401, 'Ada did this, but Bo is at this bench now.')) : there.send(request),
    );
    store.append(reading('2.500'), 'Ada', done);
    await vi.waitFor(() => expect(store.getSnapshot().waiting).toBe('Ada did this, but Bo is at this bench now.'));
    expect([store.getSnapshot().isUnreachable, store.getSnapshot().trouble, texts(store)]).toEqual([false, null, ['2.500']]);
    isOther = false;
    await vi.waitFor(() => expect(store.getSnapshot().pending).toHaveLength(0));
    expect([store.getSnapshot().waiting, there.events.at(-1)!.person]).toEqual([null, 'Ada']);
  });
  it('keeps acts in order while the server is gone and sends each once when it is back', async () => {
    const there = server(bench.events);
    const storage = memory();
    const store = open(bench.events, there.send, storage);
    there.gone = true;
    for (const [i, text] of ['2.500', '2.501', '2.502'].entries()) store.append(reading(text, i + 1), 'Ada', done);
    await vi.waitFor(() => expect(store.getSnapshot().isUnreachable).toBe(true));
    expect(texts(store)).toEqual(['2.500', '2.501', '2.502']);
    expect(storage.length).toBe(3);
    there.gone = false;
    await vi.waitFor(() => expect(store.getSnapshot().pending).toHaveLength(0));
    expect(there.events.slice(bench.events.length).map((e) => (e.act as { text: string }).text)).toEqual([
      '2.500',
      '2.501',
      '2.502',
    ]);
    // Each with the time at which it was taken, whenever it arrived.
    expect(there.events.at(-1)!.done).toEqual(done);
    expect(storage.length).toBe(0);
  });
  it('an answer lost on the way records nothing twice', async () => {
    const there = server(bench.events);
    there.answerLost = true;
    const store = open(bench.events, there.send);
    store.append(reading('2.500'), 'Ada', done);
    await vi.waitFor(() => expect(store.getSnapshot().pending).toHaveLength(0));
    expect(there.events).toHaveLength(bench.events.length + 1);
    expect(texts(store)).toEqual(['2.500']);
  });
  it('takes up after a reload what could not be sent before it', async () => {
    const there = server(bench.events);
    const storage = memory();
    there.gone = true;
    open(bench.events, there.send, storage).append(reading('2.500'), 'Ada', done);
    const reloaded = open(bench.events, there.send, storage);
    reloaded.resume();
    expect(texts(reloaded)).toEqual(['2.500']);
    there.gone = false;
    await vi.waitFor(() => expect(reloaded.getSnapshot().pending).toHaveLength(0));
    expect(there.events.filter((e) => e.act.type === 'observed')).toHaveLength(1);
  });
  it('a window that is behind goes on from the log as it stands where its acts still fit', async () => {
    const there = server(bench.events);
    const [one, two] = [open(bench.events, there.send), open(bench.events, there.send)];
    one.append(reading('2.500'), 'Ada', done);
    await vi.waitFor(() => expect(one.getSnapshot().pending).toHaveLength(0));
    two.append(reading('2.501', 2), 'Ada', done);
    await vi.waitFor(() => expect(two.getSnapshot().pending).toHaveLength(0));
    expect(two.getSnapshot().trouble).toBeNull();
    expect(texts(two)).toEqual(['2.500', '2.501']);
  });
  it('follows what another bench records, in order and only while nothing of its own is on its way', async () => {
    const there = server(bench.events);
    const [one, two] = [open(bench.events, there.send), open(bench.events, there.send)];
    one.append(reading('2.500'), 'Ada', done);
    one.append(reading('2.501', 2), 'Ada', done);
    await vi.waitFor(() => expect(one.getSnapshot().pending).toHaveLength(0));
    // What does not follow on is left alone.
    two.follow(there.events.slice(-1));
    expect(texts(two)).toEqual([]);
    two.follow(there.events.slice(-3));
    expect(texts(two)).toEqual(['2.500', '2.501']);
    there.gone = true;
    two.append(reading('2.502', 3), 'Ada', done);
    two.follow([...there.events, { ...there.events.at(-1)!, sequence: there.events.length + 1 }]);
    expect(two.getSnapshot().pending).toHaveLength(1);
    expect(texts(two)).toEqual(['2.500', '2.501', '2.502']);
  });
  it('what no longer fits is kept, in order, until the person decides', async () => {
    const there = server(bench.events);
    const storage = memory();
    const [one, two] = [open(bench.events, there.send), open(bench.events, there.send, storage)];
    one.append(reading('2.500'), 'Ada', done);
    await vi.waitFor(() => expect(one.getSnapshot().pending).toHaveLength(0));
    two.append(reading('2.509'), 'Ada', done);
    two.append(reading('2.501', 2), 'Ada', done);
    await vi.waitFor(() => expect(two.getSnapshot().trouble?.message).toContain('moved on This reading is taken'));
    // The sheet shows what is recorded, the list what is not; a reload changes neither.
    expect(texts(two)).toEqual(['2.500']);
    expect(two.getSnapshot().pending.map((p) => p.act)).toEqual([reading('2.509'), reading('2.501', 2)]);
    expect(storage.length).toBe(2);
    two.leaveOut(two.getSnapshot().pending[0]!.key);
    await vi.waitFor(() => expect(two.getSnapshot().pending).toHaveLength(0));
    expect(texts(two)).toEqual(['2.500', '2.501']);
    expect(storage.length).toBe(0);
  });
  it.each([
    ['an answer 500', refused(500, 'Something went wrong.')],
    ['an answer that is none', { ok: true, body: {} } as never],
  ])('%s loses nothing: it is sent again when the person says so', async (_what, answer: Answer<never>) => {
    const there = server(bench.events);
    let isBroken = true;
    const store = open(bench.events, async (request) => (isBroken ? answer : there.send(request)));
    for (const [i, text] of ['2.500', '2.501', '2.502'].entries()) store.append(reading(text, i + 1), 'Ada', done);
    await vi.waitFor(() => expect(store.getSnapshot().trouble).not.toBeNull());
    expect(store.getSnapshot().pending).toHaveLength(3);
    isBroken = false;
    store.sendAgain();
    await vi.waitFor(() => expect(store.getSnapshot().pending).toHaveLength(0));
    expect(texts(store)).toEqual(['2.500', '2.501', '2.502']);
  });
  it('two windows share what is pending: one sends it, the other hears of it, nothing is sent twice', async () => {
    const there = server(bench.events);
    const storage = memory();
    let chain = Promise.resolve();
    const alone = (work: () => Promise<void>): Promise<void> => {
      const turn = chain.then(work);
      chain = turn.catch(() => undefined);
      return turn;
    };
    const heard: ((event: RecordedEvent) => void)[] = [];
    const window = () => {
      const hears: ((event: RecordedEvent) => void)[] = [];
      heard.push((event) => hears.forEach((h) => h(event)));
      const self = heard.length - 1;
      const store = new RunLogStore({
        run: 'r',
        events: bench.events,
        send: there.send,
        storage,
        retryAfter: 5,
        alone,
        others: {
          tell: (event) => heard.forEach((h, i) => i !== self && h(event)),
          hear: (listener) => void hears.push(listener),
        },
      });
      store.resume();
      return store;
    };
    const [one, two] = [window(), window()];
    there.gone = true;
    one.append(reading('2.500'), 'Ada', done);
    two.keepChanged(null);
    expect(texts(two)).toEqual(['2.500']);
    two.append(reading('2.501', 2), 'Ada', done);
    one.keepChanged(null);
    expect(texts(one)).toEqual(['2.500', '2.501']);
    there.gone = false;
    await vi.waitFor(() => expect(storage.length).toBe(0));
    for (const store of [one, two]) {
      store.keepChanged(null);
      expect(texts(store)).toEqual(['2.500', '2.501']);
      expect(store.getSnapshot().pending).toHaveLength(0);
    }
    expect(there.events).toHaveLength(bench.events.length + 2);
  });
  it('a browser without room says so, and keeps what is pending in the window', async () => {
    const there = server(bench.events);
    const storage = memory(1);
    there.gone = true;
    const store = open(bench.events, there.send, storage);
    store.append(reading('2.500'), 'Ada', done);
    expect(store.getSnapshot().isFull).toBe(false);
    store.append(reading('2.501', 2), 'Ada', done);
    expect(store.getSnapshot()).toMatchObject({
      isFull: true,
      pending: [{ act: reading('2.500') }, { act: reading('2.501', 2) }],
    });
    there.gone = false;
    await vi.waitFor(() => expect(store.getSnapshot().pending).toHaveLength(0));
    expect(store.getSnapshot().isFull).toBe(false);
    expect(texts(store)).toEqual(['2.500', '2.501']);
  });
  it('shows after every act what the whole log would give, folded from its beginning', async () => {
    const there = server(bench.events);
    const store = open(bench.events, there.send);
    for (const [i, text] of ['2.500', '2.501', '2.502'].entries()) store.append(reading(text, i + 1), 'Ada', done);
    await vi.waitFor(() => expect(store.getSnapshot().pending).toHaveLength(0));
    const whole = runState(there.events);
    const { state } = store.getSnapshot();
    expect([...state.live.keys()]).toEqual([...whole.live.keys()]);
    expect(state.firstOpen).toBe(whole.firstOpen);
    expect(state.sequence).toBe(whole.sequence);
  });
  it('an act the server refuses is said, and stands in the list, not on the sheet', async () => {
    const store = open(bench.events, async () => refused(422, 'Not so.'));
    store.append(reading('2.500'), 'Ada', done);
    await vi.waitFor(() => expect(store.getSnapshot().trouble).toEqual({ message: 'Not so.' }));
    expect(texts(store)).toEqual([]);
    expect(store.getSnapshot().pending.map((p) => p.act)).toEqual([reading('2.500')]);
  });
});
