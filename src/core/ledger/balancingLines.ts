import { decimalText, minor, type Found } from "../shared";
import { codingFromKey, codingKey } from "./coding";
import type { Masters } from "./masters";
import type { PreparedLine } from "./preparePostings";
import type { Dimension } from "./types";

/**
 * For dimensions that balance by themselves, as funds and segments with a balance sheet of their
 * own do: the lines that make each value
 * balance, on the dimension's account, or a problem for each value that does not balance where
 * nothing is to be added.
 * Units: functional minor units, and the journal's currency beside it. Exact; the added lines sum
 * to zero, because the journal does.
 */
export function balancingLines(
  lines: readonly PreparedLine[],
  functional: string,
  masters: Masters,
  found: Found[],
): PreparedLine[] {
  const added: PreparedLine[] = [];
  for (const dimension of masters.dimensions) {
    if (dimension.balancing === "no") continue;
    for (const [valueId, sum] of sumsByValue([...lines, ...added], dimension)) {
      if (sum.net === 0n && sum.foreign === 0n) continue;
      const value = valueId === 0 ? "" : (masters.valueById.get(valueId)?.code ?? "");
      const account =
        dimension.balancing === "add" && dimension.balancingAccount
          ? masters.accountByNumber.get(dimension.balancingAccount)
          : undefined;
      if (!account) {
        found.push({
          code: "VALUE_UNBALANCED",
          dimension: dimension.name.toLowerCase(),
          value,
          difference: decimalText(sum.net < 0n ? -sum.net : sum.net, functional),
          field: "lines",
        });
        continue;
      }
      const debit = sum.net < 0n || (sum.net === 0n && sum.foreign < 0n);
      const size = (n: bigint) => minor(debit ? -n : n);
      added.push({
        lineNo: lines.length + added.length + 1,
        account,
        coding: valueId === 0 ? "" : codingKey([{ slot: dimension.slot, valueId }]),
        description: `Balances ${dimension.name.toLowerCase()} ${value || "(none)"}`,
        side: debit ? "debit" : "credit",
        amount: size(sum.net),
        currency: sum.currency,
        foreignAmount: size(sum.foreign),
        rate: null,
        counterparty: null,
        quantity: null,
        note: "",
        partner: null,
        dueDate: null,
        item: null,
        listed: false,
        added: "balance",
      });
    }
  }
  return added;
}

function sumsByValue(
  lines: readonly PreparedLine[],
  dimension: Dimension,
): Map<number, { net: bigint; foreign: bigint; currency: string }> {
  const sums = new Map<number, { net: bigint; foreign: bigint; currency: string }>();
  for (const line of lines) {
    if (line.account.type === "units") continue;
    const valueId = codingFromKey(line.coding).find((c) => c.slot === dimension.slot)?.valueId ?? 0;
    const sum = sums.get(valueId) ?? { net: 0n, foreign: 0n, currency: line.currency };
    sum.net += line.side === "debit" ? line.amount : -line.amount;
    sum.foreign += line.side === "debit" ? line.foreignAmount : -line.foreignAmount;
    sums.set(valueId, sum);
  }
  return sums;
}
