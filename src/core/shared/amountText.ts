import { exponentOf } from "./currency";
import { LARGEST_AMOUNT, minor, type Minor } from "./minor";

/** How figures are written: the decimal mark, the mark between groups, and how large groups are. */
export interface NumberFormat {
  decimal: "." | ",";
  group: "," | "." | " " | "'";
  /** Groups of two above the last three digits (12,34,567), as in India; else groups of three. */
  pairs?: boolean;
}

export const DEFAULT_FORMAT: NumberFormat = { decimal: ".", group: "," };

export type AmountFault = "not-a-number" | "too-many-decimals" | "too-large";
export type AmountReading = { ok: true; amount: Minor } | { ok: false; fault: AmountFault };

/**
 * Marks that differ from place to place and mean the same: minus signs, apostrophes, spaces of all
 * widths.
 */
export const plainMarks = (text: string): string =>
  text
    .trim()
    .replace(/[\u2212\u2013]/g, "-")
    .replace(/\u2019/g, "'")
    .replace(/\s/g, " ");

const MARKS = { ",": ",", ".": "\\.", " ": " ", "'": "'" } as const;
/** Whole groups of three; of two above the last three, where the format says so. */
const GROUPED = Object.fromEntries(
  Object.entries(MARKS).map(([group, mark]) => [
    group,
    {
      threes: new RegExp(`^[1-9]\\d{0,2}(${mark}\\d{3})+$`),
      pairs: new RegExp(`^[1-9]\\d?(${mark}\\d{2})*${mark}\\d{3}$`),
    },
  ]),
) as Record<NumberFormat["group"], { threes: RegExp; pairs: RegExp }>;
const isGrouped = (whole: string, { group, pairs }: NumberFormat): boolean =>
  GROUPED[group][pairs ? "pairs" : "threes"].test(whole);

/**
 * An unsigned figure in one way of writing as plain decimal text: "1,234.5" is "1234.5". Null where
 * its groups are not whole, or anything else stands in it.
 */
export function plainFigure(text: string, format: NumberFormat): string | null {
  const [whole = "", fraction, ...rest] = text.split(format.decimal);
  if (rest.length > 0 || (whole === "" && !fraction)) return null;
  if (!/^\d*$/.test(whole) && !isGrouped(whole, format)) return null;
  if (fraction !== undefined && !/^\d*$/.test(fraction)) return null;
  const digits = whole.split(format.group).join("");
  return fraction ? `${digits || "0"}.${fraction}` : digits;
}

/**
 * Reads a figure in one way of writing and no other: "1,234.50", "(1,234.50)", "1234.5-", "−12".
 * Groups, where used, are complete: each of three digits (or of two, where the format says so), the
 * first without a leading zero. Nothing else may stand in it.
 * Units: the result is in minor units of `currency`. Nothing is ever rounded: a third decimal of a
 * cent is a fault.
 * Faults: not-a-number (also NaN, exponents, other marks), too-many-decimals, too-large
 * (LARGEST_AMOUNT).
 */
export function readFigure(text: string, currency: string, format: NumberFormat): AmountReading {
  const fault = (which: AmountFault): AmountReading => ({ ok: false, fault: which });
  const signed = splitSign(plainMarks(text));
  if (!signed) return fault("not-a-number");
  const { negative, body } = signed;
  const plain = plainFigure(body, format);
  if (plain === null) return fault("not-a-number");
  const exponent = exponentOf(currency);
  const [digits = "", fraction = ""] = plain.split(".");
  const decimals = fraction.replace(/0+$/, "");
  if (decimals.length > exponent) return fault("too-many-decimals");
  if (digits.length > 19) return fault("too-large");
  const value = BigInt(digits + decimals.padEnd(exponent, "0"));
  if (value > LARGEST_AMOUNT) return fault("too-large");
  return { ok: true, amount: minor(negative ? -value : value) };
}

/** The sign of a figure, before it, behind it or as brackets around it; null where it has two. */
function splitSign(text: string): { negative: boolean; body: string } | null {
  const bracketed = /^\((.*)\)$/.exec(text);
  const body = (bracketed ? bracketed[1]! : text).trim();
  const sign = /^[-+]/.test(body) ? body[0]! : /[^-]-$/.test(body) ? "-" : "";
  if (sign && bracketed) return null;
  const bare = sign === "" ? body : body.startsWith(sign) ? body.slice(1) : body.slice(0, -1);
  return { negative: bracketed !== null || sign === "-", body: bare.trim() };
}

/**
 * Reads an amount as a person types it: in their way of writing figures, or with spaces between
 * groups of three, which no other mark is taken for.
 * Units, rounding and faults as `readFigure`.
 */
export function readAmount(
  text: string,
  currency: string,
  format: NumberFormat = DEFAULT_FORMAT,
): AmountReading {
  const reading = readFigure(text, currency, format);
  return !reading.ok && reading.fault === "not-a-number" && format.group !== " "
    ? readFigure(text, currency, { decimal: format.decimal, group: " " })
    : reading;
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

/**
 * An amount in whole scaled units of its currency (thousands, millions), as it is shown: half away
 * from zero.
 */
export function scaledAmount(amount: Minor | bigint, currency: string, scale: Scale): bigint {
  const units = scaledUnits(amount < 0n ? -amount : amount, exponentOf(currency), scale);
  return amount < 0n ? -units : units;
}

function scaledUnits(size: bigint, exponent: number, scale: Scale): bigint {
  const divisor = 10n ** BigInt(exponent) * BigInt(scale);
  return (size + divisor / 2n) / divisor;
}
