import type { AccountPurpose, DraftLine, JournalDraft } from "../ledger";
import { fail, minor, ok, type CalendarDate, type Found, type Minor, type Result } from "../shared";
import { settle, type AllocationLine, type ItemLeft } from "./settle";

/** Two items that settle each other. */
export interface Pairing {
  first: number;
  second: number;
  /** Positive, in the items' currency; as much as both have where left out. */
  amount?: Minor;
}

/**
 * What settling takes from a control account, for each partner and currency: foreign amounts where
 * an item on another account is set against it, functional ones also where both sides were carried
 * at different values. Signed as items are: a debit that goes is positive.
 */
export interface Taken {
  account: string;
  partner: string;
  currency: string;
  amount: Minor;
  functional: Minor;
}

export interface ManySettled {
  /** What each item loses, over all pairs. */
  lines: AllocationLine[];
  /** What the control accounts lose, where that is not nothing. */
  taken: Taken[];
}

/**
 * Sets items against each other, pair by pair, each pair with what the ones before it left.
 * Units, rounding and rule as `settle`. Errors: those of `settle`, NOT_FOUND.
 */
export function settleMany(
  items: ReadonlyMap<number, ItemLeft>,
  pairings: readonly Pairing[],
): Result<ManySettled> {
  const left = new Map(items);
  const sums = new Map<number, AllocationLine>();
  const taken = new Map<string, Taken>();
  for (const p of pairings) {
    const [a, b] = [left.get(p.first), left.get(p.second)];
    if (!a || !b) return fail({ code: "NOT_FOUND", what: "such open item" });
    const result = settle(a, b, p.amount);
    if (!result.ok) return result;
    for (const line of result.value.lines) {
      const item = left.get(line.item)!;
      left.set(line.item, {
        ...item,
        left: minor(item.left - line.amount),
        leftFunctional: minor(item.leftFunctional - line.functional),
      });
      sums.set(line.item, plus(sums.get(line.item) ?? { item: line.item, ...NOTHING }, line));
      const { account, partner, currency } = item;
      const key = JSON.stringify([currency, account, partner]);
      taken.set(key, plus(taken.get(key) ?? { account, partner, currency, ...NOTHING }, line));
    }
  }
  return ok({
    lines: [...sums.values()],
    taken: [...taken.values()].filter((t) => t.amount !== 0n || t.functional !== 0n),
  });
}

const NOTHING = { amount: minor(0n), functional: minor(0n) };
const plus = <T extends { amount: Minor; functional: Minor }>(
  sum: T,
  { amount, functional }: { amount: Minor; functional: Minor },
): T => ({
  ...sum,
  amount: minor(sum.amount + amount),
  functional: minor(sum.functional + functional),
});

interface SettlementFacts {
  company: { code: string; currency: string };
  /** The journal type of the area. */
  type: string;
  date: CalendarDate;
  origin?: number;
  purposes: Readonly<Partial<Record<AccountPurpose, string>>>;
}

/**
 * The journals that settling needs, one for each currency: they take from each control account and
 * partner what their items lose, and put what both sides are carried at differently to exchange
 * gain or loss (IAS 21.28), on lines without a foreign amount.
 * Units: minor units. Nothing is rounded. Errors: PURPOSE_MISSING.
 */
export function settlementDrafts(
  taken: readonly Taken[],
  facts: SettlementFacts,
): Result<JournalDraft[]> {
  const problems: Found[] = [];
  const currencies = [...new Set(taken.map((t) => t.currency))];
  const drafts = currencies.map((currency): JournalDraft => {
    const own = taken.filter((t) => t.currency === currency);
    const foreign = currency !== facts.company.currency;
    const moves = own.some((t) => t.amount !== 0n);
    return {
      company: facts.company.code,
      type: facts.type,
      book: null,
      date: facts.date,
      description: moves
        ? "Advance set against what it was paid for"
        : "Exchange difference of settled items",
      ...(facts.origin === undefined ? {} : { origin: facts.origin }),
      ...(foreign ? { currency } : {}),
      lines: [
        ...own.map((t) =>
          lineOf(t, t.account, foreign, { partner: t.partner, added: "difference" }),
        ),
        ...differences(own).map((d) => {
          const purpose = d.functional < 0n ? "exchangeLoss" : "exchangeGain";
          const account = facts.purposes[purpose];
          if (!account)
            problems.push({
              code: "PURPOSE_MISSING",
              purpose: purpose === "exchangeGain" ? "exchange gains" : "exchange losses",
            });
          return lineOf(d, account ?? "", foreign, {});
        }),
      ],
    };
  });
  const [first, ...others] = problems;
  return first ? fail(first, ...others) : ok(drafts);
}

/** What is left over of each partner's lines, with the sign that balances them. */
function differences(own: readonly Taken[]): Pick<Taken, "amount" | "functional">[] {
  const byPartner = new Map<string, bigint>();
  for (const t of own) byPartner.set(t.partner, (byPartner.get(t.partner) ?? 0n) + t.functional);
  return [...byPartner.values()]
    .filter((rest) => rest !== 0n)
    .map((rest) => ({ amount: minor(0n), functional: minor(-rest) }));
}

/** A line that takes a signed amount from an account: a debit goes by a credit. */
function lineOf(
  { amount, functional }: Pick<Taken, "amount" | "functional">,
  account: string,
  foreign: boolean,
  more: Pick<DraftLine, "partner" | "added">,
): DraftLine {
  const leads = amount === 0n ? functional : amount;
  const sign = leads > 0n ? 1n : -1n;
  return {
    account,
    dimensions: {},
    description: "",
    side: leads > 0n ? "credit" : "debit",
    amount: minor(sign * functional),
    ...(foreign ? { foreignAmount: minor(sign * amount) } : {}),
    ...more,
  };
}
