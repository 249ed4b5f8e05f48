import { useMemo } from "react";
import { ChevronDown, ChevronUp, X } from "lucide-react";
import { readAmount, type NumberFormat } from "@/core/shared";
import type { GridColumn } from "./EntryGrid";
import type { GridRow } from "./gridModel";
import { shownAmount } from "../writing";

/** Looks for a text in the lines: Enter goes on, Shift Enter back, Esc returns to the cell. */
export function FindInLines({
  wanted,
  onWanted,
  count,
  place,
  onGo,
  onClose,
}: {
  wanted: string;
  onWanted: (text: string) => void;
  count: number;
  place: number;
  onGo: (by: 1 | -1) => void;
  onClose: () => void;
}) {
  return (
    <div role="search" className="flex items-center gap-2 border-t border-line px-3 py-1.5">
      <input
        autoFocus
        className="field h-7 w-64"
        aria-label="Find in the lines"
        placeholder="Text, code, name or amount"
        value={wanted}
        onChange={(e) => onWanted(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") {
            e.preventDefault();
            onGo(e.shiftKey ? -1 : 1);
          }
          if (e.key === "Escape") {
            e.preventDefault();
            e.stopPropagation();
            onClose();
          }
        }}
      />
      <button
        type="button"
        className="button h-7 px-1.5"
        aria-label="Found before"
        onClick={() => onGo(-1)}
      >
        <ChevronUp size={15} aria-hidden />
      </button>
      <button
        type="button"
        className="button h-7 px-1.5"
        aria-label="Found next"
        onClick={() => onGo(1)}
      >
        <ChevronDown size={15} aria-hidden />
      </button>
      <span role="status" className="text-ink-2">
        {wanted.trim() === ""
          ? ""
          : count === 0
            ? "not found"
            : `${place >= 0 ? `${place + 1} of ` : ""}${count}`}
      </span>
      <button
        type="button"
        className="button button-plain ml-auto h-7 px-1.5"
        aria-label="Close finding"
        onClick={onClose}
      >
        <X size={15} aria-hidden />
      </button>
    </div>
  );
}

const PLAIN: NumberFormat = { decimal: ".", group: "," };

/** What the selected cells add up to, by column of amounts. Nothing for a single cell. */
export function SelectionSum({
  rows,
  columns,
  low,
  high,
  currency,
}: {
  rows: readonly GridRow[];
  columns: readonly GridColumn[];
  low: { row: number; column: number };
  high: { row: number; column: number };
  currency: string;
}) {
  const several = low.row !== high.row || low.column !== high.column;
  const sums = useMemo(() => {
    if (!several) return [];
    return columns
      .slice(low.column, high.column + 1)
      .filter((c) => c.kind === "amount" && c.key !== "quantity")
      .map((c) => {
        let total = 0n;
        let count = 0;
        for (let r = low.row; r <= high.row; r++) {
          const reading = readAmount(rows[r]?.[c.key] ?? "", currency, PLAIN);
          if (reading.ok) {
            total += reading.amount;
            count++;
          }
        }
        return { header: c.header, total, count };
      });
  }, [several, rows, columns, low.row, low.column, high.row, high.column, currency]);
  if (!several) return null;
  const lines = high.row - low.row + 1;
  return (
    <p
      role="status"
      aria-label="Selection"
      className="flex gap-5 border-t border-line bg-sea-2 px-3 py-1 text-ink-2"
    >
      <span>{lines === 1 ? "1 line" : `${lines} lines`} selected</span>
      {sums.map((s) => (
        <span key={s.header}>
          {s.header} <b className="text-ink">{shownAmount(s.total, currency)}</b>
          {s.count < lines ? ` in ${s.count}` : ""}
        </span>
      ))}
    </p>
  );
}
