// Lists: sorted by any column, narrow on a phone, and of any length, as only what is in view is drawn.
import {
  type ColumnDef,
  type RowData,
  type SortingState,
  flexRender,
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
} from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import { count } from "./time";

declare module "@tanstack/react-table" {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  interface ColumnMeta<TData extends RowData, TValue> {
    /** Left out on narrow screens. */
    aside?: boolean;
    right?: boolean;
  }
}

const DRAWN_WHOLE = 80;
const ROW = 37;

export function Table<T>({
  rows,
  columns,
  label,
  rowId,
  more = false,
  onEnd,
  fetching = false,
  height = "65vh",
  sorted,
}: {
  rows: T[];
  columns: ColumnDef<T>[];
  label: string;
  rowId: (row: T) => string;
  more?: boolean;
  onEnd?: () => void;
  fetching?: boolean;
  height?: string;
  sorted?: SortingState;
}) {
  const [sorting, setSorting] = useState<SortingState>(sorted ?? []);
  // Its functions are called while rendering, and kept nowhere.
  // eslint-disable-next-line react-hooks/incompatible-library
  const table = useReactTable({
    data: rows,
    columns,
    state: { sorting },
    onSortingChange: setSorting,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getRowId: rowId,
  });
  const model = table.getRowModel().rows;
  const scroller = useRef<HTMLDivElement>(null);
  const whole = model.length <= DRAWN_WHOLE && !more;
  const virtual = useVirtualizer({
    count: model.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    enabled: !whole,
  });
  const items = virtual.getVirtualItems();
  const lastSeen = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (!whole && more && lastSeen >= model.length - 20) onEnd?.();
  }, [lastSeen, model.length, more, onEnd, whole]);
  const before = whole ? 0 : (items[0]?.start ?? 0);
  const after = whole ? 0 : virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  const drawn = whole ? model : items.flatMap((item) => model[item.index] ?? []);
  return (
    <div>
      <div
        ref={scroller}
        role="region"
        aria-label={label}
        tabIndex={0}
        className="overflow-auto border-y border-hair"
        style={whole ? undefined : { maxHeight: height }}
      >
        <table className="w-full border-collapse" aria-rowcount={more ? -1 : model.length + 1}>
          <thead className="sticky top-0 z-10 bg-paper">
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id}>
                {group.headers.map((header) => {
                  const direction = header.column.getIsSorted();
                  return (
                    <th
                      key={header.id}
                      scope="col"
                      aria-sort={direction === "asc" ? "ascending" : direction === "desc" ? "descending" : undefined}
                      className={
                        `border-b border-hair px-2 py-1.5 text-left ` +
                        `font-medium whitespace-nowrap text-faint first:pl-0 ` +
                        `${header.column.columnDef.meta?.aside ? "max-sm:hidden" : ""} ` +
                        `${header.column.columnDef.meta?.right ? "text-right" : ""}`
                      }
                    >
                      {header.column.getCanSort() && header.column.columnDef.header !== "" ? (
                        <button
                          type="button"
                          className="hover:text-ink"
                          onClick={header.column.getToggleSortingHandler()}
                        >
                          {flexRender(header.column.columnDef.header, header.getContext())}
                          <span aria-hidden="true" className="ml-1 inline-block w-2">
                            {direction === "asc" ? "↑" : direction === "desc" ? "↓" : ""}
                          </span>
                        </button>
                      ) : header.column.columnDef.header === "" ? (
                        <span className="sr-only">Acts</span>
                      ) : (
                        flexRender(header.column.columnDef.header, header.getContext())
                      )}
                    </th>
                  );
                })}
              </tr>
            ))}
          </thead>
          <tbody>
            {before > 0 && (
              <tr aria-hidden="true">
                <td colSpan={columns.length} style={{ height: before }} />
              </tr>
            )}
            {drawn.map((row) => (
              <tr
                key={row.id}
                className="border-b border-hair last:border-b-0 hover:bg-shade"
                aria-rowindex={row.index + 2}
              >
                {row.getVisibleCells().map((cell) => (
                  <td
                    key={cell.id}
                    className={
                      `px-2 py-1.5 align-top first:pl-0 ${cell.column.columnDef.meta?.aside ? "max-sm:hidden" : ""} ` +
                      `${cell.column.columnDef.meta?.right ? "text-right tabular-nums" : ""}`
                    }
                  >
                    {flexRender(cell.column.columnDef.cell, cell.getContext())}
                  </td>
                ))}
              </tr>
            ))}
            {after > 0 && (
              <tr aria-hidden="true">
                <td colSpan={columns.length} style={{ height: after }} />
              </tr>
            )}
          </tbody>
        </table>
      </div>
      <p className="mt-1.5 text-[0.8125rem] text-faint" role="status">
        {fetching
          ? "Reading on"
          : more
            ? `${count(model.length)} so far; more come as you scroll`
            : model.length === 1
              ? "1 in all"
              : `${count(model.length)} in all`}
      </p>
    </div>
  );
}
