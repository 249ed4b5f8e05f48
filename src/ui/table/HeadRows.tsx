"use client";
import { ArrowDown, ArrowUp } from "lucide-react";
import { cellPlace, type Fitted } from "./fitColumns";
import type { Sorting } from "./pages";
import type { TableColumn } from "./tableColumn";
import { WrittenField } from "../WrittenField";
import { keptDay, keptFigures, shownFigures, shownSentence } from "../writing";

/** How what is typed above a column is written: lists are asked in the standard way. */
const FIGURES = { shown: shownFigures, kept: keptFigures };
const DAYS = { shown: shownSentence, kept: keptDay };

interface Props<T> {
  columns: readonly TableColumn<T>[];
  /** Where each stands. */
  fitted: readonly Fitted[];
  sorting: Sorting | null;
  onSort: (sorting: Sorting | null) => void;
  filters: Readonly<Record<string, string>>;
  onFilter: (key: string, text: string) => void;
  /** Chooses all rows, where rows can be chosen. */
  choose?: { all: boolean; set: (all: boolean) => void } | undefined;
}

/** The two rows of a table's head: names by which one sorts, and a filter below each. */
export function HeadRows<T>({
  columns,
  fitted,
  sorting,
  onSort,
  filters,
  onFilter,
  choose,
}: Props<T>) {
  const next = (key: string): Sorting | null =>
    sorting?.key !== key ? { key, down: false } : sorting.down ? null : { key, down: true };
  return (
    <thead>
      <tr>
        {choose && (
          <th>
            <input
              type="checkbox"
              aria-label="Select all rows shown"
              checked={choose.all}
              onChange={(e) => choose.set(e.target.checked)}
            />
          </th>
        )}
        {columns.map((c, i) => {
          const sorted = sorting?.key === c.key ? sorting : null;
          const Icon = sorted?.down ? ArrowDown : ArrowUp;
          return (
            <th
              key={c.key}
              {...cellPlace(c, fitted[i]!)}
              aria-sort={sorted ? (sorted.down ? "descending" : "ascending") : "none"}
            >
              {c.derived ? (
                c.header
              ) : (
                <button
                  type="button"
                  className="inline-flex items-center gap-1 font-semibold"
                  onClick={() => onSort(next(c.key))}
                >
                  {c.header}
                  {sorted && <Icon size={12} aria-hidden />}
                </button>
              )}
            </th>
          );
        })}
      </tr>
      <tr className="no-print">
        {choose && <th style={{ top: 30 }} aria-label="Selection" />}
        {columns.map((c, i) => (
          <th
            key={c.key}
            className={cellPlace(c, fitted[i]!).className}
            style={{ top: 30, paddingLeft: 5, paddingRight: 5, right: fitted[i]!.pinned }}
          >
            {!c.derived && (
              <WrittenField
                type="text"
                aria-label={`Filter ${c.header}`}
                placeholder="filter"
                title={c.sum ? shownFigures("1,250.00, >500 or 500..900") : undefined}
                {...(c.align === "right" ? FIGURES : DAYS)}
                value={filters[c.key] ?? ""}
                onChange={(text) => onFilter(c.key, text)}
                className={`h-[22px] w-full rounded border border-transparent bg-transparent px-1 font-normal placeholder:text-ink-3/60 hover:border-line focus:border-line focus:bg-panel ${c.align === "right" ? "text-right" : ""}`}
              />
            )}
          </th>
        ))}
      </tr>
    </thead>
  );
}
