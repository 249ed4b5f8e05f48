import type { SaleInput } from "@/core/receivables";
import { proposedBy, withItem, type TradeItem } from "@/core/trade";
import type { Context } from "../access";
import type { Db } from "../db";
import { readItems } from "../trade";

/** What is sold, by code; nothing is read where no line names an item. */
export async function itemsNamed(
  tx: Db,
  lines: readonly { item: string }[],
): Promise<ReadonlyMap<string, TradeItem>> {
  const items = lines.some((l) => l.item.trim() !== "") ? await readItems(tx, "sold") : [];
  return new Map(items.map((i) => [i.code, i]));
}

/** Sales of programs and tables with what their items propose, as a person finds it in the form. */
export async function withItems(
  { tx, masters }: Context,
  sales: readonly SaleInput[],
): Promise<SaleInput[]> {
  const items = await itemsNamed(
    tx,
    sales.flatMap((s) => s.lines),
  );
  if (items.size === 0) return [...sales];
  return sales.map((sale) => {
    const functional = masters.companyByCode.get(sale.company)?.currency ?? "";
    const currency = sale.currency?.trim().toUpperCase() || functional;
    const document = { currency, functional, gross: sale.gross };
    return {
      ...sale,
      lines: sale.lines.map((line) => {
        const item = items.get(line.item.trim().toUpperCase());
        return item ? withItem({ ...line, item: item.code }, proposedBy(item, document)) : line;
      }),
    };
  });
}
