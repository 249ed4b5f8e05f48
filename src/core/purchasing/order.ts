import { array, object, string, type InferType } from "yup";
import { readQuantity } from "../ledger";
import {
  againstItem,
  proposedBy,
  readPrice,
  valueOf,
  type ItemKind,
  type TradeItem,
} from "../trade";
import { rateOn, taxOf, type TaxCode } from "../taxes";
import {
  exponentOf,
  isCurrency,
  minor,
  readDate,
  textRecord,
  type CalendarDate,
  type Found,
  type Minor,
} from "../shared";

const text = (most = 100) => string().default("").max(most);
export const MAX_ORDER_LINES = 1000;
/**
 * When what was received is accrued: at once, or only at the end of a period for what is not
 * invoiced by then.
 */
export const ACCRUALS = ["receipt", "period end"] as const;

export const orderLineSchema = object({
  /** Its number once the order is placed; it stays. */
  no: text(10),
  item: text(60),
  account: text(100),
  dimensions: textRecord(),
  description: text(1000),
  quantity: text(),
  unit: text(20),
  price: text(),
  taxCode: text(40),
  /** Wanted on a day; or on several, as "10 on 3 Nov, 5 on 12 Nov". */
  wanted: text(300),
});

/** A request or an order as written: everything is text until it is checked. */
export const orderSchema = object({
  company: string().required().max(20),
  supplier: text(60),
  date: text(),
  wanted: text(),
  currency: string().nullable().default(null).max(10),
  terms: text(40),
  accrual: string().oneOf(ACCRUALS).default("receipt"),
  description: text(1000),
  lines: array(orderLineSchema).default([]).max(MAX_ORDER_LINES),
});
export type OrderInput = InferType<typeof orderSchema>;
export type OrderLineInput = InferType<typeof orderLineSchema>;
export const orderInput = (
  written: Partial<Omit<OrderInput, "lines">> & { lines?: readonly Partial<OrderLineInput>[] },
): OrderInput => orderSchema.cast({ company: "", ...written }, { assert: false }) as OrderInput;

export interface Delivery {
  date: CalendarDate;
  /** Thousandths. */
  quantity: bigint;
}

/** A line of an order as understood. Amounts in minor units of the order's currency. */
export interface OrderLine {
  /** Its place among the lines as written, from 1. */
  line: number;
  no: number | null;
  item: string;
  kind: ItemKind;
  group: string;
  account: string;
  dimensions: Readonly<Record<string, string>>;
  description: string;
  /** Thousandths. */
  quantity: bigint;
  unit: string;
  /** Price of one unit, a decimal. */
  price: string;
  net: Minor;
  /** What can't be recovered of its tax: part of the cost. */
  burden: Minor;
  taxCode: string;
  deliveries: Delivery[];
}

export interface OrderReading {
  lines: OrderLine[];
  net: Minor;
  tax: Minor;
  currency: string;
  date: CalendarDate | "";
  problems: Found[];
}

export interface OrderContext {
  functional: string;
  today: CalendarDate;
  items: ReadonlyMap<string, TradeItem>;
  taxCodes: ReadonlyMap<string, TaxCode>;
  /** Null where the document needs no supplier and names none. */
  supplier: { code: string; name: string; blocked: boolean } | null;
  supplierNeeded: boolean;
}

const isBlank = (l: OrderLineInput): boolean =>
  [l.item, l.account, l.description, l.quantity, l.price].every((t) => t.trim() === "");

/**
 * When a line is wanted: one day for all of it, or parts on days of their own that add up to it.
 */
export function readDeliveries(
  written: string,
  quantity: bigint,
  near: CalendarDate,
): Delivery[] | null {
  const parts = written
    .split(/[,;]+/)
    .map((p) => p.trim())
    .filter(Boolean);
  if (parts.length === 1 && !/ on /i.test(parts[0]!)) {
    const date = readDate(parts[0]!, near);
    return date ? [{ date, quantity }] : null;
  }
  const deliveries: Delivery[] = [];
  for (const part of parts) {
    const match = /^(.+?) on (.+)$/i.exec(part);
    const [amount, date] = match
      ? [readQuantity(match[1]!), readDate(match[2]!, near)]
      : [null, null];
    if (amount === null || amount <= 0n || !date) return null;
    deliveries.push({ date, quantity: amount });
  }
  return deliveries.reduce((t, d) => t + d.quantity, 0n) === quantity
    ? deliveries.sort((a, b) => (a.date < b.date ? -1 : 1))
    : null;
}

/**
 * Reads a request or an order: what an item proposes fills what was left empty, then every line is
 * checked.
 * Units: quantities in thousandths, prices as decimals of the currency for one unit. Rounding: each
 * line half away from zero to the minor unit; tax as `taxOf`, by line.
 */
