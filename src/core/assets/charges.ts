import { addDays, daysBetween, minor, split, type CalendarDate, type Minor } from "../shared";
import type { DepreciationRules } from "./assetClass";
import { ruleOf } from "./assetClass";
import {
  basisText,
  standingOn,
  type Standing,
  type Valuation,
  type ValuationEvent,
} from "./depreciate";
import type { FiscalSpan } from "./fiscalYears";
import type { DepreciationRule, Pause } from "./rule";
import type { Share, Usage } from "./share";

/** 0 for what belongs to all books. */
export type BookId = number;

/** What has become of an asset so far, as its depreciation asks it. Amounts are minor units. */
export interface AssetHistory {
  inService: CalendarDate;
  rules: DepreciationRules;
  /** What its cost is made of, by the day from which on it counts; what was retired apart. */
  costs: readonly { book: BookId; on: CalendarDate; amount: Minor }[];
  /** What had been charged by the end of a day, from other books; positive. */
  takenOver: readonly { book: BookId; on: CalendarDate; amount: Minor }[];
  changes: readonly AssetChange[];
  /** What stands as accumulated depreciation by now, positive, and the day of its newest charge. */
  accumulated: readonly { book: BookId; amount: Minor; last: CalendarDate | null }[];
}
export type AssetChange = { book: BookId; on: CalendarDate } & (
  | { kind: "estimate"; rule: DepreciationRule }
  | { kind: "pause"; to: CalendarDate }
  | { kind: "usage"; units: string }
  | { kind: "retired"; share: Share }
);

/** A book with its identity; the common journals belong to all of them. */
export interface BookRef {
  id: BookId;
  code: string;
}

/** All that the depreciation of an asset rests on in all books (0), or in one of them. */
export function valuationOf(asset: AssetHistory, book: BookRef | null): Valuation {
  const counts = (b: BookId) => b === 0 || b === book?.id;
  const rule = book ? ruleOf(asset.rules, book.code) : asset.rules.common;
  const takenOver = new Map<CalendarDate, bigint>();
  for (const t of asset.takenOver.filter((x) => counts(x.book)))
    takenOver.set(t.on, (takenOver.get(t.on) ?? 0n) + t.amount);
  // A change of the rule of all books is none of a book that has its own.
  const isOwn = book !== null && asset.rules.own[book.code] !== undefined;
  const changes = asset.changes.filter(
    (c) => counts(c.book) && !(c.kind === "estimate" && c.book === 0 && isOwn),
  );
  const events: ValuationEvent[] = [
    ...asset.costs
      .filter((c) => counts(c.book))
      .map((c) => ({ kind: "cost" as const, on: c.on, amount: c.amount })),
    ...[...takenOver].map(([on, amount]) => ({
      kind: "taken over" as const,
      on,
      accumulated: minor(amount),
    })),
    ...changes.flatMap((c): ValuationEvent[] =>
      c.kind === "estimate"
        ? [{ kind: "estimate", on: c.on, rule: c.rule }]
        : c.kind === "retired"
          ? [{ kind: "retired", on: c.on, share: c.share }]
          : [],
    ),
  ];
  const pauses = changes.flatMap((c): Pause[] =>
    c.kind === "pause" ? [{ from: c.on, to: c.to }] : [],
  );
  const usage = changes.flatMap((c): Usage[] =>
    c.kind === "usage" ? [{ on: c.on, units: c.units }] : [],
  );
  return {
    rule,
    inService: asset.inService,
    events: events.sort((a, b) => (a.on < b.on ? -1 : a.on > b.on ? 1 : 0)),
    pauses,
    usage,
  };
}

/** The books in which an asset differs from what is common to all. */
export const booksApart = (asset: AssetHistory, books: readonly BookRef[]): BookRef[] =>
  books.filter(
    (b) =>
      asset.rules.own[b.code] !== undefined ||
      asset.costs.some((c) => c.book === b.id) ||
      asset.takenOver.some((t) => t.book === b.id) ||
      asset.accumulated.some((a) => a.book === b.id && a.amount !== 0n) ||
      asset.changes.some((c) => c.book === b.id),
  );

/** What is charged for an asset in all books, or besides in one of them. */
export interface Charge {
  /** Null for all books. */
  book: BookRef | null;
  /** To be posted now; below nothing where more was charged than should have been. */
  amount: Minor;
  /** What should stand as accumulated in the book by the day. */
  standing: Standing;
  /** What stands there before, in all books and in this one. */
  before: Minor;
  /** What the charge for all books adds to it now. */
  common: Minor;
  /** The day of a charge behind the one that is asked for: this one then comes too late. */
  later: CalendarDate | null;
}

/**
 * What is to be charged for an asset by the end of a day: what should stand as accumulated
 * depreciation less what does. So months that were missed are caught up, and what was charged wrongly
 * is put right. What belongs to all books comes first; a book with a rule of its own adds its
 * difference, so that each book has what its own rule says.
 * Units: minor units, positive for an expense. Rounding: that of `standingOn`.
 */
export function chargesOf(
  asset: AssetHistory,
  books: readonly BookRef[],
  day: CalendarDate,
  years: readonly FiscalSpan[],
): Charge[] {
  const stands = (book: BookId) =>
    minor(asset.accumulated.reduce((t, a) => (a.book === book ? t + a.amount : t), 0n));
  const laterThan = (book: BookId) => {
    const last = asset.accumulated.find((a) => a.book === book)?.last ?? null;
    return last !== null && last > day ? last : null;
  };
  const charge = (book: BookRef | null, before: Minor, common: Minor): Charge => {
    const standing = standingOn(valuationOf(asset, book), day, years);
    const later = laterThan(book?.id ?? 0);
    const amount = later ? 0n : standing.accumulated - before - common;
    return { book, amount: minor(amount), standing, before, common, later };
  };
  const ofAll = charge(null, stands(0), minor(0n));
  return [
    ofAll,
    ...booksApart(asset, books).map((book) =>
      charge(book, minor(stands(0) + stands(book.id)), ofAll.amount),
    ),
  ];
}

/** Who uses an asset where, from a day on. */
export interface AssetPlace {
  from: CalendarDate;
  dimensions: Readonly<Record<string, string>>;
}

/**
 * A charge for a stretch of time by the codings that used the asset in it, by their days: nothing
 * is lost or made. Where none had begun yet, the first one takes it.
 */
export function byUse(
  amount: Minor,
  places: readonly AssetPlace[],
  from: CalendarDate,
  to: CalendarDate,
): { dimensions: Readonly<Record<string, string>>; amount: Minor }[] {
  const first = places[0];
  if (!first) return [{ dimensions: {}, amount }];
  const spans = places.map((place, i) => {
    const next = places[i + 1]?.from;
    const begin = place.from > from ? place.from : from;
    const end = next !== undefined && next <= to ? next : addDays(to, 1);
    return { place, days: BigInt(Math.max(0, daysBetween(begin, end))) };
  });
  const used = spans.filter((s) => s.days > 0n);
  if (used.length === 0) return [{ dimensions: first.dimensions, amount }];
  const parts = split(
    amount,
    used.map((s) => s.days),
  );
  return used
    .map(({ place }, i) => ({ dimensions: place.dimensions, amount: parts[i]! }))
    .filter((p) => p.amount !== 0n);
}
/** How a charge came about, in the few words of a list. */
export const chargeText = ({ standing, later }: Charge): string =>
  later ? "charged by a later run already" : basisText(standing.basis);
