import { number, object, string, type InferType } from "yup";
import { dayField, textRecord } from "../shared";

/** As many rows as a list shows at once, and as many as it hands out at most. */
export const PAGE = 100;
export const MOST = 5000;

/**
 * What a list of documents is asked for: a company, the days, a status, a text that is found, what
 * each column holds (`filters`, as typed), the column it is sorted by (`-due`: downwards), and where
 * it goes on (`after`, as an earlier page said).
 */
export const listSchema = object({
  company: string().required(),
  from: dayField(),
  to: dayField(),
  status: string().max(20).default("all"),
  text: string().trim().max(200).default(""),
  sort: string().max(40).default(""),
  filters: textRecord().default({}),
  after: string().max(1000).default(""),
  limit: number().integer().min(1).max(MOST).default(PAGE),
});
export type ListAsked = InferType<typeof listSchema>;

/** A page of a list, with what the whole comes to. */
export interface ListPage<R> {
  rows: R[];
  /** Where the next page begins; null after the last. */
  next: string | null;
  /** How many rows the whole has; said with the first page, null with the others. */
  count: number | null;
  /**
   * By currency, the sums over those that count: minor units of that currency. Said with the first
   * page.
   */
  totals: { currency: string; sums: Record<string, bigint> }[];
}

const FILTER = "f.";

/** What an address says of the order and the filters of a list: `sort=-due`, `f.supplier=kroll`. */
export const listOfAddress = (
  address: Readonly<Record<string, string | undefined>>,
): { sort: string; filters: Record<string, string> } => ({
  sort: address.sort ?? "",
  filters: Object.fromEntries(
    Object.entries(address).flatMap(([key, value]) =>
      key.startsWith(FILTER) && value ? [[key.slice(FILTER.length), value]] : [],
    ),
  ),
});

/** The same as parts of an address; null takes a part away. */
export const filterKey = (column: string): string => `${FILTER}${column}`;
