import { useEffect, useRef, type ReactNode } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';

type Props = {
  head: ReactNode;
  count: number;
  rowHeight: number;
  /** Columns of the table, for the empty rows that hold its place. */ columns: number;
  /** The row of the present entry, which stays in sight; −1 where there is none. */ here: number;
  row: (index: number) => ReactNode;
};

/** A sheet of many rows of which only those in sight are drawn. */
export function LongSheet({ head, count, rowHeight, columns, here, row }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- nothing of it is handed to what is memoised
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 6,
  });
  useEffect(() => {
    if (here >= 0) virtual.scrollToIndex(here, { align: 'auto' });
  }, [here, virtual]);
  const items = virtual.getVirtualItems();
  const filler = (height: number, key: string) =>
    height > 0 && (
      <tr key={key} aria-hidden style={{ height }}>
        <td colSpan={columns} />
      </tr>
    );
  return (
    <div ref={scroller} className="max-h-[60vh] overflow-auto">
      <table className="w-full border-collapse bg-sheet text-base">
        {head}
        <tbody>
          {[
            filler(items[0]?.start ?? 0, 'before'),
            ...items.map((v) => row(v.index)),
            filler(virtual.getTotalSize() - (items.at(-1)?.end ?? 0), 'after'),
          ]}
        </tbody>
      </table>
    </div>
  );
}
