import { daysBetween, type CalendarDate } from "../../shared";
import type { OwnTransfer } from "../lineState";
import { isWorthTheSame } from "./worth";
import type { Candidate, MatchFacts, MatchLine, OwnAccount } from "./types";

/** How many days apart the two banks may book the two sides. */
const APART = 6;

const isNearIn = (a: CalendarDate, b: CalendarDate): boolean =>
  Math.abs(daysBetween(a, b)) <= APART;

/**
 * Explains lines that are money between accounts of our own: each with the line on the other account
 * that is its other side, where exactly one can be. Both sides have one amount, one currency, and one
 * of them at least names the other's account; in two currencies both are worth the same by the rate of
 * their day, but for what a bank takes for exchanging. A line is the other side of one line only. What names
 * the account of another company of the group is due from it, or to it: each side stands alone.
 */
export function ownTransfers({
  lines,
  oneSided,
  ownAccounts: own,
  exchanged = [],
  worth = new Map(),
}: Pick<MatchFacts, "lines" | "oneSided" | "ownAccounts" | "exchanged" | "worth">): Map<
  number,
  Candidate
> {
  const byAccount = new Map(own.map((o) => [o.account, o]));
  const codeOf = new Map(own.map((o) => [o.bank, o.code]));
  const named = (l: MatchLine): OwnAccount | undefined => byAccount.get(l.party.account);
  const all = [...lines, ...oneSided];
  const byAmount = new Map<bigint, MatchLine[]>();
  for (const l of all) {
    const same = byAmount.get(l.amount);
    if (same) same.push(l);
    else byAmount.set(l.amount, [l]);
  }
  const isOther = (l: MatchLine, o: MatchLine): boolean =>
    o.bank !== l.bank &&
    isNearIn(o.booked, l.booked) &&
    (named(l)?.bank === o.bank || named(o)?.bank === l.bank) &&
    (named(l) === undefined || named(l)!.bank === o.bank) &&
    (named(o) === undefined || named(o)!.bank === l.bank);
  const others = (l: MatchLine): MatchLine[] =>
    (byAmount.get(-l.amount) ?? []).filter((o) => o.currency === l.currency && isOther(l, o));
  const exchanges = (l: MatchLine, of: readonly MatchLine[]): MatchLine[] =>
    of.filter(
      (o) =>
        o.amount < 0n !== l.amount < 0n &&
        isWorthTheSame(worth.get(l.id), worth.get(o.id)) &&
        isOther(l, o),
    );
  const found = new Map<number, Candidate>();
  for (const l of lines) {
    const account = named(l);
    const sides = others(l);
    const only = sides.length === 1 && others(sides[0]!).length === 1 ? sides[0]! : null;
    if (only)
      found.set(
        l.id,
        candidate(l, { bank: only.bank, code: codeOf.get(only.bank) ?? "", line: only.id }, true),
      );
    else if (exchanged.length > 0 && exchanges(l, exchanged).length > 0) {
      const [first, ...more] = exchanges(l, exchanged);
      const alone = more.length === 0 && exchanges(first!, lines).length === 1;
      const code = codeOf.get(first!.bank) ?? "";
      found.set(l.id, exchange(l, first!, code, alone));
    } else if (account && account.facing !== "") found.set(l.id, dueCandidate(l, account));
    else if ((account?.isNear || account?.isExchange) && account.bank !== l.bank)
      found.set(l.id, candidate(l, { bank: account.bank, code: account.code, line: null }, false));
  }
  return found;
}

/** Money that another account of ours has in another currency: certain where only that one can be. */
const exchange = (l: MatchLine, o: MatchLine, code: string, alone: boolean): Candidate => ({
  ...candidate(l, { bank: o.bank, code, line: o.id }, alone),
  reasons: [
    {
      what: "own transfer",
      weight: alone ? 100 : 50,
      says: alone
        ? `${code} has as much in ${o.currency} the other way by the day's rate, and no other line fits`
        : `${code} has as much in ${o.currency} the other way by the day's rate, and so has another line`,
    },
  ],
});

const dueCandidate = (l: MatchLine, { bank, code, facing }: OwnAccount): Candidate => ({
  takes: [],
  partner: "",
  kind: "",
  coding: null,
  transfer: { bank, code, line: null, company: facing },
  rest: l.amount,
  score: 100,
  reasons: [
    {
      what: "own transfer",
      weight: 100,
      says: `it names ${code}, an account of ${facing}: due ${l.amount < 0n ? "from" : "to"} that company`,
    },
  ],
  sure: true,
});

const candidate = (l: MatchLine, transfer: OwnTransfer, isPaired: boolean): Candidate => ({
  takes: [],
  partner: "",
  kind: "",
  coding: null,
  transfer,
  rest: l.amount,
  score: isPaired ? 100 : 50,
  reasons: [
    {
      what: "own transfer",
      weight: isPaired ? 100 : 50,
      says: isPaired
        ? `${transfer.code} has the same amount the other way, and no other line fits`
        : `it names our own account ${transfer.code}, whose line is not there yet`,
    },
  ],
  sure: isPaired,
});
