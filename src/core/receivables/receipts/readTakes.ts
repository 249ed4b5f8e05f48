import { amountText, minor, readAmount, type Found, type Minor } from "../../shared";
import type { ReceiptTake } from "./receiptInput";

/** An open item as it stands when it is paid. */
export interface PaidItem {
  id: number;
  reference: string;
  /** Signed: positive is owed. */
  left: Minor;
  currency: string;
}

/** What a receipt takes of an item, read. */
export interface ReadTake {
  item: number;
  /** Signed like the item, with discount and what is written off in it. */
  amount: Minor;
  discount: Minor;
  writtenOff: Minor;
  /** What stays of it and is in dispute. */
  disputed: Minor;
  dispute: ReceiptTake["dispute"];
}

/**
 * Reads what a receipt takes of items, and what stands against it at the place where it was
 * written.
 * Units: minor units of the items' currency. What is not paid of an item stays open, is disputed,
 * or is taken as well and written off.
 */
export function readReceiptTakes(
  takes: readonly ReceiptTake[],
  items: ReadonlyMap<number, PaidItem>,
): { takes: ReadTake[]; problems: Found[] } {
  const problems: Found[] = [];
  const seen = new Set<number>();
  const read = takes.flatMap((take, n): ReadTake[] => {
    const item = items.get(take.item);
    const made = seen.has(take.item)
      ? { code: "INVALID" as const, what: `${item?.reference ?? "An item"} is chosen twice` }
      : readTake(take, item);
    seen.add(take.item);
    if (!("code" in made)) return [made];
    problems.push({ ...made, field: `takes.${n}.${made.field ?? "pays"}` });
    return [];
  });
  return { takes: read, problems };
}

function readTake(take: ReceiptTake, item: PaidItem | undefined): ReadTake | Found {
  const refuse = (what: string, field = "pays"): Found => ({ code: "INVALID", what, field });
  if (!item || item.left === 0n) return refuse("It is not open any more");
  const { reference, currency } = item;
  const sign = item.left < 0n ? -1n : 1n;
  const left = sign * item.left;
  const discount = readAmount(take.discount || "0", currency);
  if (!discount.ok) return { code: "AMOUNT_NOT_NUMBER", text: take.discount, field: "discount" };
  if (discount.amount < 0n || discount.amount >= left)
    return refuse("A discount is less than what is left", "discount");
  if (discount.amount > 0n && sign < 0n) return refuse("A credit has no discount", "discount");
  const pays =
    take.pays === ""
      ? { ok: true as const, amount: minor(left - discount.amount) }
      : readAmount(take.pays, currency);
  if (!pays.ok) return { code: "AMOUNT_NOT_NUMBER", text: take.pays };
  const paid = pays.amount + discount.amount;
  if (pays.amount <= 0n || paid > left)
    return refuse(
      `Of ${reference} more than nothing is paid, and no more than ${amountText(minor(left), currency)} ${currency}`,
    );
  const short = left - paid;
  if (short > 0n && take.short === "disputed" && take.dispute === "")
    return refuse("Say what is disputed", "dispute");
  if (short > 0n && take.short !== "open" && sign < 0n)
    return refuse("What is left of a credit stays open", "short");
  const writtenOff = take.short === "written off" ? short : 0n;
  return {
    item: item.id,
    amount: minor(sign * (paid + writtenOff)),
    discount: discount.amount,
    writtenOff: minor(writtenOff),
    disputed: minor(take.short === "disputed" ? short : 0n),
    dispute: take.dispute,
  };
}
