import { itemIndex, sumsTo, type MatchItem } from "../../banks/matching";
import { minor, type CalendarDate, type Minor } from "../../shared";

/** An open item of a payer, or of whom it pays for. */
export interface ItemToPay {
  id: number;
  partner: string;
  /** The numbers that the payer may quote. */
  numbers: readonly string[];
  due: CalendarDate;
  /** What is left: positive is owed, negative is the customer's. */
  left: Minor;
  currency: string;
  /** What may be deducted on the day of the money; 0 for nothing. */
  discount: Minor;
  /** What of it is in dispute. */
  disputed: Minor;
}

/** What is proposed to be taken of an item. */
export interface ProposedTake {
  item: number;
  /** Signed like the item, with the discount and what is small in it. */
  amount: Minor;
  discount: Minor;
  /** What is missing and small enough to be let go. */
  small: Minor;
}

export const PROPOSED_BY = [
  "numbers",
  "amount",
  "amount less discount",
  "sum",
  "oldest first",
  "nothing is open",
] as const;

export interface ProposedApplication {
  takes: readonly ProposedTake[];
  /** What no item takes: it stays on the payer's account. */
  rest: Minor;
  by: (typeof PROPOSED_BY)[number];
}

/** Open items among which sums are looked for. */
const MOST_SUMMED = 24;

/**
 * What money of a payer is most likely for: what it names; else the item, or the items, of the very
 * amount, with the discounts of the day or without; else the oldest first, what is in dispute last.
 * Discounts are proposed only where they make the amount fit, what is missing is let go only up to
 * `small` and only of what the amount nearly fits.
 * Units: minor units of one currency; `amount` is positive. What is proposed never takes more than
 * is left of an item, and takes and rest together come to the amount.
 */
export function proposeApplication(
  money: { amount: Minor; date: CalendarDate; text: string },
  items: readonly ItemToPay[],
  small: Minor,
): ProposedApplication {
  const ordered = [...items].sort(inOrder);
  const named = namedBy(money, ordered);
  if (named.length > 0) {
    const fit = fitting(money.amount, named, small);
    return fit ? { ...fit, by: "numbers" } : inTurn(money.amount, named, "numbers");
  }
  const owed = ordered.filter((i) => i.left > 0n);
  for (const i of owed) {
    const fit = fitting(money.amount, [i], minor(0n));
    if (fit) return { ...fit, by: fit.discounted ? "amount less discount" : "amount" };
  }
  const near = owed.filter((i) => fitting(money.amount, [i], small));
  if (near.length === 1) return { ...fitting(money.amount, near, small)!, by: "amount" };
  const sum =
    sumsTo(owed.slice(0, MOST_SUMMED), money.amount, 1)[0] ?? sumLessDiscounts(money.amount, owed);
  if (sum) return { ...fitting(money.amount, sum, minor(0n))!, by: "sum" };
  return inTurn(money.amount, owed, owed.length > 0 ? "oldest first" : "nothing is open");
}

/** What is due first comes first; what is in dispute after all else. */
const inOrder = (a: ItemToPay, b: ItemToPay): number =>
  Number(a.disputed > 0n) - Number(b.disputed > 0n) ||
  (a.due < b.due ? -1 : a.due > b.due ? 1 : a.id - b.id);

/** Items whose numbers stand in the text: also credits, which payers deduct. */
function namedBy(
  money: { amount: Minor; date: CalendarDate; text: string },
  items: readonly ItemToPay[],
): ItemToPay[] {
  const asMatched = (i: ItemToPay): MatchItem => ({
    id: i.id,
    partner: i.partner,
    numbers: i.numbers,
    endToEnd: "",
    cheque: "",
    // The index meets money with what it can pay; a credit is named like what is owed.
    left: minor(i.left < 0n ? -i.left : i.left),
    currency: i.currency,
    date: i.due,
    due: i.due,
    discounts: [],
    underWay: false,
    bank: null,
  });
  const keys = { endToEnd: "", creditorReference: "", mandate: "", cheque: "", bank: "" };
  const [first] = items;
  if (!first) return [];
  const found = itemIndex(items.map(asMatched)).mentioned({
    id: 0,
    bank: 0,
    amount: money.amount,
    currency: first.currency,
    booked: money.date,
    party: { name: "", account: "", bic: "" },
    keys,
    text: money.text,
    code: "",
    isReturn: false,
    returnReason: "",
  });
  const ids = new Set([...found.keys()].map((i) => i.id));
  return items.filter((i) => ids.has(i.id));
}

/**
 * Items that the amount meets as a whole, without discounts, with all of them, or but for a little.
 */
function fitting(
  amount: Minor,
  items: readonly ItemToPay[],
  small: Minor,
): { takes: ProposedTake[]; rest: Minor; discounted: boolean } | null {
  const whole = items.reduce((t, i) => t + i.left, 0n);
  const discounts = items.reduce((t, i) => t + i.discount, 0n);
  const takes = (discounted: boolean, missing: bigint): ProposedTake[] => {
    const last = items.findLastIndex((i) => i.left > missing);
    return items.map((i, n) => ({
      item: i.id,
      amount: i.left,
      discount: discounted ? i.discount : minor(0n),
      small: minor(n === last ? missing : 0n),
    }));
  };
  if (whole === amount) return { takes: takes(false, 0n), rest: minor(0n), discounted: false };
  if (discounts > 0n && whole - discounts === amount)
    return { takes: takes(true, 0n), rest: minor(0n), discounted: true };
  const missing = whole - amount;
  return missing > 0n && missing <= small && items.some((i) => i.left > missing)
    ? { takes: takes(false, missing), rest: minor(0n), discounted: false }
    : null;
}

function sumLessDiscounts(
  amount: Minor,
  owed: readonly ItemToPay[],
): readonly ItemToPay[] | undefined {
  if (owed.every((i) => i.discount === 0n)) return undefined;
  const byId = new Map(owed.map((i) => [i.id, i]));
  const less = owed
    .slice(0, MOST_SUMMED)
    .map((i) => ({ id: i.id, left: minor(i.left - i.discount) }));
  return sumsTo(less, amount, 1)[0]?.map((i) => byId.get(i.id)!);
}

/** One after the other as far as the money goes; credits first, for they make it go further. */
function inTurn(
  amount: Minor,
  items: readonly ItemToPay[],
  by: ProposedApplication["by"],
): ProposedApplication {
  let rest: bigint = amount - items.reduce((t, i) => t + (i.left < 0n ? i.left : 0n), 0n);
  const takes = items.flatMap((i): ProposedTake[] => {
    const taken = i.left < 0n ? i.left : i.left < rest ? i.left : minor(rest);
    if (taken === 0n) return [];
    if (taken > 0n) rest -= taken;
    return [{ item: i.id, amount: taken, discount: minor(0n), small: minor(0n) }];
  });
  return { takes, rest: minor(rest), by };
}
