import Decimal from "decimal.js";
import { exponentOf, minor, type Minor } from "../shared";

/**
 * What a quantity costs at a price: minor units, half away from zero, once. Quantity in
 * thousandths.
 */
export const valueOf = (quantity: bigint, price: string, exponent: number): Minor =>
  minor(
    BigInt(
      new Decimal(quantity.toString())
        .mul(price)
        .mul(new Decimal(10).pow(exponent - 3))
        .toDecimalPlaces(0, Decimal.ROUND_HALF_UP)
        .toFixed(0),
    ),
  );

/**
 * A price as typed: a decimal of up to six places, with thousands separated or not. Null where it
 * is none.
 */
export function readPrice(written: string): string | null {
  const plain = written.trim().replace(/,(?=\d{3}(\D|$))/g, "");
  return /^\d{1,12}(\.\d{1,6})?$/.test(plain) ? new Decimal(plain).toFixed() : null;
}

/**
 * A price as it is read, with thousands apart and at least the decimals of its currency (two where
 * that is not known). What is none is left as it is.
 */
export function priceText(price: string, currency: string): string {
  const plain = readPrice(price);
  if (plain === null) return price;
  const [whole = "", fraction = ""] = plain.split(".");
  const decimals = fraction.padEnd(currency === "" ? 2 : exponentOf(currency), "0");
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, ",");
  return decimals === "" ? grouped : `${grouped}.${decimals}`;
}
