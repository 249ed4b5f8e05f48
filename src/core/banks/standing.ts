import { convertBy, type Conversion } from "../rates";
import { minor, type Minor } from "../shared";

/** A sum in one currency with what it is carried at; debit positive, minor units of each. */
export interface SumInCurrency {
  currency: string;
  amount: bigint;
  functional: bigint;
}

/**
 * What sums come to in the currency of a bank account. Those in its own currency count as they are;
 * others by what they are carried at, converted at the rate of the day where the account is not kept
 * in functional currency.
 * Rounding: half away from zero, each. Null where a rate is needed and none is known.
 */
export function standingIn(
  currency: string,
  functional: string,
  sums: readonly SumInCurrency[],
  toCurrency: Conversion | null,
): Minor | null {
  let total = 0n;
  for (const sum of sums) {
    if (currency === functional) total += sum.functional;
    else if (sum.currency === currency) total += sum.amount;
    else if (sum.functional !== 0n && toCurrency === null) return null;
    else if (toCurrency !== null)
      total += convertBy(minor(sum.functional), functional, currency, toCurrency);
  }
  return minor(total);
}
