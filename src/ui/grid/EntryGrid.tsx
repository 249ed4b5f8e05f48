"use client";
import {
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type ClipboardEvent,
  type KeyboardEvent,
} from "react";
import { flushSync } from "react-dom";
import { useVirtualizer } from "@tanstack/react-virtual";
import { FindInLines, SelectionSum } from "./GridStrip";
import { recentCodes, rememberCode, searchOptions } from "./lookup";
import {
  applyChanges,
  blockText,
  commitAll,
  deleteRows,
  duplicateRows,
  insertRows,
  isUnread,
  moveWithRows,
  pasteChanges,
  readBlock,
  redo,
  step,
  undo,
  type CellChange,
  type GridHistory,
  type GridRow,
} from "./gridModel";
import { fitColumns } from "../table/fitColumns";
import { useRoom } from "../table/useRoom";
import { keptFigures, shownAmount, shownFigures } from "../writing";

export interface LookupOption {
  code: string;
  name: string;
  /** Shown at the right: the balance now. */
  balance?: bigint;
}
export interface GridColumn {
  key: string;
  header: string;
  width?: number;
  kind: "lookup" | "text" | "amount";
  options?: readonly LookupOption[];
  /** What a cell means for its row: needed, not allowed, or a value that comes from elsewhere. */
  state?: (row: GridRow) => "required" | "forbidden" | undefined;
  inherited?: (row: GridRow) => string;
  /** Enter and Tab pass over the cell where it shows what comes from elsewhere. */
  computed?: boolean;
  /** Enter passes over the cell where it is empty and not required: what is written there is rare. */
  optional?: boolean;
  /** Enter passes over the cell where it is empty and this says so of its row and the one above. */
  passed?: (row: GridRow, above: GridRow) => boolean;
}
interface Props {
  label: string;
  columns: readonly GridColumn[];
  history: GridHistory;
  onHistory: (next: GridHistory) => void;
  /** Sentence by "row:key", rows from 0, in `checked`. */
  problems: ReadonlyMap<string, string>;
  currency: string;
  /** Normalises what was typed, and adds what it proposes for other cells. */
  commit: (rows: readonly GridRow[], change: CellChange, typed?: boolean) => CellChange[];
  /** What a cell held before it was changed here, where that is to be marked. */
  original?: (row: GridRow, key: string) => string | undefined;
  /**
   * Takes a block from the clipboard that is more than cells for the places from here on; true
   * where it did.
   */
  onTable?: (block: readonly (readonly string[])[], at: { row: number; key: string }) => boolean;
  /** The active row and its texts, for what is done with a line from outside the grid. */
  onRow?: (row: number) => void;
  /** Each change of this number leads to the next problem. */
  jump?: number;
  /** Each change of this number leads to the first problem. */
  toFirst?: number;
  /** Each change of this number leads into the first empty line. */
  entered?: number;
  /** The rows in which the problems were found; the rows of now where nothing is said. */
  checked?: readonly GridRow[] | undefined;
}

const ROW = 28;
/** The column of the lines' numbers. */
const MARGIN = 36;
const SPARE = 4;
interface Cell {
  row: number;
  column: number;
}

/**
 * A grid to write in, like a spreadsheet: type to edit, Enter and Tab go on, arrows move, Shift
 * selects, copy, paste, fill down, undo.
 * One input lives in the active cell. Only the rows in view are in the page, so thousands cost no
 * more than a few.
 */
