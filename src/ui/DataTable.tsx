import { useEffect, useRef, useState, type ReactNode } from 'react';
import { ArrowDown, ArrowUp } from 'lucide-react';
import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type Row,
  type RowData,
} from '@tanstack/react-table';
import { useWindowVirtualizer } from '@tanstack/react-virtual';

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel() });

type SortKey = string | number | null;
export type DataColumn<T> = {
  id: string;
  title: ReactNode;
  cell: (row: T) => ReactNode;
  /** What the column is sorted by; without it, it is not. Nothing (null) stands last. */
  sortBy?: (row: T) => SortKey;
  /** Sorted by the server: the column leads to an address. */
  isServerSorted?: boolean;
  align?: 'right';
  /** Left out on a narrow screen. */
  isWideOnly?: boolean;
  className?: string;
};

/** Rows that a server has sorted: by what, and where another order is to be had. */
export type ServerOrder = { by: string; isDescending: boolean; address: (by: string, isDescending: boolean) => string };

/** More rows than this are drawn only where they are in sight. */
const manyRows = 100;

const compare = (a: SortKey, b: SortKey): number =>
  typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b), 'en', { numeric: true });

const columnsOf = <T extends RowData>(columns: readonly DataColumn<T>[]) => {
  const helper = createColumnHelper<typeof features, T>();
  return columns.map((c) =>
    helper.accessor((row: T): unknown => c.sortBy?.(row) ?? undefined, {
      id: c.id,
      enableSorting: c.sortBy !== undefined,
      sortUndefined: 'last',
      sortFn: (a: Row<typeof features, T>, b: Row<typeof features, T>) => compare(c.sortBy!(a.original), c.sortBy!(b.original)),
    }),
  );
};

/** A list as a table: sorted by a heading that is pressed, long ones drawn where they are in sight; on a phone a line becomes a card. */
export function DataTable<T extends RowData>({
  label,
  columns,
  rows,
  idOf,
  isSmall = false,
  order,
}: {
  label: string;
  /** Kept at the level of the module: the table is built from it once. */ columns: readonly DataColumn<T>[];
  rows: readonly T[];
  idOf: (row: T) => string;
  isSmall?: boolean;
  order?: ServerOrder;
}) {
  const [built] = useState(() => columnsOf(columns));
  const table = useTable({
    features,
    columns: built,
    data: rows as T[],
    getRowId: idOf,
    enableSortingRemoval: true,
    enableMultiSort: false,
    sortDescFirst: false,
  });
  const sorted = table.getRowModel().rows;
  const sorting = order ? { id: order.by, desc: order.isDescending } : table.state.sorting[0];
  const pad = isSmall ? 'px-2 py-1' : 'px-4 py-1.5';
  const place = (c: DataColumn<T>) =>
    `${pad} ${c.align === 'right' ? 'text-right' : ''} ${c.isWideOnly ? 'max-lg:hidden' : ''} ${c.className ?? ''}`;
  const heading = (c: DataColumn<T>) => {
    const isSorted = sorting?.id === c.id;
    const mark = isSorted && (sorting.desc ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />);
    const look = `inline-flex cursor-pointer items-center gap-1 underline decoration-rule-strong decoration-dotted underline-offset-3 ${isSorted ? 'font-bold text-ink' : ''}`;
    if (order && c.isServerSorted)
      return (
        <a href={order.address(c.id, isSorted && !sorting.desc)} className={look}>
          {c.title} {mark}
        </a>
      );
    if (!c.sortBy) return c.title;
    return (
      <button type="button" className={look} onClick={() => table.getColumn(c.id)!.toggleSorting()}>
        {c.title} {mark}
      </button>
    );
  };
  const line = (row: (typeof sorted)[number]) => (
    <tr key={row.id} className="border-b border-rule hover:bg-paper max-sm:flex max-sm:flex-wrap max-sm:items-center max-sm:py-1">
      {columns.map((c) => (
        <td key={c.id} className={`${place(c)} max-sm:!py-0.5 max-sm:text-left max-sm:first:w-full`}>
          {c.cell(row.original)}
        </td>
      ))}
    </tr>
  );
  return (
    <table
      aria-label={label}
      className={`w-full border-collapse bg-sheet max-sm:block max-sm:[&>tbody]:block ${isSmall ? 'text-sm' : ''}`}
    >
      <thead className="max-sm:sr-only">
        <tr className="border-y border-rule-strong">
          {columns.map((c) => (
            <th
              key={c.id}
              scope="col"
              className={place(c)}
              {...(sorting?.id === c.id ? { 'aria-sort': sorting.desc ? ('descending' as const) : ('ascending' as const) } : {})}
            >
              {heading(c)}
            </th>
          ))}
        </tr>
      </thead>
      {sorted.length > manyRows ? (
        <LongBody count={sorted.length} columns={columns.length} line={(i) => line(sorted[i]!)} />
      ) : (
        <tbody>{sorted.map(line)}</tbody>
      )}
    </table>
  );
}

/** The rows in sight of the window, and room for the others. */
function LongBody({ count, columns, line }: { count: number; columns: number; line: (index: number) => ReactNode }) {
  const body = useRef<HTMLTableSectionElement>(null);
  const [top, setTop] = useState(0);
  useEffect(() => setTop(body.current?.offsetTop ?? 0), []);
  const virtual = useWindowVirtualizer({
    count,
    estimateSize: () => 56,
    overscan: 10,
    scrollMargin: top,
    initialRect: { width: 1280, height: 2000 },
  });
  const items = virtual.getVirtualItems();
  const filler = (height: number) =>
    height > 0 && (
      <tr aria-hidden style={{ height }}>
        <td colSpan={columns} />
      </tr>
    );
  return (
    <tbody ref={body}>
      {filler((items[0]?.start ?? top) - top)}
      {items.map((v) => line(v.index))}
      {filler(virtual.getTotalSize() - ((items.at(-1)?.end ?? top) - top))}
    </tbody>
  );
}
