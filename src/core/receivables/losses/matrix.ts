import { minor, type CalendarDate, type Minor, daysBetween } from "../../shared";

/** Ages of what is owed: the first day past due of each, up to the next one's. */
export const LOSS_BUCKETS = [
  { from: -1, name: "Not due" },
  { from: 1, name: "1–30 days" },
  { from: 31, name: "31–60 days" },
  { from: 61, name: "61–90 days" },
  { from: 91, name: "Over 90 days" },
] as const;

/** The place of the bucket that an item is in on a day. */
export function lossBucket(due: CalendarDate, on: CalendarDate): number {
  const late = daysBetween(due, on);
  return LOSS_BUCKETS.findLastIndex((b) => b.from <= 0 || late >= b.from);
}

/** Of one bucket, over the years looked at: what came to be so old, and what of that was lost. */
export interface LossHistory {
  reached: Minor;
  lost: Minor;
}

/** Rates are kept in millionths: 0.25 % is 2,500. */
const MILLION = 1_000_000n;

/**
 * The rate of expected loss of a bucket by IFRS 9's simplified approach (5.5.15, B5.5.35): what was
 * lost of all that ever reached that age, adjusted for what is expected to be different ahead by so
 * many per cent of the rate. In millionths, rounded half up, between nothing and the whole.
 *
 * @example lossRate({ reached: 1000000n, lost: 12500n }, "20") // 15000n: 1.25 % and a fifth more
 */
export function lossRate(history: LossHistory, forward: string): bigint {
  if (history.reached <= 0n || history.lost <= 0n) return 0n;
  const scale = 10_000n;
  const adjust = 100n * scale + percentOf(forward);
  const rate =
    (2n * history.lost * MILLION * adjust + history.reached * 100n * scale) /
    (2n * history.reached * 100n * scale);
  return rate < 0n ? 0n : rate > MILLION ? MILLION : rate;
}

/** Per cent with up to four decimals and a sign, in ten-thousandths of a per cent. */
function percentOf(text: string): bigint {
  const sign = text.trim().startsWith("-") ? -1n : 1n;
  const [whole = "0", part = ""] = text.trim().replace(/^[+-]/, "").split(".");
  return sign * BigInt(whole + part.padEnd(4, "0").slice(0, 4));
}

/** What is expected to be lost of an amount at a rate in millionths: rounded half away from zero. */
export const expectedLoss = (exposure: Minor, rate: bigint): Minor =>
  exposure <= 0n ? minor(0n) : minor((2n * exposure * rate + MILLION) / (2n * MILLION));

/** A rate in millionths as people write it: "1.25". */
export function rateText(rate: bigint): string {
  const text = (Number(rate) / 10_000).toFixed(4).replace(/0{1,2}$/, "");
  return text;
}
