import { saleValue, type SaleLineInput } from "@/core/receivables";
import { amountText } from "@/core/shared";
import type { TradeItem } from "@/core/trade";
import { codingColumns } from "@/ui/grid/coding";
import type { GridColumn } from "@/ui/grid/EntryGrid";
import type { CellChange, GridRow } from "@/ui/grid/gridModel";
import {
  commitPaper,
  companyColumn,
  descriptionColumn,
  sharesColumns,
  taxColumn,
  type Named,
  type PaperLookups,
} from "@/app/trade/paperGrid";
import { commitItem, itemColumn } from "@/app/trade/itemGrid";
import type { PartnerRow } from "@/server/partners";

export const SALE_CELLS = [
  "item",
  "account",
  "description",
  "quantity",
  "unit",
  "price",
  "discount",
  "net",
  "taxCode",
  "company",
  "shares",
  "earnedFrom",
  "earnedTo",
  "setsOff",
] as const satisfies readonly (keyof SaleLineInput)[];

/** What sales are written with. */
export interface SaleLookups extends PaperLookups {
  customers: PartnerRow[];
  items: TradeItem[];
}

interface Shown {
  lookups: SaleLookups;
  /** Empty where no line belongs to another company. */
  companies: readonly Named[];
  head: { company: string; description: string; gross: boolean };
  currency: string;
  /** Whether lines have discounts of their own. */
  discounts: boolean;
  /** Whether any line is earned over a time, or sets off a prepayment. */
  overTime: boolean;
  setsOff: boolean;
}

/** The columns of the lines of a sale. */
export function saleColumns(s: Shown): GridColumn[] {
  return [
    ...(s.companies.length > 0 ? [companyColumn(s.companies, s.head.company)] : []),
    ...(s.lookups.items.length > 0 ? [itemColumn(s.lookups.items)] : []),
    ...codingColumns(s.lookups, { wide: true }).map((c) =>
      c.key === "account" ? { ...c, width: 150 } : { ...c, width: 92 },
    ),
    ...sharesColumns(s.lookups.shares),
    descriptionColumn(s.head.description),
    { key: "quantity", header: "Quantity", width: 80, kind: "amount" },
    { key: "unit", header: "Unit", width: 64, kind: "text", optional: true },
    { key: "price", header: "Price", width: 92, kind: "amount" },
    ...(s.discounts
      ? [{ key: "discount", header: "Less %", width: 64, kind: "amount" as const, optional: true }]
      : []),
    ...(s.overTime
      ? [
          { key: "earnedFrom", header: "Earned from", width: 100, kind: "text" as const },
          { key: "earnedTo", header: "Earned to", width: 100, kind: "text" as const },
        ].map((c) => ({ ...c, optional: true }))
      : []),
    ...(s.setsOff
      ? [{ key: "setsOff", header: "Sets off", width: 118, kind: "text" as const, optional: true }]
      : []),
    taxColumn(s.lookups.taxes),
    {
      key: "net",
      header: s.head.gross ? `Gross ${s.currency}` : `Net ${s.currency}`,
      width: 114,
      kind: "amount",
      passed: (row) => Boolean(row.price),
    },
  ];
}

const MAKE_AMOUNT = new Set(["quantity", "price", "discount"]);

type Known = Parameters<typeof commitPaper>[3] & {
  lookups: SaleLookups;
  functional: string;
  gross: boolean;
};

/** What is typed into a cell of a sale becomes: as in any trade document, with its item and price. */
export function commitSale(
  now: readonly GridRow[],
  c: CellChange,
  typed: boolean,
  known: Known,
): CellChange[] {
  const { lookups, currency } = known;
  if (c.key !== "item") return withAmount(now, c, currency) ?? commitPaper(now, c, typed, known);
  const changes = commitItem(now, c, lookups.items, known);
  // With its price comes what the line comes to.
  const price = changes.find((x) => x.key === "price");
  return price ? [...changes, ...(withAmount(now, price, currency) ?? [])] : changes;
}

/** A figure that the amount follows from brings it along. */
function withAmount(
  now: readonly GridRow[],
  change: CellChange,
  currency: string,
): CellChange[] | null {
  if (!MAKE_AMOUNT.has(change.key) && change.key !== "unit") return null;
  const value = change.value.trim();
  const row = { ...now[change.row], [change.key]: value };
  const amount = saleValue(
    { quantity: row.quantity ?? "", price: row.price ?? "", discount: row.discount ?? "" },
    currency,
  );
  return amount === null
    ? [{ ...change, value }]
    : [
        { ...change, value },
        { row: change.row, key: "net", value: amountText(amount, currency) },
      ];
}
