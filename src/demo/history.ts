import type { CalendarDate } from "@/core/shared";
import { Books, type PastJournal } from "./books";
import { ferriesMonth, openFerries } from "./ferries";
import { openTerminals, terminalsMonth } from "./terminals";
import { openYard, yardMonth } from "./yard";

/**
 * Everything that happened from January 2024 to the working date, in the order in which it was
 * posted. The same on every machine.
 */
export function history(until: CalendarDate): PastJournal[] {
  const tellings = [
    { books: new Books("HSF", 0.135, 11, 20100, 70100), open: openFerries, month: ferriesMonth },
    { books: new Books("MBY", 0.2, 22, 5100, 8100), open: openYard, month: yardMonth },
    { books: new Books("KIT", 0, 33, 800, 3100), open: openTerminals, month: terminalsMonth },
  ];
  for (const { books, open, month } of tellings) {
    open(books);
    for (let year = 2024; year <= 2026; year++)
      for (let m = 1; m <= 12; m++) {
        const first = `${year}-${String(m).padStart(2, "0")}-01`;
        if (first <= until) month(books, first);
      }
  }
  return tellings
    .flatMap((t) => t.books.journals)
    .filter((j) => j.draft.date <= until && j.postedOn <= until)
    .map((journal, i) => ({ journal, i }))
    .sort((a, b) =>
      a.journal.postedOn < b.journal.postedOn
        ? -1
        : a.journal.postedOn > b.journal.postedOn
          ? 1
          : a.i - b.i,
    )
    .map(({ journal }) => journal);
}
