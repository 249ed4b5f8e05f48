import { byUse, type Retired } from "@/core/assets";
import type { JournalDraft, Masters } from "@/core/ledger";
import { dateText, minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Going } from "./whatGoes";

/** One journal for all books, and one for each book that has a difference. */
export function draftsOf(
  masters: Masters,
  company: string,
  params: { date: CalendarDate; why: string },
  going: readonly Going[],
): JournalDraft[] {
  const text = `Assets ${params.why} on ${dateText(params.date)}`;
  const books = [...new Set(going.flatMap((g) => g.retired.map((r) => r.book?.id ?? 0)))];
  return books.flatMap((book): JournalDraft[] => {
    const lines = going.flatMap((g) => {
      const own = g.retired.find((r) => (r.book?.id ?? 0) === book);
      return own ? linesOf(g, own, params.date) : [];
    });
    return lines.length === 0
      ? []
      : [
          {
            company,
            type: "asset",
            book: book === 0 ? null : masters.bookById.get(book)!.code,
            date: params.date,
            description: book === 0 ? text : `${text}, difference`,
            lines,
          },
        ];
  });
}

function linesOf(going: Going, own: Retired, date: CalendarDate): JournalDraft["lines"][number][] {
  const { asset, proceeds, account, retired } = going;
  const { accounts } = asset;
  const [user] = byUse(minor(1n), asset.places, date, date);
  const dimensions = user?.dimensions ?? {};
  const line = (
    number: string,
    amount: bigint,
    coding: Readonly<Record<string, string>>,
    listed: boolean,
  ) =>
    amount === 0n
      ? []
      : [
          {
            account: number,
            dimensions: coding,
            description: `${asset.number} ${asset.title}`.slice(0, 200),
            side: amount > 0n ? ("debit" as const) : ("credit" as const),
            amount: minor(amount > 0n ? amount : -amount),
            ...(listed ? { listed: true as const } : {}),
          },
        ];
  const resultOn = (result: Minor) => (result < 0n ? accounts.loss : accounts.gain);
  const ofAll = retired[0]!;
  // A book of its own takes what all books have of the result away, and puts its own there.
  const results =
    own.book === null
      ? line(resultOn(own.result), -own.result, dimensions, false)
      : resultOn(own.result) === resultOn(ofAll.result)
        ? line(resultOn(own.result), ofAll.result - own.result, dimensions, false)
        : [
            ...line(resultOn(ofAll.result), ofAll.result, dimensions, false),
            ...line(resultOn(own.result), -own.result, dimensions, false),
          ];
  return [
    ...line(accounts.charge, own.charge, dimensions, false),
    ...line(accounts.accumulated, own.accumulated - own.charge, {}, true),
    ...line(accounts.cost, -own.cost, {}, true),
    ...(own.book === null ? line(account, proceeds, dimensions, false) : []),
    ...results,
  ];
}
