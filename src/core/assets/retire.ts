import { minor, proportion, type CalendarDate, type Minor } from "../shared";
import { booksApart, valuationOf, type BookRef, type AssetHistory } from "./charges";
import { standingBefore } from "./depreciate";
import type { FiscalSpan } from "./fiscalYears";
import type { Share } from "./share";

/** Why an asset is gone. */
export const RETIREMENT_KINDS = ["sold", "scrapped", "lost", "exchanged"] as const;
export type RetirementKind = (typeof RETIREMENT_KINDS)[number];

/** How much of an asset is gone, as people write it: “all”, “1/2”, “40 %”. Null where it is none. */
export function readShareGone(text: string): Share | null {
  const typed = text.trim().toLowerCase();
  if (typed === "all" || typed === "") return { n: 1n, d: 1n };
  const part = /^(\d{1,6})\s*\/\s*(\d{1,6})$/.exec(typed);
  if (part) return within({ n: BigInt(part[1]!), d: BigInt(part[2]!) });
  const percent = /^(\d{1,3})(?:\.(\d{1,4}))?\s*%$/.exec(typed);
  if (!percent) return null;
  return within({
    n: BigInt(percent[1]! + (percent[2] ?? "").padEnd(4, "0")),
    d: 1_000_000n,
  });
}
const within = (share: Share): Share | null =>
  share.d > 0n && share.n > 0n && share.n <= share.d ? share : null;
export const isAll = ({ n, d }: Share): boolean => n === d;

/** What a retirement takes out of the books: of all of them, or besides in one. Minor units. */
export interface Retired {
  book: BookRef | null;
  /** Still to be charged until it is gone; below nothing where too much was. */
  charge: Minor;
  cost: Minor;
  accumulated: Minor;
  /** What the whole comes to in the book: proceeds less what it was carried at (IAS 16.71). */
  result: Minor;
}

/**
 * What becomes of the books when an asset, or a share of it, is gone on a day: it is charged until
 * then by its convention, its part of cost and of what is charged goes, and what was got for it less
 * its carrying amount is the gain, or the loss. Books with values of their own have their difference.
 * Units: minor units; proceeds and charges positive. Rounding: half away from zero, of each book as a
 * whole, so that what is left in it is exactly what its rule goes on from.
 */
export function retire(
  asset: AssetHistory,
  books: readonly BookRef[],
  gone: { on: CalendarDate; share: Share; proceeds: Minor },
  years: readonly FiscalSpan[],
): Retired[] {
  const { on, share, proceeds } = gone;
  const charged = (book: number) =>
    asset.accumulated.reduce((t, a) => (a.book === book ? t + a.amount : t), 0n);
  const part = (amount: bigint) => proportion(amount, share.n, share.d);
  const of = (book: BookRef | null, common: Retired | null): Retired => {
    const standing = standingBefore(valuationOf(asset, book), on, years);
    const before = charged(0) + (book ? charged(book.id) : 0n) + (common?.charge ?? 0n);
    const cost = part(standing.cost);
    const accumulated = part(standing.accumulated);
    return {
      book,
      charge: minor(standing.accumulated - before),
      cost: minor(cost - (common?.cost ?? 0n)),
      accumulated: minor(accumulated - (common?.accumulated ?? 0n)),
      result: minor(proceeds - (cost - accumulated)),
    };
  };
  const ofAll = of(null, null);
  return [ofAll, ...booksApart(asset, books).map((book) => of(book, ofAll))];
}
