import { journalInput, type JournalInput, type JournalLineInput } from "@/core/ledger";
import type { DraftCheck } from "@/server/ledger";
import {
  useKeptDraft,
  type DraftKind,
  type HeadOf,
  type StartOfDraft as Start,
} from "@/app/lib/useKeptDraft";
import { unreadOf, withUnread, type GridRow } from "@/ui/grid/gridModel";

export type Header = HeadOf<JournalInput>;
export type StartOfDraft = Start<JournalInput, DraftCheck>;

/** The cells of a line besides its dimensions. */
const PLAIN = [
  "account",
  "description",
  "debit",
  "credit",
  "company",
  "functional",
  "quantity",
  "partner",
  "dueDate",
  "note",
] as const;

export const toRows = (content: JournalInput): GridRow[] =>
  content.lines.map((l) =>
    withUnread(
      {
        ...Object.fromEntries(PLAIN.flatMap((key) => (l[key] ? [[key, l[key]]] : []))),
        ...Object.fromEntries(Object.entries(l.dimensions).map(([k, v]) => [`d.${k}`, v])),
      },
      l.unread,
    ),
  );
/**
 * Lines as they were made from rows: a row that has not changed keeps its line, so that writing in
 * one of thousands makes one anew.
 */
const lines = new WeakMap<GridRow, JournalLineInput>();
const toLine = (row: GridRow): JournalLineInput => {
  const known = lines.get(row);
  if (known) return known;
  const line = {
    dimensions: Object.fromEntries(
      Object.entries(row)
        .filter(([k]) => k.startsWith("d."))
        .map(([k, v]) => [k.slice(2), v]),
    ),
  } as JournalLineInput;
  for (const key of PLAIN) line[key] = row[key] ?? "";
  const unread = unreadOf(row);
  if (unread) line.unread = unread;
  lines.set(row, line);
  return line;
};
export const toContent = (header: Header, rows: readonly GridRow[]): JournalInput => ({
  ...header,
  lines: rows.map(toLine),
});

const JOURNAL: DraftKind<JournalInput> = {
  name: "journal",
  works: { save: "save", post: "post", submit: "submit", delete: "delete" },
  page: "/ledger/journals",
  toRows,
  toContent,
  whole: journalInput,
};

/** A journal while it is written. */
export const useDraft = (start: StartOfDraft, batch: number | null) =>
  useKeptDraft<JournalInput, DraftCheck>(JOURNAL, start, batch === null ? {} : { batch });
