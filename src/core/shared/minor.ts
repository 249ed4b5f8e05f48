declare const unit: unique symbol;

/**
 * An amount of money as an integer of its currency's minor unit (cents for EUR, yen for JPY, fils
 * for KWD).
 */
export type Minor = bigint & { readonly [unit]: "minor" };

/** Brands an integer as minor units. The caller answers for the unit; nothing is scaled. */
export const minor = (n: bigint | number): Minor => BigInt(n) as Minor;

export const ZERO = minor(0n);

/** Sum of amounts of one currency, in minor units. Exact. */
export const sum = (amounts: Iterable<Minor>): Minor => {
  let total = 0n;
  for (const amount of amounts) total += amount;
  return minor(total);
};

export const negate = (amount: Minor): Minor => minor(-amount);
export const absolute = (amount: Minor): Minor => (amount < 0n ? negate(amount) : amount);

/**
 * Largest amount that one line may carry, in minor units: ten thousand million million.
 * A million such lines still add up inside the database's 64 bits only because no real ledger comes
 * near it;
 * the limit keeps a slip of the keyboard from becoming a posting.
 */
export const LARGEST_AMOUNT = minor(1_000_000_000_000_000n);
