import Decimal from "decimal.js";
import { quantityText } from "../ledger";
import { amountText, minor, proportion, type Minor } from "../shared";

/**
 * What a receipt of an order line has left to be invoiced. A return that waits for a credit note is
 * negative throughout.
 */
export interface ReceiptLot {
  receiptLine: number;
  receipt: string;
  /** Thousandths. */
  quantityLeft: bigint;
  /** At order price: in the order's currency, and functional at the receipt's rate. */
  foreignLeft: Minor;
  functionalLeft: Minor;
  /** What was written off of it, and to where. */
  cleaned: Minor;
  cleanedTo: { account: string; dimensions: Readonly<Record<string, string>> } | null;
}

/**
 * How far an invoice may differ; null is no limit of that kind, and with both null nothing may
 * differ.
 */
export interface Tolerance {
  percent: string | null;
  /** Minor units of the order's currency, or thousandths. */
  amount: bigint | null;
}

/** A line of an order in force, with what an invoice line is compared with. */
export interface OrderedLine {
  /** "HSF-26-O00012/2" */
  ref: string;
  orderId: number;
  orderLine: number;
  supplier: string;
  currency: string;
  price: string;
  exponent: number;
  quantity: bigint;
  received: bigint;
  invoiced: bigint;
  account: string;
  dimensions: Readonly<Record<string, string>>;
  description: string;
  taxCode: string;
  /**
   * Nothing is received of it (a service, or accrued only at a period's end): it is compared with
   * the order alone.
   */
  twoWay: boolean;
  /** Nothing more was expected of its order. */
  closed: boolean;
  lots: readonly ReceiptLot[];
  priceTolerance: Tolerance;
  quantityTolerance: Tolerance;
}

export interface LotUse {
  receiptLine: number;
  quantity: bigint;
  foreign: Minor;
  functional: Minor;
  /** What had been written off of it and stands again. */
  reopened: Minor;
  reopenedFrom: ReceiptLot["cleanedTo"];
}

/**
 * How the cost of an invoice line comes apart. Amounts in the invoice's currency, signed as on the
 * paper; they add up to the cost.
 */
export interface LineMatch {
  ref: string;
  orderId: number;
  orderLine: number;
  quantity: bigint;
  uses: LotUse[];
  /** Clears what was accrued. */
  cleared: Minor;
  /** To the coding of the line, where nothing was accrued. */
  direct: Minor;
  priceVariance: Minor;
  quantityVariance: Minor;
  /** What does not fit, in sentences. */
  holds: string[];
}

const size = (n: bigint): bigint => (n < 0n ? -n : n);
const within = (difference: bigint, of: bigint, t: Tolerance): boolean => {
  if (difference === 0n) return true;
  if (t.percent === null && t.amount === null) return false;
  return (
    (t.percent === null ||
      new Decimal(size(difference).toString()).lte(
        new Decimal(size(of).toString()).mul(t.percent).div(100),
      )) &&
    (t.amount === null || size(difference) <= t.amount)
  );
};

/**
 * Compares an invoice line with its order line and with what was received (three-way match), or
 * with the order alone (two-way), and takes its cost apart:
 * what clears receipts, oldest first, at what they were accrued at; what the price differs by; what
 * was invoiced beyond the receipts.
 * Units: quantities in thousandths, positive; `net` and `cost` (net and the tax that can't be
 * recovered) in minor units, positive. A credit note settles returns.
 * Rounding: parts of a lot in proportion to its quantity, half away from zero; whoever takes the
 * last of a lot takes all that is left of it.
 */
export function matchLine(
  ordered: OrderedLine,
  quantity: bigint,
  net: Minor,
  cost: Minor,
  credit: boolean,
): LineMatch {
  const holds: string[] = [];
  const uses: LotUse[] = [];
  let open = quantity;
  for (const lot of ordered.lots.filter((l) =>
    credit ? l.quantityLeft < 0n : l.quantityLeft > 0n,
  )) {
    if (open === 0n || ordered.twoWay) break;
    const left = size(lot.quantityLeft);
    const taken = left < open ? left : open;
    open -= taken;
    uses.push({
      receiptLine: lot.receiptLine,
      quantity: taken,
      foreign: minor(size(proportion(lot.foreignLeft, taken, left))),
      functional: minor(size(proportion(lot.functionalLeft, taken, left))),
      reopened: proportion(lot.cleaned, taken, left),
      reopenedFrom: lot.cleanedTo,
    });
  }
  const matched = quantity - open;
  const cleared = minor(uses.reduce((t, u) => t + u.foreign, 0n));
  const ofMatched = proportion(cost, matched, quantity);
  const rest = minor(cost - ofMatched);
  const units = (q: bigint): string => quantityText(q);
  const ordersValue = BigInt(
    new Decimal(quantity.toString())
      .mul(ordered.price)
      .mul(new Decimal(10).pow(ordered.exponent - 3))
      .toDecimalPlaces(0, Decimal.ROUND_HALF_UP)
      .toFixed(0),
  );
  const difference = net - ordersValue;
  if (!credit && !within(difference, ordersValue, ordered.priceTolerance)) {
    const priceText = (price: Decimal): string =>
      price.toFixed(Math.max(ordered.exponent, price.decimalPlaces()));
    const each = new Decimal(net.toString())
      .div(new Decimal(10).pow(ordered.exponent))
      .div(new Decimal(quantity.toString()).div(1000))
      .toDecimalPlaces(4);
    holds.push(
      `${ordered.ref}: ${units(quantity)} are invoiced at ${priceText(each)}, ordered at ${priceText(new Decimal(ordered.price))}; that is ${amountText(minor(size(difference)), ordered.currency)} ${ordered.currency} ${difference > 0n ? "more" : "less"} than ordered.`,
    );
  }
  const beyond = ordered.invoiced + quantity - ordered.quantity;
  if (!credit && beyond > 0n && !within(beyond, ordered.quantity, ordered.quantityTolerance))
    holds.push(
      `${ordered.ref}: ${units(ordered.invoiced + quantity)} are invoiced of ${units(ordered.quantity)} ordered.`,
    );
  else if (
    !credit &&
    !ordered.twoWay &&
    open > 0n &&
    !within(open, ordered.quantity, ordered.quantityTolerance)
  )
    holds.push(
      `${ordered.ref}: ${units(quantity)} are invoiced, ${matched === 0n ? "nothing" : units(matched)} ${matched === 0n || matched === 1000n ? "is" : "are"} received and not invoiced yet.`,
    );
  if (!credit && ordered.closed)
    holds.push(`${ordered.ref}: the order is closed, and nothing more was expected of it.`);
  if (!credit && uses.some((u) => u.reopened !== 0n))
    holds.push(
      `${ordered.ref}: what was received of it was written off; by this invoice the cost stands again.`,
    );
  const direct = ordered.twoWay || credit ? rest : minor(0n);
  return {
    ref: ordered.ref,
    orderId: ordered.orderId,
    orderLine: ordered.orderLine,
    quantity,
    uses,
    cleared,
    direct,
    priceVariance: minor(ofMatched - cleared),
    quantityVariance: minor(rest - direct),
    holds,
  };
}
