import { decimalText, DEFAULT_FORMAT, readAmount, type NumberFormat } from "../shared";
import { QUANTITY_DECIMALS } from "./types";

/** Reads a quantity as typed, into thousandths; at most three decimals. Null where it is none. */
export function readQuantity(text: string, format: NumberFormat = DEFAULT_FORMAT): bigint | null {
  // A currency with three decimals reads exactly what a quantity may be.
  const reading = readAmount(text, "KWD", format);
  return reading.ok ? reading.amount : null;
}

/**
 * A quantity for people: thousands separated, decimals only where there are any. Units:
 * thousandths.
 */
export function quantityText(quantity: bigint): string {
  const size = quantity < 0n ? -quantity : quantity;
  const unit = 10n ** BigInt(QUANTITY_DECIMALS);
  const fraction = (size % unit).toString().padStart(QUANTITY_DECIMALS, "0").replace(/0+$/, "");
  return `${quantity < 0n ? "−" : ""}${(size / unit).toString().replace(/\B(?=(\d{3})+(?!\d))/g, ",")}${fraction ? `.${fraction}` : ""}`;
}

/** Plain decimal text of a quantity: "1234.5". Units: thousandths. Exact. */
export const quantityDecimals = (quantity: bigint): string =>
  decimalText(quantity, "KWD").replace(/\.?0+$/, "");