export function EntryGrid({
  label,
  columns,
  history,
  onHistory,
  problems: found,
  currency,
  commit,
  original,
  onTable,
  onRow,
  jump = 0,
  toFirst = 0,
  entered = 0,
  checked,
}: Props) {
  const { rows } = history;
  const problems = useMemo(() => moveWithRows(found, checked, rows), [found, checked, rows]);
  const keys = useMemo(() => columns.map((c) => c.key), [columns]);
  const [at, setAt] = useState<Cell>({ row: 0, column: 0 });
  const [anchor, setAnchor] = useState<Cell>({ row: 0, column: 0 });
  const [draft, setDraft] = useState<string | null>(null);
  const [picked, setPicked] = useState(0);
  const [focused, setFocused] = useState(false);
  const [taking, setTaking] = useState(false);
  const [finding, setFinding] = useState(false);
  const [wanted, setWanted] = useState("");
  const scroller = useRef<HTMLDivElement>(null);
  const input = useRef<HTMLInputElement>(null);
  const count = Math.max(rows.length + SPARE, 14, at.row + 2);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const column = columns[at.column]!;
  const value = shownIn(column, rows[at.row]);
  const matches = useMemo(
    () =>
      draft !== null && column.kind === "lookup"
        ? searchOptions(column.options ?? [], draft, recentCodes())
        : [],
    [draft, column],
  );

  const low = { row: Math.min(at.row, anchor.row), column: Math.min(at.column, anchor.column) };
  const high = { row: Math.max(at.row, anchor.row), column: Math.max(at.column, anchor.column) };

  // The input follows the active cell; focus stays in it while the grid has it.
  useLayoutEffect(() => {
    // Never taken from elsewhere on the page: a window that comes back may find its person writing
    // in another field already.
    const active = document.activeElement;
    if (
      focused &&
      active !== input.current &&
      (active === document.body || scroller.current?.contains(active))
    )
      input.current?.focus({ preventScroll: true });
    // Selecting would bring the focus along: only where it is here already.
    if (draft === null && document.activeElement === input.current) input.current?.select();
  }, [at, focused, draft]);
  // Again when a sentence appears below, which takes room from the rows.
  const said = problems.get(`${at.row}:${column.key}`) !== undefined;
  useEffect(() => virtual.scrollToIndex(at.row), [at.row, said, virtual]);
  useEffect(() => onRow?.(at.row), [at.row, onRow]);
  /** The row of the problem that was gone to last. */
  const visited = useRef<GridRow | undefined>(undefined);
  const toNextProblem = (fromStart = false) => {
    const places = [...problems.keys()]
      .flatMap((k) => {
        const [r, ...key] = k.split(":");
        const column = keys.indexOf(key.join(":"));
        return column < 0 ? [] : [{ row: Number(r), column }];
      })
      .sort((a, b) => a.row - b.row || a.column - b.column);
    // Where rows were deleted, the next problem may have come to where one stands already.
    const seen = visited.current === rows[at.row];
    const after = (p: Cell) =>
      p.row > at.row || (p.row === at.row && (seen ? p.column > at.column : p.column >= at.column));
    const next = (fromStart ? undefined : places.find(after)) ?? places[0];
    if (!next) return;
    visited.current = rows[next.row];
    setFocused(true);
    leave(next);
    input.current?.focus();
  };
  const toFirstEmpty = () => {
    const empty = rows.findIndex((r) => Object.values(r).every((text) => text.trim() === ""));
    setFocused(true);
    leave({ row: empty < 0 ? rows.length : empty, column: 0 });
    input.current?.focus();
  };
  // A cell far away is drawn only after the list has scrolled there; then the focus, which is
  // nowhere meanwhile, goes to it.
  const mount = useCallback(
    (element: HTMLInputElement | null) => {
      input.current = element;
      if (!element || !focused || document.activeElement !== document.body) return;
      element.focus({ preventScroll: true });
      element.select();
    },
    [focused],
  );
  const jumped = useRef({ jump, toFirst, entered });
  useEffect(() => {
    const before = jumped.current;
    jumped.current = { jump, toFirst, entered };
    if (before.entered !== entered) toFirstEmpty();
    if (before.toFirst !== toFirst) toNextProblem(true);
    else if (before.jump !== jump) toNextProblem();
  });
  // F8 works wherever one is on the page; what is being written is kept before a reload.
  const latest = useRef({ toNextProblem, keepDraft: () => {} });
  useEffect(() => {
    latest.current = { toNextProblem, keepDraft: () => void keep(draft) };
  });
  useEffect(() => {
    const onF8 = (event: globalThis.KeyboardEvent) => {
      if (event.key !== "F8") return;
      event.preventDefault();
      latest.current.toNextProblem();
    };
    const onLeave = () => flushSync(() => latest.current.keepDraft());
    window.addEventListener("keydown", onF8);
    window.addEventListener("beforeunload", onLeave);
    return () => {
      window.removeEventListener("keydown", onF8);
      window.removeEventListener("beforeunload", onLeave);
    };
  }, []);

  const change = (changes: readonly CellChange[]) =>
    onHistory(step(history, applyChanges(rows, changes)));
  const keep = (text: string | null): readonly GridRow[] => {
    if (text === null) return rows;
    if (column.options?.some((o) => o.code === text)) rememberCode(text);
    const next = applyChanges(
      rows,
      commit(rows, { row: at.row, key: column.key, value: keptIn(column, text) }, true),
    );
    setDraft(null);
    setPicked(0);
    if (next !== rows) onHistory(step(history, next));
    return next;
  };
  const leave = (to: Cell, extend = false, text: string | null = draft) => {
    keep(text);
    const cell = {
      row: Math.max(0, to.row),
      column: Math.max(0, Math.min(columns.length - 1, to.column)),
    };
    setAt(cell);
    if (!extend) setAnchor(cell);
  };
  const chosen = () =>
    column.kind === "lookup" && draft !== null && draft.trim() !== "" && matches[picked]
      ? matches[picked]!.code
      : draft;
  /** Enter goes where the next input is; Tab goes from cell to cell. */
  const next = (by: 1 | -1, text: string | null, enter = false) => {
    const place = (flat: number): Cell => ({
      row: Math.floor(flat / columns.length),
      column: flat % columns.length,
    });
    const after = keep(text);
    const passed = ({ row, column }: Cell) =>
      isPassed(columns[column]!, after[row] ?? {}, after[row - 1] ?? {}, enter && by === 1);
    let flat = at.row * columns.length + at.column + by;
    while (flat >= 0 && passed(place(flat))) flat += by;
    if (flat >= 0) leave(place(flat), false, null);
  };

  const selectRows = (from: number, to: number) => {
    keep(draft);
    setAnchor({ row: from, column: 0 });
    setAt({ row: to, column: columns.length - 1 });
  };
  const matching = useMemo(
    () => (finding && wanted.trim() ? findCells(rows, columns, wanted) : []),
    [finding, wanted, rows, columns],
  );
  const foundAt = useMemo(() => new Set(matching.map((f) => `${f.row}:${f.column}`)), [matching]);
  const go = (by: 1 | -1) => {
    const flat = (c: Cell) => c.row * columns.length + c.column;
    const here = flat(at);
    const target =
      by === 1
        ? (matching.find((f) => flat(f) > here) ?? matching[0])
        : (matching.findLast((f) => flat(f) < here) ?? matching.at(-1));
    if (target) leave(target);
  };

  const onKey = (event: KeyboardEvent<HTMLInputElement>) => {
    // What is written while a large block is taken over would be lost under it.
    if (taking) return event.preventDefault();
    const control = event.ctrlKey || event.metaKey;
    const editing = draft !== null;
    const open = editing && matches.length > 0;
    const done = () => event.preventDefault();
    if (event.key === "Enter" && control) return;
    if (event.key === "Enter" || event.key === "Tab") {
      if (
        event.key === "Tab" &&
        ((event.shiftKey && at.row + at.column === 0) ||
          (!event.shiftKey &&
            !editing &&
            at.row >= rows.length &&
            at.column === columns.length - 1))
      )
        return;
      done();
      return next(event.shiftKey ? -1 : 1, chosen(), event.key === "Enter");
    }
    if (event.key === "Escape" && editing) {
      event.stopPropagation();
      setDraft(null);
      return;
    }
    if (control && event.key.toLowerCase() === "f") return (done(), setFinding(true));
    if (event.shiftKey && event.key === " " && !editing)
      return (done(), selectRows(low.row, high.row));
    if (event.key === "F2") return (done(), setDraft(value));
    if (control && event.key.toLowerCase() === "z")
      return (done(), onHistory(event.shiftKey ? redo(history) : undo(history)), setDraft(null));
    if (control && event.key.toLowerCase() === "y")
      return (done(), onHistory(redo(history)), setDraft(null));
    if (control && event.shiftKey && event.key.toLowerCase() === "d") {
      done();
      onHistory(step(history, duplicateRows(rows, low.row, high.row)));
      return;
    }
    if (control && event.key.toLowerCase() === "d") {
      done();
      const from = low.row === high.row ? low.row - 1 : low.row;
      if (from < 0) return;
      const changes: CellChange[] = [];
      for (let r = from + 1; r <= high.row; r++)
        for (let c = low.column; c <= high.column; c++)
          changes.push({ row: r, key: keys[c]!, value: rows[from]?.[keys[c]!] ?? "" });
      return change(changes);
    }
    if (event.key === "Insert" && !control)
      return (done(), onHistory(step(history, insertRows(rows, at.row))));
    if (event.key === "Delete" && control)
      return (done(), onHistory(step(history, deleteRows(rows, low.row, high.row))));
    if ((event.key === "Delete" || event.key === "Backspace") && !editing) {
      done();
      const changes: CellChange[] = [];
      for (let r = low.row; r <= high.row; r++)
        for (let c = low.column; c <= high.column; c++)
          changes.push({ row: r, key: keys[c]!, value: "" });
      return change(changes);
    }
    const far = control ? 1000 : 1;
    const moves: Record<string, Cell> = {
      ArrowDown: { row: control ? Math.max(rows.length - 1, 0) : at.row + 1, column: at.column },
      ArrowUp: { row: control ? 0 : at.row - 1, column: at.column },
      ArrowLeft: { row: at.row, column: at.column - far },
      ArrowRight: { row: at.row, column: at.column + far },
      PageDown: { row: at.row + 15, column: at.column },
      PageUp: { row: at.row - 15, column: at.column },
    };
    const to = moves[event.key];
    if (!to || event.altKey) return;
    if (open && (event.key === "ArrowDown" || event.key === "ArrowUp"))
      return (
        done(),
        setPicked((p) =>
          Math.max(0, Math.min(matches.length - 1, p + (event.key === "ArrowDown" ? 1 : -1))),
        )
      );
    // While writing, the side arrows belong to the text.
    if (editing && (event.key === "ArrowLeft" || event.key === "ArrowRight")) return;
    done();
    leave(to, event.shiftKey);
  };
  const onCopy = (event: ClipboardEvent, cut: boolean) => {
    if (draft !== null) return;
    event.preventDefault();
    event.clipboardData.setData("text/plain", blockText(rows, low, high, columns, shownIn));
    if (!cut) return;
    const changes: CellChange[] = [];
    for (let r = low.row; r <= high.row; r++)
      for (let c = low.column; c <= high.column; c++)
        changes.push({ row: r, key: keys[c]!, value: "" });
    change(changes);
  };
  const onPaste = (event: ClipboardEvent) => {
    if (draft !== null) return;
    event.preventDefault();
    const block = readBlock(event.clipboardData.getData("text/plain"));
    if (onTable?.(block, { row: low.row, key: keys[low.column]! })) return;
    const changes = pasteChanges(block, low, keys, {
      rows: high.row - low.row + 1,
      columns: high.column - low.column + 1,
    });
    const byKey = new Map(columns.map((c) => [c.key, c]));
    const kept = changes.map((c) => ({ ...c, value: keptIn(byKey.get(c.key)!, c.value) }));
    setTaking(true);
    void commitAll(rows, kept, commit).then((next) => {
      setTaking(false);
      onHistory(step(history, next));
    });
  };

  const room = useRoom(scroller);
  const fitted = useMemo(
    () =>
      fitColumns(
        columns.map(({ width, kind }) => ({
          ...(width && { width }),
          ...(kind === "amount" && { align: "right" as const }),
        })),
        room && room - MARGIN,
      ),
    [columns, room],
  );
  const template = `${MARGIN}px ${fitted.map((f) => (f.width ? `${f.width}px` : "minmax(160px,1fr)")).join(" ")}`;
  const width = fitted.reduce((sum, f) => sum + (f.width ?? 160), MARGIN);
  const names = useMemo(
    () =>
      new Map(columns.map((c) => [c.key, new Map((c.options ?? []).map((o) => [o.code, o.name]))])),
    [columns],
  );
  const sentence = problems.get(`${at.row}:${column.key}`);
  return (
    <div
      className="panel flex min-h-0 flex-1 flex-col overflow-hidden"
      data-keys="Enter=Next cell;Ctrl D=Copy from above;Ctrl Shift D=Copy whole rows below;Ctrl Z=Undo;Ctrl Y=Redo;Insert=Insert a row;Ctrl Delete=Delete rows;Shift arrows=Select;Shift Space=Select whole rows;Ctrl F=Find in the lines;F2=Edit;F8=Next problem"
    >
      <div
        ref={scroller}
        role="grid"
        aria-label={label}
        aria-busy={taking}
        aria-rowcount={count}
        aria-colcount={columns.length}
        className="relative min-h-0 flex-1 overflow-auto"
      >
        <div
          role="row"
          className="sticky top-0 z-10 grid h-[30px] items-center border-b border-rule bg-shade text-xs font-semibold text-ink-2"
          style={{ gridTemplateColumns: template, minWidth: width }}
        >
          <span role="columnheader" className="px-2 text-right">
            #
          </span>
          {columns.map((c, i) => (
            <span
              key={c.key}
              role="columnheader"
              title={c.header}
              className={`truncate px-[9px] ${c.kind === "amount" ? "text-right" : ""} ${fitted[i]!.pinned === undefined ? "" : "sticky bg-shade leading-[29px]"}`}
              style={{ right: fitted[i]!.pinned }}
            >
              {c.header}
            </span>
          ))}
        </div>
        <div style={{ height: virtual.getTotalSize(), position: "relative", minWidth: width }}>
          {virtual.getVirtualItems().map(({ index: r, start }) => {
            const row = rows[r] ?? {};
            return (
              <div
                key={r}
                role="row"
                aria-rowindex={r + 1}
                className="absolute inset-x-0 grid h-7 border-b border-line-2"
                style={{
                  gridTemplateColumns: template,
                  transform: `translateY(${start}px)`,
                  zIndex: r === at.row ? 5 : 0,
                }}
              >
                <span
                  role="rowheader"
                  title="Select the whole line"
                  className="cursor-pointer px-2 text-right leading-7 text-ink-3"
                  onMouseDown={(e) => {
                    e.preventDefault();
                    setFocused(true);
                    selectRows(e.shiftKey ? anchor.row : r, r);
                    input.current?.focus();
                  }}
                >
                  {r + 1}
                </span>
                {columns.map((c, i) => {
                  const active = r === at.row && i === at.column;
                  const inside =
                    r >= low.row &&
                    r <= high.row &&
                    i >= low.column &&
                    i <= high.column &&
                    (low.row !== high.row || low.column !== high.column);
                  const problem = problems.get(`${r}:${c.key}`);
                  const state = Object.keys(row).length > 0 ? c.state?.(row) : undefined;
                  const text = shownIn(c, row);
                  const was = original?.(row, c.key);
                  const changed = was !== undefined && was !== (row[c.key] ?? "");
                  return (
                    <div
                      key={c.key}
                      role="gridcell"
                      aria-selected={active || inside}
                      aria-invalid={problem ? true : undefined}
                      data-cell={`${r}:${c.key}`}
                      data-changed={changed || undefined}
                      title={
                        problem ??
                        (changed ? `was ${shownIn(c, { [c.key]: was }) || "empty"}` : undefined)
                      }
                      onMouseDown={(e) => {
                        if (active && e.target instanceof HTMLInputElement) return;
                        e.preventDefault();
                        setFocused(true);
                        leave({ row: r, column: i }, e.shiftKey);
                        input.current?.focus();
                      }}
                      onMouseEnter={(e) => {
                        if (e.buttons === 1 && focused) {
                          setAt({ row: r, column: i });
                        }
                      }}
                      onDoubleClick={() => setDraft(text)}
                      style={{ right: fitted[i]!.pinned }}
                      className={`${fitted[i]!.pinned === undefined ? "relative" : "sticky z-[1] max-h-[27px] bg-panel"} min-w-0 truncate px-[9px] leading-7 ${c.kind === "amount" ? "text-right" : ""} ${inside ? "bg-sea-2" : foundAt.has(`${r}:${i}`) ? "bg-yellow-2" : ""} ${problem ? "bg-coral-2" : changed ? "bg-yellow-2" : state === "forbidden" ? "bg-shade" : ""} ${active && focused ? "outline-2 -outline-offset-2 outline-sea overflow-visible!" : ""}`}
                    >
                      {problem && (
                        <i
                          aria-hidden
                          className="absolute right-0 top-0 border-[4px] border-coral border-b-transparent border-l-transparent"
                        />
                      )}
                      {active ? (
                        <input
                          ref={mount}
                          aria-label={`${c.header}, line ${r + 1}`}
                          aria-invalid={problem ? true : undefined}
                          role={c.kind === "lookup" ? "combobox" : undefined}
                          aria-expanded={c.kind === "lookup" ? matches.length > 0 : undefined}
                          aria-controls={c.kind === "lookup" ? "grid-lookup" : undefined}
                          autoComplete="off"
                          spellCheck={false}
                          value={draft ?? text}
                          onChange={(e) => {
                            setDraft(e.target.value);
                            setPicked(0);
                          }}
                          onKeyDown={onKey}
                          onCopy={(e) => onCopy(e, false)}
                          onCut={(e) => onCopy(e, true)}
                          onPaste={onPaste}
                          onFocus={() => setFocused(true)}
                          onBlur={() => {
                            keep(draft);
                            setFocused(false);
                          }}
                          className={`absolute inset-0 w-full bg-transparent px-[9px] outline-none ${c.kind === "amount" ? "text-right" : ""} ${draft === null && c.kind === "lookup" && text ? "opacity-0 focus:opacity-0" : ""}`}
                        />
                      ) : null}
                      {active && draft === null && c.kind !== "lookup" ? null : active &&
                        draft !== null ? null : c.kind === "lookup" ? (
                        <span className="pointer-events-none">
                          {text && <b className="mr-[7px] font-[650]">{text}</b>}
                          {names.get(c.key)?.get(text) ?? ""}
                          {!text && state === "required" && (
                            <span className="text-ink-3">needed</span>
                          )}
                          {!text && state === "forbidden" && <span className="text-ink-3">–</span>}
                        </span>
                      ) : text ? (
                        text
                      ) : (
                        <span className="text-ink-3">
                          {Object.keys(row).length > 0 && c.inherited
                            ? shownIn(c, { [c.key]: c.inherited(row) })
                            : ""}
                        </span>
                      )}
                      {active && draft !== null && c.kind === "lookup" && matches.length > 0 && (
                        <ul
                          id="grid-lookup"
                          role="listbox"
                          aria-label={c.header}
                          className="absolute left-0 top-[29px] z-20 w-[430px] rounded-lg border border-line bg-panel p-1 text-left shadow-[0_10px_30px_#0b2f3a2b]"
                        >
                          {matches.map((m, k) => (
                            <li
                              key={m.code}
                              role="option"
                              aria-selected={k === picked}
                              onMouseDown={(e) => {
                                e.preventDefault();
                                e.stopPropagation();
                                next(1, m.code, true);
                              }}
                              className={`flex cursor-pointer gap-2.5 rounded px-[9px] leading-7 ${k === picked ? "bg-sea-2" : ""}`}
                            >
                              <b className="font-[650]">{m.code}</b>
                              <span className="truncate">{m.name}</span>
                              {m.balance !== undefined && (
                                <span className="ml-auto text-ink-3">
                                  {shownAmount(m.balance, currency)}
                                </span>
                              )}
                            </li>
                          ))}
                        </ul>
                      )}
                    </div>
                  );
                })}
              </div>
            );
          })}
        </div>
      </div>
      {finding && (
        <FindInLines
          wanted={wanted}
          onWanted={setWanted}
          count={matching.length}
          place={matching.findIndex((f) => f.row === at.row && f.column === at.column)}
          onGo={go}
          onClose={() => {
            setFinding(false);
            setFocused(true);
            input.current?.focus();
          }}
        />
      )}
      <SelectionSum rows={rows} columns={columns} low={low} high={high} currency={currency} />
      {sentence && (
        <p role="status" className="border-t border-coral/40 bg-coral-2 px-3 py-1.5">
          Line {at.row + 1}, {column.header.toLowerCase()}: {sentence}
        </p>
      )}
    </div>
  );
}

