import { lazy, Suspense, use, useEffect, useState, useSyncExternalStore, type ComponentType } from 'react';

/** How long a part that did not come is waited for before it is asked for again, in milliseconds. */
const again = 2000;

/** Parts whose script has not been asked for yet, and drawings, which stand in no markup from the server. */
const waiting = new Set<() => Promise<unknown>>();
const drawings = new Set<() => Promise<unknown>>();

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

/**
 * A drawing that is made in the browser alone: its place stands from the first on, of its height in CSS pixels, and nothing jumps when
 * the script has come.
 */
export function drawnLater<P extends object>(
  load: () => Promise<ComponentType<P>>,
  height: (props: P) => number,
): ComponentType<P> {
  let here: ComponentType<P> | null = null;
  let coming: Promise<ComponentType<P>> | null = null;
  const fetch = () => (coming ??= patiently(load).then((part) => (here = part)));
  drawings.add(fetch);
  return function DrawnLater(props: P) {
    const [Part, setPart] = useState(() => here);
    useEffect(() => {
      let isShown = true;
      void fetch().then((part) => isShown && setPart(() => part));
      return () => void (isShown = false);
    }, []);
    return <div style={{ height: height(props) }}>{Part && <Part {...props} />}</div>;
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
  for (const fetch of [...waiting, ...drawings]) void fetch();
  waiting.clear();
  drawings.clear();
}

/** All parts of this page, asked for once and kept. */
let arriving: Promise<void> | null = null;

/** True in the markup from the server and while a page wakes up over it. */
const useIsWaking = (): boolean =>
  useSyncExternalStore(
    () => () => undefined,
    () => false,
    () => true,
  );

/**
 * An island that wakes up whole: the markup from the server stands as it is until all its parts have come. Waking part by part, it would
 * take the keyboard for an entry that does not listen yet, and what is typed then would be lost.
 */
export function whole<P extends object>(Part: ComponentType<P>): ComponentType<P> {
  function Waking(props: P) {
    if (useIsWaking() && !import.meta.env.SSR) use((arriving ??= allHere()));
    return <Part {...props} />;
  }
  return function Whole(props: P) {
    return (
      <Suspense fallback={null}>
        <Waking {...props} />
      </Suspense>
    );
  };
}
