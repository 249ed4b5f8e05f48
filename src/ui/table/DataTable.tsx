"use client";
import { useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from "react";
import { useVirtualizer } from "@tanstack/react-virtual";
import { Nought } from "../Amount";
import { ColumnMenu } from "./ColumnMenu";
import { ExportMenu } from "./ExportMenu";
import { cellPlace, fitColumns } from "./fitColumns";
import { FootRows } from "./FootRows";
import { HeadRows } from "./HeadRows";
import type { Pages } from "./pages";
import { isTyping, rowKeys } from "./rowKeys";
import { SavedFilters } from "./SavedFilters";
import { shownCell, exportCell, type TableColumn, type Units } from "./tableColumn";
import { totalsOf } from "./totals";
import { NO_FILTERS, useAsked } from "./useAsked";
import { useChoice, type Ticks } from "./useChoice";
import { useColumns } from "./useColumns";
import { useFirstFocus } from "./useFirstFocus";
import { useReturn } from "./useReturn";
import { useRoom } from "./useRoom";
import { useShownRows } from "./useShownRows";

export type { TableColumn } from "./tableColumn";

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
  /** Where the rows are the first pages of a list that the server sorts, filters and sums. */
  pages?: Pages<T>;
  /** How many rows there are in all, where these are only the newest of them. */
  of?: number | undefined;
  onOpen?: (row: T) => void;
  /** The row that is open beside the table. */
  current?: string | undefined;
  selectable?: boolean;
  /** Ticks that are kept elsewhere, instead of a choice of the table's own. */
  ticks?: Ticks;
  onSelect?: (keys: string[]) => void;
  empty: ReactNode;
  /** Columns kept from last time, as "key,key|hidden,hidden". */
  kept?: string | undefined;
  keep?: (value: string) => void;
  extra?: ReactNode;
}

const ROW = 28;
/** The column of the boxes by which rows are chosen. */
const CHOICE = 34;
/** So near to the end of what is here, the next rows are read. */
const AHEAD = 30;

/**
 * The one table of the application: sort, filter in the heading, choose and order columns,
 * keyboard, selection with sums, export of the whole.
 */
