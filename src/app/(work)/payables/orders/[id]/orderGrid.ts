import { useCallback, useMemo } from "react";
import { orderInput, type OrderInput, type OrderLineInput } from "@/core/purchasing";
import type { TradeItem } from "@/core/trade";
import type { PartnerRow } from "@/server/partners";
import { commitItem, itemColumn } from "@/app/trade/itemGrid";
import { codingColumns, commitCoding, type CodingLookups } from "@/ui/grid/coding";
import type { GridColumn } from "@/ui/grid/EntryGrid";
import type { CellChange, GridRow } from "@/ui/grid/gridModel";

export interface OrderLookups extends CodingLookups {
  suppliers: PartnerRow[];
  taxes: { code: string; name: string }[];
  items: TradeItem[];
}

const CELLS = [
  "no",
  "item",
  "account",
  "description",
  "quantity",
  "unit",
  "price",
  "taxCode",
  "wanted",
] as const;
export const orderRows = (content: OrderInput): GridRow[] =>
  content.lines.map((l) => ({
    ...Object.fromEntries(CELLS.flatMap((k) => (l[k] ? [[k, l[k]]] : []))),
    ...Object.fromEntries(Object.entries(l.dimensions).map(([k, v]) => [`d.${k}`, v])),
  }));
const toLine = (row: GridRow): OrderLineInput => ({
  ...(Object.fromEntries(CELLS.map((k) => [k, row[k] ?? ""])) as Record<
    (typeof CELLS)[number],
    string
  >),
  dimensions: Object.fromEntries(
    Object.entries(row).flatMap(([k, v]) => (k.startsWith("d.") ? [[k.slice(2), v]] : [])),
  ),
});
export const orderContent = (
  head: Omit<OrderInput, "lines">,
  rows: readonly GridRow[],
): OrderInput => orderInput({ ...head, lines: rows.map(toLine) });

/** The columns of order lines, and what choosing an item fills in. */
export function useOrderGrid(
  lookups: OrderLookups,
  { currency, functional }: { currency: string; functional: string },
): {
  columns: GridColumn[];
  commit: (now: readonly GridRow[], change: CellChange) => CellChange[];
} {
  const columns = useMemo(
    (): GridColumn[] => [
      { ...itemColumn(lookups.items), optional: false },
      { key: "description", header: "Description", kind: "text" },
      { key: "quantity", header: "Quantity", width: 84, kind: "amount" },
      { key: "unit", header: "Unit", width: 56, kind: "text" },
      { key: "price", header: "Price", width: 92, kind: "amount" },
      ...codingColumns(lookups, { wide: true }).map((c) =>
        c.key === "account" ? { ...c, width: 150 } : { ...c, width: 100 },
      ),
      { key: "taxCode", header: "Tax", width: 70, kind: "lookup", options: lookups.taxes },
      { key: "wanted", header: "Wanted", width: 130, kind: "text" },
    ],
    [lookups],
  );
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange, typed = false): CellChange[] => {
      const text = c.value.trim();
      if (c.key === "taxCode")
        return [
          {
            ...c,
            value:
              lookups.taxes.find((t) => t.code.toLowerCase() === text.toLowerCase())?.code ?? text,
          },
        ];
      return c.key === "item"
        ? commitItem(now, c, lookups.items, { currency, functional, gross: false })
        : (commitCoding(lookups, now, c, typed) ?? [c]);
    },
    [lookups, currency, functional],
  );
  return { columns, commit };
}
