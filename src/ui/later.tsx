import { lazy, Suspense, type ComponentType } from 'react';

/** How long a part that did not come is waited for before it is asked for again, in milliseconds. */
const again = 2000;

/** Parts whose script has not been asked for yet. */
const waiting = new Set<() => Promise<unknown>>();

async function patiently<T>(load: () => Promise<T>): Promise<T> {
  for (;;) {
    try {
      return await load();
    } catch {
      await new Promise((resolve) => setTimeout(resolve, again));
    }
  }
}

/** A part whose script comes after the page: it is fetched by `fetchLater`, or when it is first wanted, whichever is sooner. */
export function later<P extends object>(load: () => Promise<ComponentType<P>>): ComponentType<P> {
  type Module = { default: ComponentType<P> };
  let coming: Promise<Module> | null = null;
  let here: Module | null = null;
  const fetch = () => (coming ??= patiently(load).then((part) => (here = { default: part })));
  waiting.add(fetch);
  // What is here already is given at once: a promise, even a kept one, would show the words below for a moment.
  const atOnce = (module: Module) => ({ then: (take: (m: Module) => void) => take(module) }) as unknown as Promise<Module>;
  const Part = lazy(() => (here ? atOnce(here) : fetch()));
  return function Later(props: P) {
    return (
      <Suspense fallback={<p className="text-soft">One moment…</p>}>
        <Part {...props} />
      </Suspense>
    );
  };
}

/** Waits until all parts are there, and those that they bring: a page from the server has no gaps that a script would have to fill. */
export async function allHere(): Promise<void> {
  while (waiting.size > 0) {
    const parts = [...waiting];
    waiting.clear();
    await Promise.all(parts.map((fetch) => fetch()));
  }
}

/** Fetches all parts that come later, so that none is missing when the server is gone. To be called once the page stands. */
export function fetchLater(): void {
  for (const fetch of waiting) void fetch();
  waiting.clear();
}
