import {
  dateText,
  isCurrency,
  minor,
  plainName,
  readDateIn,
  readDateMarks,
  readNumberMarks,
  readTableFigure,
  type Found,
  type Minor,
} from "../shared";
import { readHeadings, type LoadDimension, type LoadField } from "./loadHeadings";
import type { DraftLine, Side } from "./types";

/** Names of the column that holds an amount in the line's own currency. */
const FOREIGN: ReadonlySet<string> = new Set([
  "foreign",
  "foreignamount",
  "currencyamount",
  "amountincurrency",
  "fremdwahrungsbetrag",
  "betraginwahrung",
  "montantendevise",
  "importeendivisa",
  "importoinvaluta",
]);

export interface OpeningContext {
  /** The functional currency of the company. */
  currency: string;
  dimensions: readonly LoadDimension[];
}
export interface ReadOpening {
  lines: DraftLine[];
  /** The row of the file that each line came from; the headings are row 1. */
  rowOf: number[];
  problems: Found[];
  /** How figures or dates were read that could be read otherwise, in sentences. */
  notes: string[];
}

type Cells = Readonly<Record<string, string>>;

/**
 * Reads opening balances out of rows by heading: an account with a debit or a credit, or a signed
 * amount, in functional currency; and where wanted a currency with the amount in it, partner, due
 * date, reference, description and values of dimensions.
 * Units: minor units. Nothing is rounded: an amount with more decimals than its currency has is a
 * problem. An amount in a currency has the sign of the functional one; beside a credit it may also
 * be without.
 * Errors: INVALID with the row in its sentence; the row is left out of the lines.
 */
export function readOpening(rows: readonly Cells[], context: OpeningContext): ReadOpening {
  const keys = [...new Set(rows.flatMap((r) => Object.keys(r)))];
  const fields = readHeadings(keys, context.dimensions);
  const keyOf = new Map<LoadField, string>();
  fields.forEach((f, i) => f && keyOf.set(f, keys[i]!));
  const foreignKey = keys.find((k) => FOREIGN.has(plainName(k)));
  const cell = (row: Cells, field: LoadField) => (row[keyOf.get(field) ?? ""] ?? "").trim();
  const foreignOf = (row: Cells) => (foreignKey ? (row[foreignKey] ?? "").trim() : "");
  const marks = readNumberMarks(
    rows.flatMap((r) => [cell(r, "debit"), cell(r, "credit"), cell(r, "amount"), foreignOf(r)]),
  );
  const dates = readDateMarks(rows.map((r) => cell(r, "dueDate")));
  const read: ReadOpening = {
    lines: [],
    rowOf: [],
    problems: [],
    notes: [
      ...(marks.certain
        ? []
        : [`Figures are read with a decimal ${marks.format.decimal === "," ? "comma" : "point"}.`]),
      ...(dates.certain
        ? []
        : [`Dates are read ${dates.order === "mdy" ? "month" : "day"} first.`]),
    ],
  };
  if (!keyOf.has("account")) {
    read.problems.push({ code: "INVALID", what: "The column account is missing" });
    return read;
  }
  rows.forEach((row, i) => {
    const faults: string[] = [];
    const amountIn = (text: string, currency: string): Minor => {
      const found = readTableFigure(text, currency, marks.format);
      if (found.ok) return minor(found.amount);
      faults.push(`“${text.slice(0, 30)}” is not an amount in ${currency}`);
      return minor(0n);
    };
    const sided = (["debit", "credit"] as const).filter((s) => cell(row, s));
    const signed = cell(row, "amount");
    if (sided.length + (signed ? 1 : 0) !== 1)
      faults.push("a row has a debit, a credit or an amount, one of them");
    const written = amountIn(signed || (sided[0] ? cell(row, sided[0]) : "0"), context.currency);
    const debit = (signed ? written : sided[0] === "debit" ? written : -written) >= 0n;
    const side: Side = debit ? "debit" : "credit";
    const amount = minor(written < 0n ? -written : written);
    const currency = cell(row, "currency").toUpperCase();
    const inCurrency = foreignOf(row);
    const foreign = currency !== "" && currency !== context.currency;
    if (foreign && !isCurrency(currency))
      faults.push(`there is no currency ${currency.slice(0, 10)}`);
    else if (foreign && inCurrency === "")
      faults.push(`the amount in ${currency} is missing, in a column named foreign`);
    if (!foreign && inCurrency !== "" && currency === "")
      faults.push("the currency of the foreign amount is missing");
    if (currency === context.currency && inCurrency !== "") {
      const same = amountIn(inCurrency, currency);
      if (same !== written && same !== -written)
        faults.push(`the amount in ${currency} is another one than ${currency} beside it`);
    }
    const due = cell(row, "dueDate");
    const dueDate = due === "" ? null : readDateIn(due, dates.order);
    if (due !== "" && dueDate === null)
      faults.push(`“${due.slice(0, 30)}” is no due date, as ${dateText("2026-10-31")} is one`);
    const foreignAmount =
      foreign && isCurrency(currency) && inCurrency !== "" ? amountIn(inCurrency, currency) : null;
    if (
      foreignAmount !== null &&
      (signed ? foreignAmount < 0n === debit : foreignAmount < 0n && debit)
    )
      faults.push(`the amount in ${currency} has another sign`);
    if (faults.length > 0) {
      for (const what of faults)
        read.problems.push({ code: "INVALID", what: `Row ${i + 2}: ${what}` });
      return;
    }
    const reference = cell(row, "reference");
    read.lines.push({
      account: cell(row, "account"),
      side,
      amount,
      description: cell(row, "description"),
      dimensions: Object.fromEntries(
        context.dimensions.map((d) => [d.code, cell(row, `d.${d.code}`)]),
      ),
      ...(foreignAmount === null
        ? {}
        : {
            currency,
            foreignAmount: minor(foreignAmount < 0n ? -foreignAmount : foreignAmount),
          }),
      ...(cell(row, "partner") ? { partner: cell(row, "partner") } : {}),
      ...(dueDate ? { dueDate } : {}),
      ...(reference ? { item: { kind: "journal", reference } } : {}),
    });
    read.rowOf.push(i + 2);
  });
  return read;
}
