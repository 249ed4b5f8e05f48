import type { CalendarDate } from "../shared";

/** What a rate is for: the day's market, the average of a month, or the close of one. */
export const RATE_KINDS = ["spot", "average", "closing"] as const;
export type RateKind = (typeof RATE_KINDS)[number];

/** What becomes of a rate that a person types while none is listed that is young enough. */
export const TYPED_RATES = ["taken", "refused"] as const;
export type TypedRates = (typeof TYPED_RATES)[number];

/** One unit of `base` costs `rate` of `quote` on a day. The rate is a decimal in text. */
export interface Rate {
  kind: RateKind;
  base: string;
  quote: string;
  date: CalendarDate;
  rate: string;
  /** Days for which it may be used; without limit where nothing is said. */
  maxAge?: number;
}

/** A rate as it was found, with the way to it in words. */
export interface FoundRate {
  /** One unit of the first currency in the second, to twelve significant figures. */
  rate: string;
  date: CalendarDate;
  how: string;
}
