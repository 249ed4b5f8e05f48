import { minor, type Minor } from "../../shared";
import { NO_PARTY, type StatementParty } from "../statements";

/** An item that a customer owes. */
export interface OwedItem {
  reference: string;
  left: Minor;
  name: string;
}

/** Money that comes in, as a customer's bank sends it on. */
export interface CustomersMoney {
  amount: Minor;
  party: StatementParty;
  text: string;
}

/** How many ways of writing there are: from whole and clear to without a number. */
export const WAYS_OF_WRITING = 8;
/** All of it, with the number as it is. */
export const PLAINLY = 0;

/**
 * What a customer pays of an item, and what it writes with it: the number as it is, with other signs
 * and letters, a part, less a charge, with a slip in the name, without a number, without a name.
 */
export function customersMoney(item: OwedItem, way: number): CustomersMoney {
  const { reference, left } = item;
  const party = { ...NO_PARTY, name: item.name };
  switch (way % WAYS_OF_WRITING) {
    case 1:
      return {
        amount: left,
        party,
        text: `Invoice ${reference.replaceAll("-", " ").toLowerCase()}`,
      };
    case 2:
      return { amount: minor((left + 1n) / 2n), party, text: `${reference} first half` };
    case 3:
      return {
        amount: left > 500n ? minor(left - 500n) : left,
        party,
        text: `Inv. ${reference}`,
      };
    case 4:
      return {
        amount: left,
        party: { ...party, name: swapped(item.name) },
        text: `your ${reference.replaceAll("-", "/")}`,
      };
    case 5:
      return { amount: left, party, text: "berth fees, thank you" };
    case 6:
      return { amount: left, party: NO_PARTY, text: `INV${reference.replace(/\D+/g, "")}` };
    default:
      return { amount: left, party, text: reference };
  }
}

/** The third and the fourth letter of a name in each other's place. */
const swapped = (name: string): string =>
  name.length < 4 ? name : name.slice(0, 2) + name[3]! + name[2]! + name.slice(4);
