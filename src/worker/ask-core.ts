import type { DoorAnswer } from '../core/door/verbs';
import type { WorkerReply, WorkerRequest } from './core-worker';

export type CoreQuestion = { answer: Promise<DoorAnswer>; cancel: () => void };

/** Answers one verb in a worker of its own, so that the page never waits; cancelling ends the worker. */
export function askCore(verb: string, document: unknown, progress: (done: number, of: number) => void = () => {}): CoreQuestion {
  const worker = new Worker(new URL('./core-worker.ts', import.meta.url), { type: 'module' });
  let cancel = () => {};
  const answer = new Promise<DoorAnswer>((resolve) => {
    cancel = () => {
      worker.terminate();
      resolve({ ok: false, refusal: { error: { message: 'Cancelled.', path: [] } } });
    };
    worker.addEventListener('message', ({ data }: MessageEvent<WorkerReply>) => {
      if ('progress' in data) progress(data.progress.done, data.progress.of);
      else if ('answer' in data) {
        worker.terminate();
        resolve(data.answer);
      }
    });
    worker.addEventListener('error', () => {
      worker.terminate();
      resolve({ ok: false, refusal: { error: { message: 'The computation could not be started in this browser.', path: [] } } });
    });
    worker.postMessage({ id: 1, verb, document } satisfies WorkerRequest);
  });
  return { answer, cancel: () => cancel() };
}
