import type { Found } from "../shared";
import type { PaperLine } from "./paperInput";
import { priceText } from "./price";

export const ITEM_KINDS = ["goods", "service", "asset"] as const;
export type ItemKind = (typeof ITEM_KINDS)[number];

/** Whether an item is bought or sold: what it is coded to and costs differs. */
export const ITEM_SIDES = ["bought", "sold"] as const;
export type ItemSide = (typeof ITEM_SIDES)[number];

/** What is bought or sold again and again, with what it proposes on a line. */
export interface TradeItem {
  code: string;
  name: string;
  kind: ItemKind;
  group: string;
  unit: string;
  account: string;
  dimensions: Readonly<Record<string, string>>;
  taxCode: string;
  /** Of one unit, without tax; a decimal. */
  price: string;
  /** Of the price; the company's own where nothing is said. */
  currency: string;
  blocked: boolean;
}

type Proposed = Pick<
  TradeItem,
  "name" | "account" | "unit" | "price" | "taxCode" | "dimensions" | "currency"
>;

/** The cells of a line that an item proposes something for, dimensions apart. */
export interface ItemProposal {
  cells: { account: string; description: string; unit: string; price: string; taxCode: string };
  dimensions: Readonly<Record<string, string>>;
}

/**
 * What an item proposes on a line of a document in a currency. Its price is one without tax, so
 * that it is left out where prices have the tax in them, and where it is in another currency.
 */
export function proposedBy(
  item: Proposed,
  document: { currency: string; functional: string; gross: boolean },
): ItemProposal {
  const fits = (item.currency || document.functional) === document.currency && !document.gross;
  return {
    cells: {
      account: item.account,
      description: item.name,
      unit: item.unit,
      price: fits ? priceText(item.price, document.currency) : "",
      taxCode: item.taxCode,
    },
    dimensions: item.dimensions,
  };
}

type ItemLine = PaperLine & { item: string; unit: string; price: string };

/** A line with what its item proposes where it says nothing itself; an amount needs no price. */
export function withItem<L extends ItemLine>(line: L, { cells, dimensions }: ItemProposal): L {
  const written = (text: string | undefined) => (text ?? "").trim() !== "";
  const filled = Object.fromEntries(
    Object.entries(cells).filter(
      ([key, value]) =>
        value !== "" &&
        !written(line[key as keyof typeof cells]) &&
        !(key === "price" && written(line.net)),
    ),
  );
  return {
    ...line,
    ...filled,
    dimensions: {
      ...dimensions,
      ...Object.fromEntries(Object.entries(line.dimensions).filter(([, v]) => written(v))),
    },
  };
}

/** What stands against the item that a line names: there is none, or it is blocked. */
export function againstItem(
  code: string,
  items: ReadonlyMap<string, Pick<TradeItem, "name" | "blocked">>,
): Found | null {
  const wanted = code.trim().toUpperCase();
  if (wanted === "") return null;
  const item = items.get(wanted);
  if (!item) return { code: "NOT_FOUND", what: `item ${wanted.slice(0, 40)}`, field: "item" };
  return item.blocked ? { code: "INVALID", what: `${item.name} is blocked`, field: "item" } : null;
}
