import { decimalText, isCurrency } from "@/core/shared";

/** Quantities are kept in thousandths, whatever the currency of what stands beside them. */
export const unitsText = (thousandths: bigint): string => decimalText(thousandths, "KWD");

interface Reading {
  currency: string;
  /** The functional currency of each company, by its code. */
  functional: ReadonlyMap<string, string>;
  /** Names of fields that hold quantities. */
  quantities: ReadonlySet<string>;
}

/**
 * A value as programs get it: amounts and quantities as plain decimals. An amount is in the
 * currency that is named nearest to it: beside it, or of the company beside it, or further out.
 */
export function plain(value: unknown, reading: Reading, field = ""): unknown {
  if (typeof value === "bigint")
    return reading.quantities.has(field)
      ? unitsText(value)
      : decimalText(value, reading.currency || "EUR");
  if (Array.isArray(value)) return value.map((v) => plain(v, reading, field));
  if (value instanceof Map) return plain(Object.fromEntries(value), reading, field);
  if (typeof value !== "object" || value === null) return value;
  const { currency, company } = value as { currency?: unknown; company?: unknown };
  const own =
    typeof currency === "string" && isCurrency(currency)
      ? currency
      : typeof company === "string"
        ? reading.functional.get(company)
        : undefined;
  const inner = own ? { ...reading, currency: own } : reading;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, plain(v, inner, k)]));
}
