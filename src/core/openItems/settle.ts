import { fail, minor, ok, proportion, type Found, type Minor, type Result } from "../shared";

/**
 * What is left of an item. Signed: a debit is positive. `left` in minor units of `currency`,
 * `leftFunctional` in those of the functional currency.
 */
export interface ItemLeft {
  id: number;
  account: string;
  partner: string;
  currency: string;
  left: Minor;
  leftFunctional: Minor;
}

/** One side of an allocation: what it takes from an item, with the item's own sign. */
export interface AllocationLine {
  item: number;
  amount: Minor;
  functional: Minor;
}

export interface Settlement {
  lines: AllocationLine[];
  /**
   * What the two sides are worth differs by this in functional currency: a loss is positive. It has
   * to be posted against the control account.
   */
  difference: Minor;
}

/**
 * Sets two items of a partner against each other: a debit and a credit in one currency.
 * Units: minor units; `amount` is positive, in the items' currency, and as much as both still have
 * where it is left out.
 * Rounding: the functional part of a partial allocation is proportional to what is left, half away
 * from zero; whoever takes the last of an item takes all of its functional rest, so that nothing
 * stays behind.
 * Rule: the difference between what both sides are carried at is a realised exchange difference
 * (IAS 21.28).
 * Errors: ITEM_OTHER_PARTNER, ITEM_OTHER_CURRENCY, ITEM_SAME_SIDE, ITEM_OVERALLOCATED.
 */
export function settle(a: ItemLeft, b: ItemLeft, amount?: Minor): Result<Settlement> {
  const problems: Found[] = [];
  if (a.partner !== b.partner) problems.push({ code: "ITEM_OTHER_PARTNER" });
  if (a.currency !== b.currency)
    problems.push({ code: "ITEM_OTHER_CURRENCY", first: a.currency, second: b.currency });
  if (a.left === 0n || b.left === 0n || a.left > 0n === b.left > 0n)
    problems.push({ code: "ITEM_SAME_SIDE" });
  if (problems.length > 0) return fail(...problems);
  const most = size(a.left) < size(b.left) ? size(a.left) : size(b.left);
  const taken = amount ?? minor(most);
  if (taken <= 0n || taken > most)
    return fail({
      code: "ITEM_OVERALLOCATED",
      wanted: taken,
      left: minor(most),
      currency: a.currency,
    });
  const lines = [part(a, taken), part(b, taken)];
  return ok({ lines, difference: minor(lines[0]!.functional + lines[1]!.functional) });
}

/**
 * What taking an amount (positive) from an item takes of both its currencies, with the item's sign.
 */
export function part(item: ItemLeft, taken: Minor): AllocationLine {
  const sign = item.left < 0n ? -1n : 1n;
  const whole = size(item.left);
  const functional =
    taken === whole ? item.leftFunctional : proportion(item.leftFunctional, taken, whole);
  return { item: item.id, amount: minor(sign * taken), functional };
}

const size = (n: bigint): bigint => (n < 0n ? -n : n);
