import { Writable } from 'node:stream';
import { renderToPipeableStream, renderToString } from 'react-dom/server';
import { describe, expect, it, vi } from 'vitest';
import { fetchLater, later } from './later';

/** The markup once everything in it has come. */
const rendered = (what: React.ReactNode): Promise<string> =>
  new Promise((resolve) => {
    let html = '';
    const sink = new Writable({
      write: (chunk: Buffer, _encoding, done) => {
        html += chunk.toString();
        done();
      },
      final: () => resolve(html),
    });
    const { pipe } = renderToPipeableStream(what, { onAllReady: () => pipe(sink) });
  });

describe('a part that comes later', () => {
  it('is asked for again when it did not come, and once only', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout'] });
    const load = vi
      .fn<() => Promise<(props: { text: string }) => React.ReactNode>>()
      .mockRejectedValueOnce(new Error('the server is gone'))
      .mockResolvedValue(({ text }) => <p>{text}</p>);
    const Part = later(load);
    fetchLater();
    fetchLater();
    await vi.advanceTimersByTimeAsync(1999);
    expect(load).toHaveBeenCalledTimes(1);
    await vi.advanceTimersByTimeAsync(1);
    expect(load).toHaveBeenCalledTimes(2);
    vi.useRealTimers();
    // What has come stands there at once, without a word of waiting.
    expect(renderToString(<Part text="ten" />)).toContain('<p>ten</p>');
    expect(await rendered(<Part text="ten" />)).toContain('<p>ten</p>');
    expect(load).toHaveBeenCalledTimes(2);
  });
});
