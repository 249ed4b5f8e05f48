import type { ShortOutcome } from "@/core/receivables";
import { decimalText, minor, readAmount, type Minor } from "@/core/shared";
import type { OpenForReceipt, ReceiptProposal } from "@/server/receivables";

/** What a person writes of an item. */
export interface WrittenTake {
  pays: string;
  discount: string;
  short: ShortOutcome;
  dispute: string;
}
export type WrittenTakes = Readonly<Record<number, WrittenTake>>;

export const NOTHING: WrittenTake = { pays: "", discount: "", short: "open", dispute: "" };

const size = (a: bigint): Minor => minor(a < 0n ? -a : a);

/** A proposal as it would be written. */
export const writtenOf = ({ proposed, currency }: ReceiptProposal): WrittenTakes =>
  Object.fromEntries(
    proposed.takes.map((t) => [
      t.item,
      {
        pays: decimalText(minor(size(t.amount) - t.discount - t.small), currency),
        discount: t.discount === 0n ? "" : decimalText(t.discount, currency),
        short: t.small > 0n ? "written off" : "open",
        dispute: "",
      },
    ]),
  );

/** All of an item, less the discount of the day where it is in time. */
export const wholeOf = (item: OpenForReceipt, currency: string): WrittenTake => {
  const discount = item.late ? minor(0n) : item.discount;
  return {
    ...NOTHING,
    pays: decimalText(minor(size(item.left) - discount), currency),
    discount: discount === 0n ? "" : decimalText(discount, currency),
  };
};

export interface AppliedItem {
  pays: Minor;
  discount: Minor;
  /** What is not paid of it. */
  short: Minor;
}

/** What is written of an item as amounts; what cannot be read counts as nothing. */
export function appliedOf(item: OpenForReceipt, take: WrittenTake, currency: string): AppliedItem {
  const amount = (text: string): Minor => {
    const read = readAmount(text || "0", currency);
    return read.ok ? read.amount : minor(0n);
  };
  const pays = amount(take.pays);
  const discount = amount(take.discount);
  return { pays, discount, short: minor(size(item.left) - pays - discount) };
}

/** What all of it comes to: credits make the money go further. */
export function totalsOf(
  items: readonly OpenForReceipt[],
  takes: WrittenTakes,
  currency: string,
): { applied: Minor; discount: Minor; writtenOff: Minor } {
  let applied = 0n;
  let discount = 0n;
  let writtenOff = 0n;
  for (const item of items) {
    const take = takes[item.id];
    if (!take) continue;
    const of = appliedOf(item, take, currency);
    applied += item.left < 0n ? -of.pays : of.pays;
    discount += of.discount;
    if (take.short === "written off" && of.short > 0n) writtenOff += of.short;
  }
  return { applied: minor(applied), discount: minor(discount), writtenOff: minor(writtenOff) };
}
