import { proportion, type Minor } from "../shared";

/**
 * What a tax of the invoice behind an item came to, in the item's currency, signed as on the paper:
 * a line taken off may have a code of its own.
 */
export interface ItemTax {
  code: string;
  base: Minor;
  tax: Minor;
  recoverable: Minor;
  /** As they were recorded, in functional currency: whatever takes them back, does so by this. */
  functionalBase: Minor;
  functionalTax: Minor;
  reverse: boolean;
  account: string;
  owedAccount: string;
}

/** What a discount takes back of a tax, in the payment's currency, signed as the tax. */
export interface TaxTakenBack extends ItemTax {
  item: number;
}

/**
 * What a discount takes back of the taxes of its invoice: in proportion to the whole of it, with
 * the taxes that the supplier charges. In functional currency it is a part of what was recorded, at
 * the rate of the invoice, so that nothing of a tax stays behind in the accounts (IAS 21.28: the
 * difference is one of exchange). Rounding: half away from zero, each.
 */
export function taxTakenBack(
  item: { id: number; taxes: readonly ItemTax[] },
  discount: Minor,
): TaxTakenBack[] {
  const gross = item.taxes.reduce((t, x) => t + x.base + (x.reverse ? 0n : x.tax), 0n);
  if (discount === 0n || gross === 0n) return [];
  return item.taxes.map((t) => ({
    ...t,
    item: item.id,
    base: proportion(t.base, discount, gross),
    tax: proportion(t.tax, discount, gross),
    recoverable: proportion(t.recoverable, discount, gross),
    functionalBase: proportion(t.functionalBase, discount, gross),
    functionalTax: proportion(t.functionalTax, discount, gross),
  }));
}
