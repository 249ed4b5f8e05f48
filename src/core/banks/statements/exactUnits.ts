import { exponentOf, LARGEST_AMOUNT, minor, type Minor } from "../../shared";

/**
 * A decimal without sign, as files have it ("1234.5", "1234,50", "1234."), in minor units of a
 * currency. Nothing is rounded: null where more decimals than the currency has say something, where
 * it is no figure, or larger than any amount may be.
 */
export function exactUnits(text: string, currency: string): Minor | null {
  const parts = /^(\d{1,18})(?:[.,](\d{0,18}))?$/.exec(text.trim());
  if (!parts) return null;
  const places = exponentOf(currency);
  const fraction = (parts[2] ?? "").replace(/0+$/, "");
  if (fraction.length > places) return null;
  const amount = BigInt(parts[1]! + fraction.padEnd(places, "0"));
  return amount > LARGEST_AMOUNT ? null : minor(amount);
}