export function DataTable<T>(props: Props<T>) {
  const { rows, columns: all, rowKey, pages, counts } = props;
  const selectable = props.selectable === true || props.ticks !== undefined;
  const tickWords = props.ticks ? "Tick the row" : "Select the row";
  const units: Units<T> = { currency: props.currency, currencyOf: props.currencyOf };
  const columns = useColumns(all, props.kept, props.keep);
  const { visible } = columns;
  const scroller = useRef<HTMLDivElement>(null);
  const room = useRoom(scroller);
  const choosing = selectable ? CHOICE : 0;
  const fitted = fitColumns(visible, room && room - choosing);
  const { sorting, setSorting, filters, setFilter, clear } = useAsked(pages);
  const sorted = useShownRows(
    rows,
    all,
    units,
    pages ? null : sorting,
    pages ? NO_FILTERS : filters,
  );
  const shown = pages ? rows : sorted;
  const {
    selected,
    toggle,
    all: chooseAll,
  } = useChoice(() => shown.map(rowKey), props.ticks, props.onSelect);
  const [at, setAt] = useState(0);
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 20,
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  const wanted = pages?.more === true && !pages.failed && last >= shown.length - AHEAD;
  useEffect(() => {
    if (wanted) pages?.readMore();
  }, [wanted, pages]);

  const drawn = items.length > 0;
  const leave = useReturn(props.name, () => shown.map(rowKey), { scroller, drawn, setAt });
  useFirstFocus(scroller, drawn);
  const open = props.onOpen;
  const onOpen =
    open &&
    ((row: T) => {
      leave(rowKey(row));
      open(row);
    });
  const onKey = rowKeys({ shown, at, setAt, scroller, scrollTo: virtual.scrollToIndex, onOpen });
  const onKeyDown = (event: KeyboardEvent) => {
    const row = shown[at];
    if (event.key === " " && row && selectable && !isTyping(event)) {
      event.preventDefault();
      toggle(rowKey(row), event.shiftKey);
    } else onKey(event);
  };
  const chosen = selected.size > 0 ? shown.filter((r) => selected.has(rowKey(r))) : shown;
  const totals =
    pages && selected.size === 0
      ? pages.totals
      : totalsOf(units, all, counts ? chosen.filter(counts) : chosen);
  const before = items[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  const cells = (row: T) => visible.map((c) => exportCell(units, c, row));
  const whole = pages?.count ?? rows.length;
  const matching = pages ? whole : shown.length;

  return (
    <div
      className="panel flex min-h-0 flex-1 flex-col overflow-hidden"
      data-keys={`↑ ↓=Between the rows${onOpen ? ";Enter=Open the row" : ""}${selectable ? `;Space=${tickWords};Shift Space=The rows up to here` : ""}`}
    >
      <div className="no-print flex h-9 shrink-0 items-center gap-2 border-b border-line px-3">
        <span className="text-ink-2" role="status">
          {selected.size > 0
            ? `${selected.size} ${props.ticks ? "ticked" : "selected"} of ${whole.toLocaleString("en")}`
            : matching === whole
              ? `${whole.toLocaleString("en")} ${whole === 1 ? "row" : "rows"}`
              : `${matching} of ${whole} rows`}
        </span>
        {props.of !== undefined && props.of > rows.length && (
          <span role="status" className="font-semibold text-coral">
            The newest {rows.length.toLocaleString("en")} of {props.of.toLocaleString("en")}:
            filters, totals and downloads know only these. Choose fewer months, or search.
          </span>
        )}
        {Object.keys(filters).length > 0 && (
          <button type="button" className="link text-xs" onClick={clear}>
            Clear filters
          </button>
        )}
        <span className="ml-auto flex items-center gap-1">
          {props.extra}
          {pages && <SavedFilters pages={pages} />}
          <ColumnMenu columns={columns} />
          <ExportMenu
            name={props.name}
            headers={visible.map((c) => c.header)}
            read={async (onProgress) =>
              (pages ? await pages.readAll(onProgress) : shown).map(cells)
            }
          />
        </span>
      </div>
      <div ref={scroller} className="print-flow min-h-0 flex-1 overflow-auto" onKeyDown={onKeyDown}>
        <table
          className="sheet"
          style={{
            tableLayout: "fixed",
            minWidth: fitted.reduce((w, f) => w + (f.width ?? 160), choosing),
          }}
          aria-rowcount={matching}
        >
          <colgroup>
            {selectable && <col style={{ width: CHOICE }} />}
            {visible.map((c, i) => (
              <col key={c.key} style={fitted[i]!.width ? { width: fitted[i]!.width } : {}} />
            ))}
          </colgroup>
          <HeadRows
            columns={visible}
            fitted={fitted}
            sorting={sorting}
            onSort={setSorting}
            filters={filters}
            onFilter={setFilter}
            choose={
              selectable
                ? {
                    all: shown.length > 0 && shown.every((r) => selected.has(rowKey(r))),
                    set: chooseAll,
                  }
                : undefined
            }
          />
          <tbody>
            <Gap height={before} />
            {items.map((item) => {
              const row = shown[item.index]!;
              const key = rowKey(row);
              return (
                <tr
                  key={key}
                  data-row={item.index}
                  tabIndex={item.index === Math.min(at, shown.length - 1) ? 0 : -1}
                  aria-rowindex={item.index + 1}
                  aria-current={props.current === key || undefined}
                  aria-selected={selectable ? selected.has(key) : undefined}
                  onFocus={() => setAt(item.index)}
                  onClick={(e) => {
                    if (!(e.target as HTMLElement).closest("button,a,input")) onOpen?.(row);
                  }}
                  className={`outline-offset-[-2px] aria-[current=true]:bg-sea-2 ${onOpen ? "cursor-pointer" : ""}`}
                >
                  {selectable && (
                    <td>
                      <input
                        type="checkbox"
                        aria-label={props.ticks ? "Tick row" : "Select row"}
                        checked={selected.has(key)}
                        onChange={(e) => toggle(key, (e.nativeEvent as MouseEvent).shiftKey)}
                        tabIndex={-1}
                      />
                    </td>
                  )}
                  {visible.map((c, i) => (
                    <td
                      key={c.key}
                      {...cellPlace(c, fitted[i]!)}
                      title={c.cell ? undefined : shownCell(units, c, row)}
                    >
                      {c.cell
                        ? c.cell(row)
                        : (c.value(row) === 0n && <Nought />) || shownCell(units, c, row)}
                    </td>
                  ))}
                </tr>
              );
            })}
            <Gap height={after} />
          </tbody>
          {all.some((c) => c.sum) && shown.length > 0 && (
            <FootRows
              columns={visible}
              fitted={fitted}
              totals={totals}
              name={
                selected.size > 0
                  ? props.ticks
                    ? "Ticked"
                    : "Selected"
                  : (props.totalName ?? "Total shown")
              }
              currency={props.currency}
              choosing={selectable}
            />
          )}
        </table>
        {pages?.more === null && <p className="p-2 text-center text-ink-2">Reading more rows …</p>}
        {pages?.failed && (
          <p role="alert" className="p-2 text-center text-ink-2">
            The server did not answer.{" "}
            <button type="button" className="link" onClick={pages.readMore}>
              Read more rows
            </button>
          </p>
        )}
        {shown.length === 0 &&
          (rows.length === 0 && Object.keys(filters).length === 0 ? (
            props.empty
          ) : (
            <p className="p-8 text-center text-ink-2">No row meets the filters.</p>
          ))}
      </div>
    </div>
  );
}

const Gap = ({ height }: { height: number }) =>
  height > 0 ? (
    <tr aria-hidden>
      <td style={{ height }} />
    </tr>
  ) : null;
