import { exponentOf } from "./currency";
import { LARGEST_AMOUNT, minor, type Minor } from "./minor";

/** How a person writes figures: the decimal mark and the mark between thousands. */
export interface NumberFormat {
  decimal: "." | ",";
  group: "," | "." | " " | "'";
}

export const DEFAULT_FORMAT: NumberFormat = { decimal: ".", group: "," };

export type AmountFault = "not-a-number" | "too-many-decimals" | "too-large";
export type AmountReading = { ok: true; amount: Minor } | { ok: false; fault: AmountFault };

/**
 * Reads an amount as typed: "1,234.50", "(1,234.50)", "1234.5-", "−12". Groups, where used, must be
 * of three digits.
 * Units: the result is in minor units of `currency`. Nothing is ever rounded: a third decimal of a
 * cent is a fault.
 * Faults: not-a-number (also NaN, exponents, a group of two digits), too-many-decimals, too-large
 * (LARGEST_AMOUNT).
 */
export function readAmount(
  text: string,
  currency: string,
  format: NumberFormat = DEFAULT_FORMAT,
): AmountReading {
  const exponent = exponentOf(currency);
  // Typed and pasted minus signs differ; spaces of all widths come with pasted figures.
  let body = text
    .trim()
    .replace(/[\u2212\u2013]/g, "-")
    .replace(/[\s\u00a0\u202f]/g, format.group === " " ? " " : "");
  let negative = false;
  const bracketed = /^\((.*)\)$/.exec(body);
  if (bracketed) {
    negative = true;
    body = bracketed[1]!;
  }
  if (/^[^-]+-$/.test(body)) body = `-${body.slice(0, -1)}`;
  if (body.startsWith("-") || body.startsWith("+")) {
    if (bracketed) return { ok: false, fault: "not-a-number" };
    negative = body.startsWith("-");
    body = body.slice(1);
  }
  const [whole = "", fraction, ...rest] = body.split(format.decimal);
  if (rest.length > 0) return { ok: false, fault: "not-a-number" };
  const groups = whole.split(format.group);
  const grouped =
    groups.length === 1 ||
    (/^\d{1,3}$/.test(groups[0]!) && groups.slice(1).every((g) => /^\d{3}$/.test(g)));
  const digits = groups.join("");
  if (!grouped || !/^\d*$/.test(digits) || (fraction !== undefined && !/^\d*$/.test(fraction)))
    return { ok: false, fault: "not-a-number" };
  if (digits === "" && !fraction) return { ok: false, fault: "not-a-number" };
  const decimals = (fraction ?? "").replace(/0+$/, "");
  if (decimals.length > exponent) return { ok: false, fault: "too-many-decimals" };
  if (digits.length > 19) return { ok: false, fault: "too-large" };
  const value = BigInt(digits + decimals.padEnd(exponent, "0"));
  if (value > LARGEST_AMOUNT) return { ok: false, fault: "too-large" };
  return { ok: true, amount: minor(negative ? -value : value) };
}

/**
 * Plain decimal text for files and interfaces: "-1234.50". Units: `amount` in minor units of
 * `currency`. Exact.
 */
export function decimalText(amount: Minor | bigint, currency: string): string {
  const exponent = exponentOf(currency);
  const digits = (amount < 0n ? -amount : amount).toString().padStart(exponent + 1, "0");
  const sign = amount < 0n ? "-" : "";
  if (exponent === 0) return sign + digits;
  return `${sign}${digits.slice(0, -exponent)}.${digits.slice(-exponent)}`;
}

export interface AmountStyle {
  format?: NumberFormat;
  /** ledger: minus sign and 0.00; statement: parentheses and an en dash for zero. */
  style?: "ledger" | "statement";
  /**
   * Divide for show: 1 shows the currency's decimals, 1000 and 1000000 show whole thousands or
   * millions.
   */
  scale?: Scale;
}
export type Scale = 1 | 1000 | 1000000;

/**
 * An amount for people. Units: minor units of `currency`.
 * Rounding: with a scale above 1, half away from zero to a whole scaled unit, for show only.
 */
export function amountText(
  amount: Minor | bigint,
  currency: string,
  { format = DEFAULT_FORMAT, style = "ledger", scale = 1 }: AmountStyle = {},
): string {
  const negative = amount < 0n;
  const size = negative ? -amount : amount;
  const exponent = exponentOf(currency);
  let whole: string;
  let fraction = "";
  if (scale === 1) {
    const digits = size.toString().padStart(exponent + 1, "0");
    whole = exponent === 0 ? digits : digits.slice(0, -exponent);
    fraction = exponent === 0 ? "" : format.decimal + digits.slice(-exponent);
  } else {
    whole = scaledUnits(size, exponent, scale).toString();
  }
  const isZero = scale === 1 ? size === 0n : whole === "0";
  if (isZero && style === "statement") return "–";
  const shown = whole.replace(/\B(?=(\d{3})+(?!\d))/g, format.group) + fraction;
  if (!negative || isZero) return shown;
  return style === "statement" ? `(${shown})` : `−${shown}`;
}

function scaledUnits(size: bigint, exponent: number, scale: Scale): bigint {
  const divisor = 10n ** BigInt(exponent) * BigInt(scale);
  return (size + divisor / 2n) / divisor;
}
