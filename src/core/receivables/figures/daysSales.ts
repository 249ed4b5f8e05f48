/** What was invoiced to customers in a stretch of time, in minor units, and how many days it has. */
export interface SalesOf {
  sales: bigint;
  days: number;
}

/** Days are told in tenths: 305 is 30.5 days. */
const TENTHS = 10n;

/**
 * Days sales outstanding, the simple way: what is open, of what was invoiced in the stretch before,
 * times its days. In tenths of a day, rounded half up; null where nothing was invoiced.
 *
 * @example daysSalesOutstanding(100n, [{ sales: 300n, days: 90 }]) // 300n: 30 days
 */
export function daysSalesOutstanding(open: bigint, stretch: readonly SalesOf[]): bigint | null {
  const sales = stretch.reduce((t, s) => t + s.sales, 0n);
  const days = BigInt(stretch.reduce((t, s) => t + s.days, 0));
  if (sales <= 0n) return null;
  if (open <= 0n) return 0n;
  return (2n * open * days * TENTHS + sales) / (2n * sales);
}

/**
 * Days sales outstanding by counting back: the newest month's sales are taken off what is open, then
 * those of the month before, each with its days; of the month that is not used up, the days in
 * proportion. It does not mistake a month of large sales for late payment. In tenths of a day, rounded
 * half up; null where what is open is more than all that was invoiced in these months.
 *
 * @example daysByCountBack(150n, [{ sales: 100n, days: 30 }, { sales: 100n, days: 31 }]) // 455n
 */
export function daysByCountBack(open: bigint, newestFirst: readonly SalesOf[]): bigint | null {
  let left = open > 0n ? open : 0n;
  let tenths = 0n;
  for (const { sales, days } of newestFirst) {
    if (left === 0n) return tenths;
    const whole = BigInt(days) * TENTHS;
    if (sales <= 0n || left >= sales) {
      left -= sales > 0n ? sales : 0n;
      tenths += whole;
      continue;
    }
    return tenths + (2n * left * whole + sales) / (2n * sales);
  }
  return left === 0n ? tenths : null;
}

/** Tenths of a day as people read them: "45.5". */
export const tenthsText = (tenths: bigint): string =>
  `${tenths < 0n ? "-" : ""}${(tenths < 0n ? -tenths : tenths) / TENTHS}.${(tenths < 0n ? -tenths : tenths) % TENTHS}`;
