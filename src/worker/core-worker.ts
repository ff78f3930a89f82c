import { betterPlans } from '../core/day/day';
import type { DayAnswer, DayQuestion } from '../core/day/day-schema';
import { weighedAtBench, type Weighed } from '../core/diagnose/diagnose';
import type { DiagnoseQuestion } from '../core/diagnose/diagnose-schema';
import { answerVerb, type DoorAnswer } from '../core/door/verbs';
import { blockSize } from '../core/montecarlo/block-program';
import { localBlocks, montecarlo, type BlockSource } from '../core/montecarlo/montecarlo';
import { montecarloSchema, type MontecarloQuestion } from '../core/montecarlo/montecarlo-schema';

/** What the worker is asked: any verb of the door, blocks of trials for another worker, what errors look like at the bench, or some days. */
export type WorkerRequest =
  | { id: number; verb: string; document: unknown }
  | { id: number; blocks: { question: MontecarloQuestion; from: number; count: number } }
  | { id: number; looks: DiagnoseQuestion[] }
  | { id: number; days: DayQuestion };
export type WorkerReply =
  | { id: number; progress: { done: number; of: number } }
  | { id: number; answer: DoorAnswer }
  | { id: number; values: Float64Array }
  | { id: number; weighed: Weighed[][] }
  | { id: number; plan: DayAnswer; isLast: boolean };

const post = (reply: WorkerReply, transfer: Transferable[] = []) => (self as unknown as Worker).postMessage(reply, transfer);

/** Shares the blocks of a question between this worker and one more where a second core is there. */
function sharedBlocks(question: MontecarloQuestion): { source: BlockSource; close: () => void } {
  const helper =
    (navigator.hardwareConcurrency ?? 1) > 1
      ? new Worker(new URL('./core-worker.ts', import.meta.url), { type: 'module' })
      : null;
  const waiting = new Map<number, (values: Float64Array) => void>();
  helper?.addEventListener('message', ({ data }: MessageEvent<WorkerReply>) => {
    if ('values' in data) waiting.get(data.id)?.(data.values);
  });
  const here = localBlocks(question);
  let next = 0;
  const source: BlockSource = async (from, count) => {
    const theirs = helper ? Math.floor(count / 2) : 0;
    const own = count - theirs;
    const id = next++;
    const promised = theirs ? new Promise<Float64Array>((resolve) => waiting.set(id, resolve)) : null;
    if (theirs) helper!.postMessage({ id, blocks: { question, from: from + own, count: theirs } } satisfies WorkerRequest);
    const values = new Float64Array(count * blockSize);
    values.set(here(from, own));
    if (promised) values.set(await promised, own * blockSize);
    return values;
  };
  return { source, close: () => helper?.terminate() };
}

async function answer(id: number, verb: string, document: unknown): Promise<DoorAnswer> {
  const parsed = verb === 'montecarlo' ? montecarloSchema.safeParse(document) : null;
  // Small questions are not worth a second thread; faulty ones get their refusal from the door.
  if (!parsed?.success || (parsed.data.trials ?? parsed.data.adaptive!.maximumTrials) < 200_000)
    return answerVerb(verb, JSON.stringify(document));
  try {
    const { source, close } = sharedBlocks(parsed.data);
    const result = await montecarlo(parsed.data, source, (done, of) => post({ id, progress: { done, of } })).finally(close);
    return { ok: true, document: result };
  } catch (error) {
    if (error instanceof Error && 'path' in error)
      return { ok: false, refusal: { error: { message: error.message, path: error.path as (string | number)[] } } };
    throw error;
  }
}

/** How often a better plan is told, in ms. */
const toldEvery = 150;

/** Tells plans as they become better, the first at once. */
function tellPlans(id: number, question: DayQuestion): void {
  let [plan, told]: [DayAnswer | null, number] = [null, -Infinity];
  for (plan of betterPlans(question))
    if (performance.now() - told > toldEvery) {
      post({ id, plan, isLast: false });
      told = performance.now();
    }
  post({ id, plan: plan ?? { entries: [], finished: [], late: [], why: {} }, isLast: true });
}

self.addEventListener('message', async ({ data }: MessageEvent<WorkerRequest>) => {
  if ('blocks' in data) {
    const { question, from, count } = data.blocks;
    const values = localBlocks(question)(from, count);
    return post({ id: data.id, values }, [values.buffer]);
  }
  if ('days' in data) return tellPlans(data.id, data.days);
  if ('looks' in data) return post({ id: data.id, weighed: data.looks.map(weighedAtBench) });
  try {
    post({ id: data.id, answer: await answer(data.id, data.verb, data.document) });
  } catch {
    post({
      id: data.id,
      answer: {
        ok: false,
        refusal: { error: { message: 'The computation failed in itself. Please report this budget.', path: [] } },
      },
    });
  }
});
