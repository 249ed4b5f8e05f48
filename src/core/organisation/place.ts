import { readInstant } from "../shared";
import type { PeriodState } from "./types";

/**
 * Where a person works: company, book, and the periods chosen. As the address of a screen holds it.
 */
export interface Place {
  company: string;
  book: string;
  period: string;
  /** First period of a range; the period itself where one is chosen. */
  from: string;
  asKnown: string | null;
}

interface PlaceFrame {
  today: string;
  companies: readonly {
    code: string;
    periods: readonly {
      key: string;
      start: string;
      end: string;
      year: string;
      adjustment: boolean;
      states: Readonly<Record<string, PeriodState>>;
    }[];
  }[];
  books: readonly { code: string; main: boolean }[];
}

/**
 * The place that an address means. What it leaves out comes from where the person was last, then
 * from the calendar:
 * the first period that is open and has begun, for that is where the work is; what does not exist
 * is passed over.
 */
export function resolvePlace(
  frame: PlaceFrame,
  address: Readonly<Record<string, string | undefined>>,
  last: Partial<Place> = {},
): Place {
  const company =
    frame.companies.find((c) => c.code === address.company) ??
    frame.companies.find((c) => c.code === last.company) ??
    frame.companies[0];
  const book =
    frame.books.find((b) => b.code === address.book) ??
    frame.books.find((b) => b.code === last.book) ??
    frame.books.find((b) => b.main) ??
    frame.books[0];
  const periods = company?.periods ?? [];
  const known = (key: string | undefined) => periods.find((p) => p.key === key);
  const working =
    periods.find(
      (p) => !p.adjustment && p.states[book?.code ?? ""] === "open" && p.start <= frame.today,
    ) ??
    periods.find((p) => p.start <= frame.today && frame.today <= p.end) ??
    periods.at(-1);
  const period = known(address.period) ?? known(last.period) ?? working;
  const from = known(address.from);
  // Whether a report takes a range over several years is for it to say; none is dropped here.
  const inRange = from && period && periods.indexOf(from) < periods.indexOf(period);
  return {
    company: company?.code ?? "",
    book: book?.code ?? "",
    period: period?.key ?? "",
    from: inRange ? from.key : (period?.key ?? ""),
    asKnown: address.asKnown && readInstant(address.asKnown) ? address.asKnown : null,
  };
}

/**
 * The address of a place, for links: what it says is complete, so that a colleague sees the same.
 */
export function placeQuery(
  place: Place,
  more: Readonly<Record<string, string | null | undefined>> = {},
): string {
  const query = new URLSearchParams({
    company: place.company,
    book: place.book,
    period: place.period,
  });
  if (place.from !== place.period) query.set("from", place.from);
  if (place.asKnown) query.set("asKnown", place.asKnown);
  for (const [key, value] of Object.entries(more)) if (value) query.set(key, value);
  return query.toString();
}