export function readOrder(input: OrderInput, context: OrderContext): OrderReading {
  const problems: Found[] = [];
  const currency = input.currency?.trim().toUpperCase() || context.functional;
  if (!isCurrency(currency))
    problems.push({ code: "CURRENCY_UNKNOWN", currency, field: "currency" });
  const date = readDate(input.date, context.today);
  if (!date)
    problems.push(
      input.date.trim() === ""
        ? { code: "REQUIRED", what: "The date", field: "date" }
        : { code: "DATE_INVALID", text: input.date, field: "date" },
    );
  if (input.wanted.trim() !== "" && !readDate(input.wanted, context.today))
    problems.push({ code: "DATE_INVALID", text: input.wanted, field: "wanted" });
  if (!context.supplier && (context.supplierNeeded || input.supplier.trim() !== ""))
    problems.push(
      input.supplier.trim() === ""
        ? { code: "REQUIRED", what: "The supplier", field: "supplier" }
        : { code: "PARTNER_UNKNOWN", partner: input.supplier, field: "supplier" },
    );
  else if (context.supplier?.blocked)
    problems.push({
      code: "INVALID",
      what: `${context.supplier.name} is blocked`,
      field: "supplier",
    });
  const lines: OrderLine[] = [];
  let tax = 0n;
  input.lines.forEach((written, i) => {
    if (isBlank(written)) return;
    const line = i + 1;
    const item =
      written.item.trim() === "" ? null : context.items.get(written.item.trim().toUpperCase());
    const proposed =
      item && proposedBy(item, { currency, functional: context.functional, gross: false }).cells;
    const against = againstItem(written.item, context.items);
    if (against) problems.push({ ...against, line });
    const quantity = readQuantity(written.quantity);
    if (quantity === null || quantity <= 0n)
      problems.push(
        written.quantity.trim() === ""
          ? { code: "REQUIRED", what: "The quantity", line, field: "quantity" }
          : { code: "QUANTITY_INVALID", text: written.quantity, line, field: "quantity" },
      );
    const priceText = written.price.trim() || proposed?.price || "";
    const price = readPrice(priceText);
    if (price === null)
      problems.push(
        priceText === ""
          ? { code: "REQUIRED", what: "The price", line, field: "price" }
          : {
              code: "INVALID",
              what: `“${priceText.slice(0, 40)}” is no price. Write it like 12.50`,
              line,
              field: "price",
            },
      );
    const account = written.account.trim() || proposed?.account || "";
    if (account === "")
      problems.push({ code: "REQUIRED", what: "The account", line, field: "account" });
    const code = (written.taxCode.trim() || proposed?.taxCode || "").toUpperCase();
    const taxCode = context.taxCodes.get(code);
    if (!taxCode)
      problems.push(
        code === ""
          ? { code: "REQUIRED", what: "The tax code", line, field: "taxCode" }
          : { code: "TAX_UNKNOWN", tax: code, line, field: "taxCode" },
      );
    const wanted = written.wanted.trim() || input.wanted.trim() || input.date.trim();
    const deliveries = readDeliveries(wanted, quantity ?? 0n, context.today);
    if (!deliveries && written.wanted.trim() !== "")
      problems.push({
        code: "INVALID",
        what: "Say when it is wanted: a day, or parts like “10 on 3 Nov, 5 on 12 Nov” that add up to the quantity",
        line,
        field: "wanted",
      });
    const net =
      quantity !== null && price !== null
        ? valueOf(quantity, price, exponentOf(currency))
        : minor(0n);
    const rate = taxCode && date ? rateOn(taxCode, date) : null;
    const [computed] =
      taxCode && rate ? taxOf([net], rate.percent, taxCode.recoverable, "line") : [];
    if (computed && taxCode?.kind === "standard") tax += computed.tax;
    lines.push({
      line,
      no: /^\d+$/.test(written.no) ? Number(written.no) : null,
      item: item?.code ?? "",
      kind: item?.kind ?? "goods",
      group: item?.group ?? "",
      account,
      dimensions: Object.values(written.dimensions).some((v) => v.trim() !== "")
        ? written.dimensions
        : (item?.dimensions ?? {}),
      description: written.description.trim() || (item?.name ?? ""),
      quantity: quantity ?? 0n,
      unit: written.unit.trim() || item?.unit || "",
      price: price ?? "0",
      net,
      burden: computed ? minor(computed.tax - computed.recoverable) : minor(0n),
      taxCode: code,
      deliveries: deliveries ?? [],
    });
  });
  if (lines.length === 0) problems.push({ code: "REQUIRED", what: "A line", field: "lines" });
  return {
    lines,
    net: minor(lines.reduce((t, l) => t + l.net, 0n)),
    tax: minor(tax),
    currency,
    date: date ?? "",
    problems,
  };
}
