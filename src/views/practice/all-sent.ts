import type { BenchLog } from '../run/use-run-log';

/** Waits until the server has everything that was entered: what is asked while an entry is on its way is done once that is recorded. */
export async function allSent({ store }: BenchLog): Promise<void> {
  while (store.getSnapshot().pending.length > 0 && !store.getSnapshot().trouble)
    await new Promise((resolve) => setTimeout(resolve, 50));
}
