import { minor, type Minor } from "./minor";

/**
 * The side and amounts of a line from an amount with its sign, a debit positive, in a currency of
 * its own, for journals that balance in the company's. Units: minor units, `amount` of the
 * functional currency, `foreign` of the line's. Nothing is rounded.
 */
export function signedLine(
  functional: string,
  currency: string,
  amount: bigint,
  foreign: bigint,
): { side: "debit" | "credit"; amount: Minor; currency?: string; foreignAmount?: Minor } {
  const size = (n: bigint) => minor(n < 0n ? -n : n);
  return {
    side: (amount === 0n ? foreign : amount) > 0n ? "debit" : "credit",
    amount: size(amount),
    ...(currency === functional ? {} : { currency, foreignAmount: size(foreign) }),
  };
}
