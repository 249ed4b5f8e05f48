"use client";
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from "react";
import {
  columnFilteringFeature,
  columnOrderingFeature,
  columnVisibilityFeature,
  createFilteredRowModel,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type ColumnFiltersState,
  type SortingState,
} from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { ArrowDown, ArrowUp, Columns3 } from "lucide-react";
import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { amountText } from "@/core/shared";
import { ExportMenu } from "./ExportMenu";
import type { ExportCell } from "./exportTable";

export interface TableColumn<T> {
  key: string;
  header: string;
  /** Pixels; a column without a width takes what is left. */
  width?: number;
  align?: "right";
  /**
   * What the column sorts, filters and exports by. Bigints are minor units of the row's currency, or
   * of the table's where the column is functional.
   */
  value: (row: T) => string | number | bigint | null;
  cell?: (row: T) => ReactNode;
  /** Summed in the footer by currency, over the rows shown or selected that count. */
  sum?: boolean;
  /** In the table's currency, whatever the row's is. */
  functional?: boolean;
  hidden?: boolean;
}

interface Props<T> {
  /** Names the table where a person's choice of columns is kept. */
  name: string;
  rows: readonly T[];
  columns: readonly TableColumn<T>[];
  rowKey: (row: T) => string;
  currency: string;
  /** The currency of a row's amounts, where rows are in several. */
  currencyOf?: (row: T) => string;
  /** Whether a row counts in the totals; drafts and what was cancelled do not. */
  counts?: (row: T) => boolean;
  /** What the total is called where not every row counts: "Total posted". */
  totalName?: string;
  /** How many rows there are in all, where these are only the newest of them. */
  of?: number | undefined;
  onOpen?: (row: T) => void;
  selectable?: boolean;
  onSelect?: (keys: string[]) => void;
  empty: ReactNode;
  /** Columns kept from last time, as "key,key|hidden,hidden". */
  kept?: string | undefined;
  keep?: (value: string) => void;
  extra?: ReactNode;
}

const features = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  columnVisibilityFeature,
  columnOrderingFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
});
const ROW = 28;

/**
 * The one table of the application: sort, filter in the heading, choose and order columns,
 * keyboard, selection with sums, export of what is shown.
 */
