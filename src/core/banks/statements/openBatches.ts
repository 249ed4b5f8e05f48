import { minor } from "../../shared";
import type { StatementLine } from "./statement";

/** Of which line of the bank a movement is a part. */
export interface BatchPlace {
  /** From 1. */
  no: number;
  of: number;
  /** The whole of it, in minor units as text, and what the bank says of the whole. */
  amount: string;
  text: string;
}
export type OpenedLine = StatementLine & { batch: BatchPlace | null };

/**
 * The lines of a statement with each batch in its parts, where the bank says all of them: what comes
 * in one sum is of many people, and each of them is matched alone. A batch whose parts are not all
 * known, or not in the account's currency, stays as it is. The sum of the lines stays the same.
 */
export const openBatches = (lines: readonly StatementLine[]): OpenedLine[] =>
  lines.flatMap((l) => (isWhole(l) ? partsOf(l) : [{ ...l, batch: null }]));

/** Whether the parts of a line are known, each of its own amount, and come to the line. */
export function isWhole(line: Pick<StatementLine, "amount" | "details">): boolean {
  const { details, amount } = line;
  if (details.length < 2 || details.some((d) => d.amount === null || d.amount === 0n)) return false;
  return details.reduce((t, d) => t + d.amount!, 0n) === amount;
}

/** A batch in its parts; only where `isWhole`. */
export const partsOf = (line: StatementLine): OpenedLine[] =>
  line.details.map((d, i) => ({
    ...line,
    amount: minor(d.amount!),
    party: d.party,
    keys: { ...d.keys, bank: d.keys.bank || line.keys.bank },
    text: d.text,
    returnReason: d.returnReason || line.returnReason,
    details: [],
    batch: {
      no: i + 1,
      of: line.details.length,
      amount: String(line.amount),
      text: line.text.slice(0, 200),
    },
  }));
