import { decimalText, minor, readAmount, type Minor } from "../../shared";
import type { ProposedApplication } from "./propose";
import type { ReceiptTake } from "./receiptInput";

/** What a person writes of an item: amounts are decimals, without sign. */
export type WrittenTake = Omit<ReceiptTake, "item">;
export type WrittenTakes = Readonly<Record<number, WrittenTake>>;

/** An open item, as far as what is written of it says something. */
interface Owed {
  id: number;
  /** Positive is owed, negative is the customer's. */
  left: Minor;
  /** What may be deducted; whether a person has to agree, for it is late. */
  discount: Minor;
  late: boolean;
}

export const NOTHING_WRITTEN: WrittenTake = { pays: "", discount: "", short: "open", dispute: "" };

const size = (a: bigint): Minor => minor(a < 0n ? -a : a);

/** A proposal as a person would write it, by item. */
export const writtenTakes = (
  { takes }: Pick<ProposedApplication, "takes">,
  currency: string,
): WrittenTakes =>
  Object.fromEntries(
    takes.map((t) => [
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
export function writtenWhole(item: Owed, currency: string): WrittenTake {
  const discount = item.late ? minor(0n) : item.discount;
  return {
    ...NOTHING_WRITTEN,
    pays: decimalText(minor(size(item.left) - discount), currency),
    discount: discount === 0n ? "" : decimalText(discount, currency),
  };
}

/**
 * What is written of an item in minor units, and what of it is not paid; negative where more is
 * written than is left. What cannot be read counts as nothing while it is typed.
 */
export function appliedTo(
  item: Pick<Owed, "left">,
  take: Pick<WrittenTake, "pays" | "discount">,
  currency: string,
): { pays: Minor; discount: Minor; short: Minor } {
  const amount = (text: string): Minor => {
    const read = readAmount(text || "0", currency);
    return read.ok ? read.amount : minor(0n);
  };
  const pays = amount(take.pays);
  const discount = amount(take.discount);
  return { pays, discount, short: minor(size(item.left) - pays - discount) };
}

/** What all that is written comes to: credits make the money go further. */
export function appliedTotals(
  items: readonly Pick<Owed, "id" | "left">[],
  takes: WrittenTakes,
  currency: string,
): { applied: Minor; discount: Minor; writtenOff: Minor } {
  let applied = 0n;
  let discount = 0n;
  let writtenOff = 0n;
  for (const item of items) {
    const take = takes[item.id];
    if (!take) continue;
    const of = appliedTo(item, take, currency);
    applied += item.left < 0n ? -of.pays : of.pays;
    discount += of.discount;
    if (take.short === "written off" && of.short > 0n) writtenOff += of.short;
  }
  return { applied: minor(applied), discount: minor(discount), writtenOff: minor(writtenOff) };
}
