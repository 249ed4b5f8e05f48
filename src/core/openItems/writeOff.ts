import { number, object, string, type InferType } from "yup";
import { minor, proportion, type CalendarDate, type Minor } from "../shared";
import { discountOn, type DiscountedItem } from "./discount";

const size = (n: bigint): bigint => (n < 0n ? -n : n);

/** What money takes of an item: signed like the item, the discount within what is taken. */
export interface TakenOfItem {
  item: DiscountedItem;
  amount: Minor;
  discount: Minor;
}

/**
 * What of items is settled though no money comes or goes for it: by which what is taken, less the
 * discounts agreed for that day, is more than the money. Positive, in the money's minor units; nil
 * where the money is enough. Whoever decides so needs a limit for it, whatever account it goes to.
 */
export function settledUnpaid(
  money: Minor,
  day: CalendarDate,
  takes: readonly TakenOfItem[],
): Minor {
  let unpaid = 0n;
  let net = 0n;
  for (const { item, amount, discount } of takes) {
    // Whoever pays a part has that part of the discount.
    const whole = discountOn({ ...item, credited: minor(0n) }, day)?.amount ?? minor(0n);
    const agreed = proportion(whole, size(amount), size(item.left));
    const beyond = size(discount) - agreed;
    if (beyond > 0n) unpaid += beyond;
    net += amount - discount;
  }
  const short = money < 0n ? money - net : net - money;
  return minor(unpaid + (short > 0n ? short : 0n));
}

/** How much a person may write off at once in a company, as written. */
export const writeOffLimitSchema = object({
  id: number().integer(),
  version: number().integer(),
  person: string().trim().required("Say whose limit it is"),
  company: string().required("Say in which company"),
  /** In the company's currency. */
  limit: string().trim().required("An amount is needed"),
});
export type WriteOffLimitInput = InferType<typeof writeOffLimitSchema>;