export function DataTable<T>({
  name,
  rows,
  columns,
  rowKey,
  currency,
  currencyOf,
  counts,
  totalName = "Total shown",
  of,
  onOpen,
  selectable,
  onSelect,
  empty,
  kept,
  keep,
  extra,
}: Props<T>) {
  const [order, hidden] = useMemo(() => {
    const [o = "", h = ""] = (kept ?? "").split("|");
    return [
      o.split(",").filter((k) => columns.some((c) => c.key === k)),
      kept === undefined
        ? columns.filter((c) => c.hidden).map((c) => c.key)
        : h.split(",").filter(Boolean),
    ];
  }, [kept, columns]);
  const [sorting, setSorting] = useState<SortingState>([]);
  const [filters, setFilters] = useState<ColumnFiltersState>([]);
  const [columnOrder, setColumnOrder] = useState<string[]>(
    order.length === columns.length ? order : columns.map((c) => c.key),
  );
  const [visibility, setVisibility] = useState<Record<string, boolean>>(
    Object.fromEntries(hidden.map((k) => [k, false])),
  );
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [at, setAt] = useState(0);
  const scroller = useRef<HTMLDivElement>(null);

  const byKey = useMemo(() => new Map(columns.map((c) => [c.key, c])), [columns]);
  const unitOf = (column: TableColumn<T>, row: T): string =>
    column.functional || !currencyOf ? currency : currencyOf(row);
  const text = (column: TableColumn<T>, row: T): string => {
    const value = column.value(row);
    return typeof value === "bigint"
      ? amountText(value, unitOf(column, row))
      : value === null
        ? ""
        : String(value);
  };
  const definitions = useMemo(
    () =>
      columns.map((c): ColumnDef<typeof features, { row: T }> => ({
        id: c.key,
        accessorFn: (r) => c.value(r.row),
        header: c.header,
        sortFn: (a, b, id) => compare(a.getValue(id), b.getValue(id)),
        filterFn: (r, _id, wanted) =>
          text(c, r.original.row).toLowerCase().includes(String(wanted).toLowerCase()),
      })),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `text` only formats
    [columns, currency],
  );
  const data = useMemo(() => rows.map((row) => ({ row })), [rows]);
  const table = useTable({
    features,
    columns: definitions,
    data,
    state: { sorting, columnFilters: filters, columnOrder, columnVisibility: visibility },
    onSortingChange: setSorting,
    onColumnFiltersChange: setFilters,
    onColumnOrderChange: setColumnOrder,
    onColumnVisibilityChange: setVisibility,
  });
  const shown = table.getRowModel().rows.map((r) => r.original.row);
  const visible = columnOrder
    .map((k) => byKey.get(k)!)
    .filter((c) => c && visibility[c.key] !== false);
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 20,
  });
  const remember = (nextOrder: string[], nextVisibility: Record<string, boolean>) =>
    keep?.(
      `${nextOrder.join(",")}|${Object.keys(nextVisibility)
        .filter((k) => nextVisibility[k] === false)
        .join(",")}`,
    );
  useEffect(() => onSelect?.([...selected]), [selected, onSelect]);

  const toggle = (key: string) =>
    setSelected((s) => {
      const next = new Set(s);
      if (!next.delete(key)) next.add(key);
      return next;
    });
  const move = (to: number) => {
    const next = Math.max(0, Math.min(shown.length - 1, to));
    setAt(next);
    virtual.scrollToIndex(next);
    requestAnimationFrame(() =>
      scroller.current?.querySelector<HTMLElement>(`[data-row="${next}"]`)?.focus(),
    );
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.target instanceof HTMLInputElement && event.target.type === "text") return;
    const row = shown[at];
    const steps: Record<string, number> = {
      ArrowDown: at + 1,
      ArrowUp: at - 1,
      PageDown: at + 20,
      PageUp: at - 20,
      Home: 0,
      End: shown.length - 1,
    };
    if (event.key in steps) {
      event.preventDefault();
      move(steps[event.key]!);
    } else if (
      event.key === "Enter" &&
      row &&
      onOpen &&
      !(event.target instanceof HTMLButtonElement)
    ) {
      event.preventDefault();
      onOpen(row);
    } else if (event.key === " " && row && selectable) {
      event.preventDefault();
      toggle(rowKey(row));
    }
  };
  const chosen = selected.size > 0 ? shown.filter((r) => selected.has(rowKey(r))) : shown;
  const summed = counts ? chosen.filter(counts) : chosen;
  const units = [...new Set(summed.map((r) => currencyOf?.(r) ?? currency))].sort();
  const totals = units.length > 0 ? units : [currency];
  /** A functional column has one total, which stands in the first line. */
  const totalText = (c: TableColumn<T>, unit: string): string => {
    if (c.functional && unit !== totals[0]) return "";
    const own = c.functional ? summed : summed.filter((r) => unitOf(c, r) === unit);
    const sum = own.reduce((t, r) => t + BigInt(c.value(r) ?? 0), 0n);
    return amountText(sum, c.functional ? currency : unit);
  };
  const items = virtual.getVirtualItems();
  const before = items[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  const cells = (row: T): ExportCell[] =>
    visible.map((c) => {
      const value = c.value(row);
      return typeof value === "bigint" ? { amount: value, currency: unitOf(c, row) } : value;
    });

  return (
    <div
      className="panel flex min-h-0 flex-1 flex-col overflow-hidden"
      data-keys={`↑ ↓=Between the rows${onOpen ? ";Enter=Open the row" : ""}${selectable ? ";Space=Select the row" : ""}`}
    >
      <div className="no-print flex h-9 shrink-0 items-center gap-2 border-b border-line px-3">
        <span className="text-ink-2">
          {selected.size > 0
            ? `${selected.size} selected of ${rows.length}`
            : shown.length === rows.length
              ? `${rows.length} ${rows.length === 1 ? "row" : "rows"}`
              : `${shown.length} of ${rows.length} rows`}
        </span>
        {of !== undefined && of > rows.length && (
          <span role="status" className="font-semibold text-coral">
            The newest {rows.length.toLocaleString("en")} of {of.toLocaleString("en")}: filters,
            totals and downloads know only these. Choose fewer months, or search.
          </span>
        )}
        {filters.length > 0 && (
          <button type="button" className="link text-xs" onClick={() => setFilters([])}>
            Clear filters
          </button>
        )}
        <span className="ml-auto flex items-center gap-1">
          {extra}
          <Popover>
            <PopoverButton className="button button-plain h-7" aria-label="Choose columns">
              <Columns3 size={15} aria-hidden />
              Columns
            </PopoverButton>
            <PopoverPanel
              anchor="bottom end"
              className="z-30 w-60 rounded-lg border border-line bg-panel p-2 shadow-[0_10px_30px_#0b2f3a2b]"
            >
              {columnOrder.map((key, i) => (
                <div key={key} className="flex items-center gap-2 py-0.5">
                  <label className="flex flex-1 items-center gap-2">
                    <input
                      type="checkbox"
                      checked={visibility[key] !== false}
                      onChange={(e) => {
                        const next = { ...visibility, [key]: e.target.checked };
                        setVisibility(next);
                        remember(columnOrder, next);
                      }}
                    />
                    {byKey.get(key)?.header}
                  </label>
                  {(
                    [
                      ["Up", -1, ArrowUp],
                      ["Down", 1, ArrowDown],
                    ] as const
                  ).map(([word, by, Icon]) => (
                    <button
                      key={word}
                      type="button"
                      aria-label={`${word}: ${byKey.get(key)?.header}`}
                      disabled={i + by < 0 || i + by >= columnOrder.length}
                      className="rounded p-1 hover:bg-shade disabled:opacity-30"
                      onClick={() => {
                        const next = [...columnOrder];
                        [next[i], next[i + by]] = [next[i + by]!, next[i]!];
                        setColumnOrder(next);
                        remember(next, visibility);
                      }}
                    >
                      <Icon size={13} />
                    </button>
                  ))}
                </div>
              ))}
            </PopoverPanel>
          </Popover>
          <ExportMenu name={name} headers={visible.map((c) => c.header)} rows={shown.map(cells)} />
        </span>
      </div>
      <div ref={scroller} className="print-flow min-h-0 flex-1 overflow-auto" onKeyDown={onKey}>
        <table
          className="sheet"
          style={{
            tableLayout: "fixed",
            minWidth: visible.reduce((w, c) => w + (c.width ?? 160), selectable ? 34 : 0),
          }}
          aria-rowcount={shown.length}
        >
          <colgroup>
            {selectable && <col style={{ width: 34 }} />}
            {visible.map((c) => (
              <col key={c.key} style={c.width ? { width: c.width } : {}} />
            ))}
          </colgroup>
          <thead>
            <tr>
              {selectable && (
                <th>
                  <input
                    type="checkbox"
                    aria-label="Select all rows shown"
                    checked={shown.length > 0 && shown.every((r) => selected.has(rowKey(r)))}
                    onChange={(e) =>
                      setSelected(e.target.checked ? new Set(shown.map(rowKey)) : new Set())
                    }
                  />
                </th>
              )}
              {visible.map((c) => {
                const direction = sorting.find((s) => s.id === c.key);
                return (
                  <th
                    key={c.key}
                    className={c.align === "right" ? "num" : ""}
                    aria-sort={direction ? (direction.desc ? "descending" : "ascending") : "none"}
                  >
                    <button
                      type="button"
                      className="inline-flex items-center gap-1 font-semibold"
                      onClick={() =>
                        setSorting(
                          direction
                            ? direction.desc
                              ? []
                              : [{ id: c.key, desc: true }]
                            : [{ id: c.key, desc: false }],
                        )
                      }
                    >
                      {c.header}
                      {direction &&
                        (direction.desc ? (
                          <ArrowDown size={12} aria-hidden />
                        ) : (
                          <ArrowUp size={12} aria-hidden />
                        ))}
                    </button>
                  </th>
                );
              })}
            </tr>
            <tr className="no-print">
              {selectable && <th style={{ top: 30 }} aria-label="Selection" />}
              {visible.map((c) => (
                <th key={c.key} style={{ top: 30, paddingLeft: 5, paddingRight: 5 }}>
                  <input
                    type="text"
                    aria-label={`Filter ${c.header}`}
                    placeholder="filter"
                    value={String(filters.find((f) => f.id === c.key)?.value ?? "")}
                    onChange={(e) =>
                      setFilters((f) => [
                        ...f.filter((x) => x.id !== c.key),
                        ...(e.target.value ? [{ id: c.key, value: e.target.value }] : []),
                      ])
                    }
                    className={`h-[22px] w-full rounded border border-transparent bg-transparent px-1 font-normal placeholder:text-ink-3/60 hover:border-line focus:border-line focus:bg-panel ${c.align === "right" ? "text-right" : ""}`}
                  />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {before > 0 && (
              <tr aria-hidden>
                <td style={{ height: before }} />
              </tr>
            )}
            {items.map((item) => {
              const row = shown[item.index]!;
              const key = rowKey(row);
              return (
                <tr
                  key={key}
                  data-row={item.index}
                  tabIndex={item.index === Math.min(at, shown.length - 1) ? 0 : -1}
                  aria-rowindex={item.index + 1}
                  aria-selected={selectable ? selected.has(key) : undefined}
                  onFocus={() => setAt(item.index)}
                  onClick={(e) => {
                    if (!(e.target as HTMLElement).closest("button,a,input")) onOpen?.(row);
                  }}
                  className={`outline-offset-[-2px] ${onOpen ? "cursor-pointer" : ""}`}
                >
                  {selectable && (
                    <td>
                      <input
                        type="checkbox"
                        aria-label="Select row"
                        checked={selected.has(key)}
                        onChange={() => toggle(key)}
                        tabIndex={-1}
                      />
                    </td>
                  )}
                  {visible.map((c) => (
                    <td
                      key={c.key}
                      className={c.align === "right" ? "num" : ""}
                      title={c.cell ? undefined : text(c, row)}
                    >
                      {c.cell ? c.cell(row) : text(c, row)}
                    </td>
                  ))}
                </tr>
              );
            })}
            {after > 0 && (
              <tr aria-hidden>
                <td style={{ height: after }} />
              </tr>
            )}
          </tbody>
          {columns.some((c) => c.sum) && shown.length > 0 && (
            <tfoot>
              {totals.map((unit) => (
                <tr key={unit}>
                  {selectable && <td />}
                  {visible.map((c, i) => (
                    <td key={c.key} className={c.align === "right" ? "num" : ""}>
                      {c.sum
                        ? totalText(c, unit)
                        : i === 0
                          ? `${selected.size > 0 ? "Selected" : totalName}${totals.length > 1 ? `, ${unit}` : ""}`
                          : ""}
                    </td>
                  ))}
                </tr>
              ))}
            </tfoot>
          )}
        </table>
        {shown.length === 0 &&
          (rows.length === 0 ? (
            empty
          ) : (
            <p className="p-8 text-center text-ink-2">No row meets the filters.</p>
          ))}
      </div>
    </div>
  );
}

function compare(a: unknown, b: unknown): number {
  if (typeof a === "bigint" && typeof b === "bigint") return a < b ? -1 : a > b ? 1 : 0;
  if (typeof a === "number" && typeof b === "number") return a - b;
  return String(a ?? "").localeCompare(String(b ?? ""), "en", { numeric: true });
}