/** Whether one passes over a cell on the way to the next input. */
function isPassed(column: GridColumn, row: GridRow, above: GridRow, enter: boolean): boolean {
  if (row[column.key]) return false;
  if (column.computed) return true;
  if (!enter) return false;
  return (
    column.passed?.(row, above) ?? (column.optional === true && column.state?.(row) !== "required")
  );
}

/** A cell as this person reads it: figures in their way of writing, or as a table wrote them. */
const shownIn = (column: Pick<GridColumn, "key" | "kind">, row: GridRow | undefined): string => {
  const text = row?.[column.key] ?? "";
  return column.kind === "amount" && !isUnread(row, column.key) ? shownFigures(text) : text;
};
/** What was typed or pasted, as the rows keep it. */
const keptIn = (column: Pick<GridColumn, "kind">, text: string): string =>
  column.kind === "amount" ? keptFigures(text) : text;

/** Cells that hold a text, also by the name behind a code, in reading order. */
function findCells(
  rows: readonly GridRow[],
  columns: readonly GridColumn[],
  typed: string,
): Cell[] {
  const text = typed.trim().toLowerCase();
  const names = columns.map(
    (c) => new Map((c.options ?? []).map((o) => [o.code, o.name.toLowerCase()])),
  );
  return rows.flatMap((row, r) =>
    columns.flatMap((c, i) => {
      const value = row[c.key] ?? "";
      const shown = shownIn(c, row).toLowerCase();
      return value && (shown.includes(text) || names[i]!.get(value)?.includes(text))
        ? [{ row: r, column: i }]
        : [];
    }),
  );
}
