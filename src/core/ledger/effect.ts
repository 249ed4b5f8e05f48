import { isResult, type Account } from "./types";
import type { DraftLine } from "./types";

/**
 * What one posting would do to one figure. Functional minor units; on an account of units,
 * thousandths.
 */
export interface Change {
  label: string;
  before: bigint;
  after: bigint;
}

/**
 * What posting would do in one company: to the balances that it touches, and to the three figures
 * that everybody asks about.
 */
export interface Effect {
  company: string;
  currency: string;
  /** Debit positive. */
  balances: (Change & { account: string; units: boolean })[];
  /** Result of the period, net assets and cash at its end; profit and assets positive. */
  figures: Change[];
}

/** What an account stood at when its period ends, and what moved in the period. Debit positive. */
export interface Standing {
  account: Account;
  closing: bigint;
  movement: bigint;
}

/**
 * The effect of lines on the standings of a period. Result accounts show their year to date.
 * Rule: net assets are assets less liabilities; cash is what stands on bank control accounts.
 */
export function effectOf(
  lines: readonly Pick<DraftLine, "account" | "side" | "amount" | "quantity">[],
  standings: readonly Standing[],
  company: string,
  currency: string,
): Effect {
  const byNumber = new Map(standings.map((s) => [s.account.number, s]));
  const changes = new Map<string, bigint>();
  for (const line of lines) {
    const standing = byNumber.get(line.account);
    if (!standing) continue;
    const size = standing.account.type === "units" ? (line.quantity ?? 0n) : line.amount;
    changes.set(
      line.account,
      (changes.get(line.account) ?? 0n) + (line.side === "debit" ? size : -size),
    );
  }
  const sum = (of: (s: Standing) => bigint) => standings.reduce((total, s) => total + of(s), 0n);
  const change = (of: (a: Account) => boolean) =>
    [...changes].reduce(
      (total, [number, c]) => (of(byNumber.get(number)!.account) ? total + c : total),
      0n,
    );
  const position = (a: Account) => a.type === "asset" || a.type === "liability";
  const cash = (a: Account) => a.control === "bank";
  const result = -sum((s) => (isResult(s.account.type) ? s.movement : 0n));
  const net = sum((s) => (position(s.account) ? s.closing : 0n));
  const held = sum((s) => (cash(s.account) ? s.closing : 0n));
  return {
    company,
    currency,
    balances: [...changes]
      .filter(([, c]) => c !== 0n)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([number, c]) => {
        const { account, closing } = byNumber.get(number)!;
        return {
          account: number,
          label: account.name,
          before: closing,
          after: closing + c,
          units: account.type === "units",
        };
      }),
    figures: [
      {
        label: "Result of the period",
        before: result,
        after: result - change((a) => isResult(a.type)),
      },
      { label: "Net assets", before: net, after: net + change(position) },
      { label: "Cash", before: held, after: held + change(cash) },
    ],
  };
}
