import type { CalendarDate } from "../shared";

/** Whether a tax is on what is bought or on what is sold. */
export const TAX_DIRECTIONS = ["purchase", "sale"] as const;
export type TaxDirection = (typeof TAX_DIRECTIONS)[number];

export const TAX_KINDS = ["standard", "reverse", "none", "withheld"] as const;
export type TaxKind = (typeof TAX_KINDS)[number];

/**
 * What a sale is to the tax office (UNCL 5305): standard, zero rated, exempt, reverse charge, supply
 * within the community, export, outside the scope.
 */
export const TAX_CATEGORIES = ["S", "Z", "E", "AE", "K", "G", "O"] as const;
export type TaxCategory = (typeof TAX_CATEGORIES)[number];

/** Which categories a sale may have under a kind of tax; the first is what it usually is. */
export const CATEGORIES_OF_KIND: Readonly<Record<TaxKind, readonly TaxCategory[]>> = {
  standard: ["S"],
  reverse: ["AE", "K"],
  none: ["E", "Z", "K", "G", "O"],
  withheld: [],
};
/** Under these nothing is charged, and the invoice says why. */
export const CATEGORIES_WITH_REASON: ReadonlySet<TaxCategory> = new Set(["E", "AE", "K", "G", "O"]);
/** Under these the buyer owes the tax, and the invoice names its tax number. */
export const CATEGORIES_OF_TAXED_BUYERS: ReadonlySet<TaxCategory> = new Set(["AE", "K"]);

/** How a tax is computed, posted and declared. */
export interface TaxCode {
  code: string;
  name: string;
  direction: TaxDirection;
  /**
   * standard: on the invoice; reverse: owed by the buyer (reverse charge); none: outside the scope,
   * exempt or zero; withheld: kept back by the buyer from what is paid.
   */
  kind: TaxKind;
  /**
   * Account of what the tax office owes: input tax that can be recovered, or what customers have
   * kept back.
   */
  account: string;
  /**
   * Account of what is owed to the tax office: output tax, what a buyer owes under reverse charge,
   * or what was kept back from suppliers.
   */
  owedAccount: string;
  /** Per cent that can be recovered, as a decimal; what can't is part of the cost. */
  recoverable: string;
  returnLine: string;
  /** Of a sale: what it is to the tax office; empty for what is usual of its kind. */
  category: TaxCategory | "";
  /** The text that an invoice carries under it: why nothing is charged. */
  reason: string;
  blocked: boolean;
  /** Rates with the days from which they hold. */
  rates: readonly { from: CalendarDate; percent: string }[];
}

/** Which accounts a tax is booked on, by direction and kind. */
const BOOKED: Record<TaxDirection, Record<TaxKind, { account: boolean; owedAccount: boolean }>> = {
  purchase: {
    standard: { account: true, owedAccount: false },
    reverse: { account: true, owedAccount: true },
    withheld: { account: false, owedAccount: true },
    none: { account: false, owedAccount: false },
  },
  sale: {
    standard: { account: false, owedAccount: true },
    // The buyer owes it: it is reported and booked nowhere.
    reverse: { account: false, owedAccount: false },
    withheld: { account: true, owedAccount: false },
    none: { account: false, owedAccount: false },
  },
};

/** What a sale under this code is to the tax office. */
export const categoryOf = ({ category, kind }: Pick<TaxCode, "category" | "kind">): TaxCategory =>
  category || CATEGORIES_OF_KIND[kind][0] || "O";

/** Which of its accounts a tax code needs. */
export const taxAccountsNeeded = ({ direction, kind }: Pick<TaxCode, "direction" | "kind">) =>
  BOOKED[direction][kind];

/** The accounts on which a tax is booked: empty where it is booked on none of that sort. */
export function taxAccounts(
  code: Pick<TaxCode, "direction" | "kind" | "account" | "owedAccount">,
): Pick<TaxCode, "account" | "owedAccount"> {
  const needed = taxAccountsNeeded(code);
  return {
    account: needed.account ? code.account : "",
    owedAccount: needed.owedAccount ? code.owedAccount : "",
  };
}
