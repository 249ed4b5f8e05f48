import { minor, type Minor } from "../shared";
import type { JournalEntry } from "./expandEntry";
import type { Masters } from "./masters";

/** What lines of a load come to for a company, or for one value of a balancing dimension in it. */
export interface LoadBalance {
  company: string;
  currency: string;
  /** Name of the dimension and code of its value; "" for the company as a whole. */
  value: string;
  debits: Minor;
  credits: Minor;
}

/**
 * Debits and credits of journals by company and, where dimensions have to balance, by each of their
 * values; lines without the value are named “without”. Units: minor units of the journals'
 * currencies, as written; nothing is converted or added by the system. Order: company, currency,
 * whole before values, code of the value.
 */
export function loadBalances(entries: readonly JournalEntry[], masters: Masters): LoadBalance[] {
  const found = new Map<string, LoadBalance>();
  const balancing = masters.dimensions.filter((d) => d.balancing !== "no");
  for (const entry of entries)
    for (const line of entry.lines) {
      const company = line.company ?? entry.company;
      const values = balancing.map(
        (d) => `${d.name} ${line.dimensions[d.code]?.trim() || "without"}`,
      );
      for (const value of ["", ...values]) {
        const key = [company, entry.currency, value].join("|");
        const sum = found.get(key) ?? {
          company,
          currency: entry.currency,
          value,
          debits: minor(0n),
          credits: minor(0n),
        };
        const side = line.side === "debit" ? "debits" : "credits";
        found.set(key, { ...sum, [side]: minor(sum[side] + line.amount) });
      }
    }
  return [...found].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, balance]) => balance);
}
