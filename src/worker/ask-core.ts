import type { DoorAnswer } from '../core/door/verbs';
import type { Weighed } from '../core/diagnose/diagnose';
import type { DiagnoseQuestion } from '../core/diagnose/diagnose-schema';
import type { DayAnswer, DayQuestion } from '../core/day/day-schema';
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

/** Weighs what errors look like in a worker of its own; null where the browser has none, or it failed. */
export async function askLooks(questions: DiagnoseQuestion[]): Promise<Weighed[][] | null> {
  const worker = new Worker(new URL('./core-worker.ts', import.meta.url), { type: 'module' });
  const answer = await new Promise<Weighed[][] | null>((resolve) => {
    worker.addEventListener('message', ({ data }: MessageEvent<WorkerReply>) => {
      if ('weighed' in data) resolve(data.weighed);
    });
    worker.addEventListener('error', () => resolve(null));
    worker.postMessage({ id: 1, looks: questions } satisfies WorkerRequest);
  });
  worker.terminate();
  return answer;
}

/** Asks how some days are best filled, in a worker of its own: each better plan is told. @returns ends it; the best so far stands */
export function askDays(question: DayQuestion, told: (plan: DayAnswer, isLast: boolean) => void): () => void {
  const worker = new Worker(new URL('./core-worker.ts', import.meta.url), { type: 'module' });
  worker.addEventListener('message', ({ data }: MessageEvent<WorkerReply>) => {
    if (!('plan' in data)) return;
    told(data.plan, data.isLast);
    if (data.isLast) worker.terminate();
  });
  worker.postMessage({ id: 1, days: question } satisfies WorkerRequest);
  return () => worker.terminate();
}
