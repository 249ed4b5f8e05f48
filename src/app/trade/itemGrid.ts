import { proposedBy, type TradeItem } from "@/core/trade";
import type { GridColumn } from "@/ui/grid/EntryGrid";
import type { CellChange, GridRow } from "@/ui/grid/gridModel";

export const itemColumn = (items: readonly TradeItem[]): GridColumn => ({
  key: "item",
  header: "Item",
  width: 110,
  kind: "lookup",
  optional: true,
  options: items.filter((i) => !i.blocked).map(({ code, name }) => ({ code, name })),
});

/** What choosing an item fills in: the cells of its line in which nothing stands. */
export function commitItem(
  now: readonly GridRow[],
  change: CellChange,
  items: readonly TradeItem[],
  document: { currency: string; functional: string; gross: boolean },
): CellChange[] {
  const wanted = change.value.trim().toLowerCase();
  const item = items.find((i) => i.code.toLowerCase() === wanted);
  if (!item) return [change];
  const { cells, dimensions } = proposedBy(item, document);
  const row = now[change.row] ?? {};
  const fill = {
    ...cells,
    ...Object.fromEntries(Object.entries(dimensions).map(([k, v]) => [`d.${k}`, v])),
  };
  return [
    { ...change, value: item.code },
    ...Object.entries(fill).flatMap(([key, value]) =>
      value && !row[key] ? [{ row: change.row, key, value }] : [],
    ),
  ];
}
