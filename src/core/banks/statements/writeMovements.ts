import Papa from "papaparse";
import { decimalText, minor } from "../../shared";
import type { BankStatement } from "./statement";

const HEADINGS = [
  "Account",
  "Booking date",
  "Value date",
  "Name",
  "Account of the other party",
  "Text",
  "Reference",
  "Amount",
  "Currency",
  "Balance",
];

/**
 * The movements of a statement as a table (CSV) with the balance behind each, as the simulated bank
 * hands them out: days as 2026-11-05, figures with a decimal point. A table has no other keys than
 * the text.
 */
export function writeMovements({ account, currency, opening, lines }: BankStatement): string {
  let balance: bigint = opening.amount;
  const rows = lines.map((l) => {
    balance += l.amount;
    return [
      account,
      l.booked,
      l.valued,
      l.party.name,
      l.party.account,
      [l.text, l.keys.creditorReference, l.keys.cheque].filter(Boolean).join(" "),
      l.keys.endToEnd,
      decimalText(l.amount, currency),
      currency,
      decimalText(minor(balance), currency),
    ];
  });
  return Papa.unparse([HEADINGS, ...rows], { delimiter: ";", newline: "\r\n" });
}
