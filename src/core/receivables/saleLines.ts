import Decimal from "decimal.js";
import { quantityDecimals, readQuantity } from "../ledger";
import {
  decimalText,
  exponentOf,
  isCurrency,
  minor,
  proportion,
  readAmount,
  type Found,
  type Minor,
} from "../shared";
import { readPrice, valueOf } from "../trade";
import type { SaleInput, SaleLineInput } from "./saleInput";

/** What a line of a sale comes to. Minor units of its currency, signed as on the paper. */
export interface SaleLineValue {
  line: number;
  /** Thousandths, and its decimal. */
  quantity: string;
  /** Of one unit, as a decimal; "" where only the amount is written. */
  price: string;
  /** Per cent off this line, as a decimal. */
  discount: string;
  /** After the discount of the line. */
  value: Minor;
  /** What the discount of the document takes off it. */
  allowance: Minor;
}

export const isBlankSale = (l: SaleLineInput): boolean =>
  [
    l.item,
    l.account,
    l.net,
    l.price,
    l.quantity,
    l.description,
    ...Object.values(l.dimensions),
  ].every((t) => t.trim() === "");

/**
 * What the lines of a sale come to: quantity times price less the line's discount, or the amount as
 * written; and what the discount of the document takes off each.
 * Units: prices and per cents as decimals, amounts in minor units. Rounding: half away from zero, a
 * line once, its part of the document's discount once.
 * Errors at their cells: figures that are none, an amount that is not what quantity and price come
 * to, discounts over 100 per cent.
 */
export function saleLines(
  input: SaleInput,
  currency: string,
): { values: ReadonlyMap<number, SaleLineValue>; problems: Found[] } {
  const problems: Found[] = [];
  const values = new Map<number, SaleLineValue>();
  const ofDocument = readPercent(input.discount);
  if (ofDocument === null)
    problems.push({ code: "INVALID", what: percentFault(input.discount), field: "discount" });
  if (!isCurrency(currency)) return { values, problems };
  input.lines.forEach((l, i) => {
    if (isBlankSale(l)) return;
    const line = i + 1;
    const read = readLine(l, line, currency, problems);
    if (read)
      values.set(line, {
        line,
        ...read,
        allowance: percentOf(read.value, ofDocument ?? "0"),
      });
  });
  return { values, problems };
}

/**
 * What quantity and price of a line come to, less its discount; null where they can't be read or no
 * price is written.
 */
export function saleValue(
  l: Pick<SaleLineInput, "quantity" | "price" | "discount">,
  currency: string,
): Minor | null {
  if (l.price.trim() === "" || !isCurrency(currency)) return null;
  const blank = {
    item: "",
    net: "",
    account: "",
    description: "",
    dimensions: {},
  } as SaleLineInput;
  return readLine({ ...blank, ...l }, 1, currency, [])?.value ?? null;
}

type OneLine = Omit<SaleLineValue, "line" | "allowance">;

function readLine(
  l: SaleLineInput,
  line: number,
  currency: string,
  problems: Found[],
): OneLine | null {
  const quantity = l.quantity.trim() === "" ? 1000n : readQuantity(l.quantity);
  if (quantity === null || quantity === 0n) {
    problems.push({ code: "QUANTITY_INVALID", text: l.quantity, line, field: "quantity" });
    return null;
  }
  const discount = readPercent(l.discount);
  if (discount === null) {
    problems.push({ code: "INVALID", what: percentFault(l.discount), line, field: "discount" });
    return null;
  }
  const of = { quantity: quantityDecimals(quantity), discount };
  const written = l.net.trim() === "" ? null : readAmount(l.net, currency);
  // An amount that can't be read, or is missing, is said by whoever reads the paper.
  if (l.price.trim() === "")
    return written?.ok ? { ...of, discount: "0", price: "", value: written.amount } : null;
  const price = readPrice(l.price);
  if (price === null) {
    problems.push({
      code: "INVALID",
      what: `“${l.price}” is no price; write one like 12.50`,
      line,
      field: "price",
    });
    return null;
  }
  const value = valueOf(quantity, discounted(price, discount), exponentOf(currency));
  if (written?.ok && written.amount !== value)
    problems.push({
      code: "INVALID",
      what: `Quantity and price come to ${decimalText(value, currency)}, not ${decimalText(written.amount, currency)}`,
      line,
      field: "net",
    });
  return { ...of, price, value };
}

/** A per cent as a decimal; "0" where none is written, null where it is none or more than 100. */
function readPercent(written: string): string | null {
  const plain = written.trim().replace(/\s*%$/, "");
  if (plain === "") return "0";
  return /^\d{1,3}(\.\d{1,4})?$/.test(plain) && new Decimal(plain).lte(100)
    ? new Decimal(plain).toFixed()
    : null;
}
const percentFault = (written: string): string =>
  `“${written}” is no discount; write per cent from 0 to 100`;

const discounted = (price: string, percent: string): string =>
  new Decimal(price).mul(new Decimal(100).minus(percent)).div(100).toFixed();

/** Per cent of an amount, half away from zero. */
function percentOf(amount: Minor, percent: string): Minor {
  const [whole = "0", fraction = ""] = percent.split(".");
  return minor(proportion(amount, BigInt(whole + fraction), 100n * 10n ** BigInt(fraction.length)));
}
