import { useLayoutEffect, useRef, useState, type ReactNode } from 'react';

/** Where columns stand beside each other the panel has the height of the screen; below each other it is as long as it needs to be. */
const beside = '(min-width: 1100px)';

/** Shows something at the end of a panel where there is room for all of it: half a drawing tells nobody anything. */
export function WhereRoom({ height, children }: { /** What it needs, in px. */ height: number; children: ReactNode }) {
  const mark = useRef<HTMLDivElement>(null);
  const [hasRoom, setHasRoom] = useState(true);
  useLayoutEffect(() => {
    const panel = mark.current?.closest('section');
    if (!panel) return;
    const look = () => {
      const foot = panel.lastElementChild;
      const top = mark.current!.getBoundingClientRect().top + panel.scrollTop;
      const room = panel.getBoundingClientRect().bottom - top - (foot?.clientHeight ?? 0);
      setHasRoom(!matchMedia(beside).matches || room >= height);
    };
    look();
    const watch = new ResizeObserver(look);
    watch.observe(panel);
    // What stands before it grows and shrinks with what is said.
    for (const before of mark.current!.parentElement!.children) watch.observe(before);
    return () => watch.disconnect();
  });
  return <div ref={mark}>{hasRoom && children}</div>;
}
