import { useCallback, useMemo } from "react";
import { orderInput, type OrderInput, type OrderLineInput } from "@/core/purchasing";
import type { PartnerRow } from "@/server/partners";
import { codingColumns, commitCoding, type CodingLookups } from "@/ui/grid/coding";
import type { GridColumn } from "@/ui/grid/EntryGrid";
import type { CellChange, GridRow } from "@/ui/grid/gridModel";

export interface OrderLookups extends CodingLookups {
  suppliers: PartnerRow[];
  taxes: { code: string; name: string }[];
  items: {
    code: string;
    name: string;
    account: string;
    dimensions: Record<string, string>;
    unit: string;
    price: string;
    taxCode: string;
  }[];
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
export function useOrderGrid(lookups: OrderLookups): {
  columns: GridColumn[];
  commit: (now: readonly GridRow[], change: CellChange) => CellChange[];
} {
  const columns = useMemo(
    (): GridColumn[] => [
      { key: "item", header: "Item", width: 110, kind: "lookup", options: lookups.items },
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
      if (c.key !== "item") return commitCoding(lookups, now, c, typed) ?? [c];
      const item = lookups.items.find((i) => i.code.toLowerCase() === text.toLowerCase());
      if (!item) return [c];
      const row = now[c.row] ?? {};
      const fill = {
        account: item.account,
        unit: item.unit,
        price: item.price,
        taxCode: item.taxCode,
        description: item.name,
        ...Object.fromEntries(Object.entries(item.dimensions).map(([k, v]) => [`d.${k}`, v])),
      };
      return [
        { ...c, value: item.code },
        ...Object.entries(fill).flatMap(([key, value]) =>
          value && !row[key] ? [{ row: c.row, key, value }] : [],
        ),
      ];
    },
    [lookups],
  );
  return { columns, commit };
}
