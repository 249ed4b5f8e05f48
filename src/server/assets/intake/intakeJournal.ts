import type { JournalDraft, Masters } from "@/core/ledger";
import { dateText, minor, type CalendarDate } from "@/core/shared";
import { targetOf, type Group } from "./intakeGroups";

/** Journals that bring what waits to where it belongs, one for each book. */
export function draftsOf(
  masters: Masters,
  company: string,
  date: CalendarDate,
  groups: readonly Group[],
): JournalDraft[] {
  const text = `Assets taken in on ${dateText(date)}`;
  const books = new Map<number, Map<string, JournalDraft["lines"][number]>>();
  const add = (
    book: number,
    account: string,
    dimensions: Record<string, string>,
    description: string,
    amount: bigint,
    listed: boolean,
  ) => {
    const lines = books.get(book) ?? new Map<string, JournalDraft["lines"][number]>();
    books.set(book, lines);
    const key = JSON.stringify([account, Object.entries(dimensions).sort(), description]);
    const sum = (lines.get(key) ? signed(lines.get(key)!) : 0n) + amount;
    lines.set(key, {
      account,
      dimensions,
      description,
      side: sum < 0n ? "credit" : "debit",
      amount: minor(sum < 0n ? -sum : sum),
      ...(listed ? { listed: true } : {}),
    });
  };
  for (const group of groups)
    for (const line of group.lines) {
      const target = targetOf(group);
      if (target === line.source.account) continue;
      const expense = group.lead.content.into === "expense";
      const said = group.lead.content.description.slice(0, 200);
      add(line.source.book, line.source.account, {}, text, -line.amount, true);
      add(
        line.source.book,
        target,
        expense ? group.lead.content.dimensions : {},
        said,
        line.amount,
        !expense,
      );
    }
  return [...books].map(([book, lines]) => ({
    company,
    type: "asset",
    book: book === 0 ? null : masters.bookById.get(book)!.code,
    date,
    description: text,
    lines: [...lines.values()].filter((l) => l.amount !== 0n),
  }));
}
const signed = (line: { side: string; amount: bigint }) =>
  line.side === "debit" ? line.amount : -line.amount;
