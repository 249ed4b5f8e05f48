import { LOAD_FIELDS, type LoadField } from "./loadHeadings";
import { plainName } from "../shared";
import { journalInput, type JournalInput, type JournalLineInput } from "./journalInput";
import type { LoadRow } from "./loadTable";

/** What is given once for all journals of a load. */
export interface LoadCommon {
  company: string;
  type: string;
  date: string;
  description: string;
  reference: string;
  book: string | null;
  /** Text with {column} for each line's description; empty: the row's own. */
  pattern: string;
}

export interface LoadJournal {
  key: string;
  input: JournalInput;
  /** For each line, its row of the load (from 0). */
  rows: number[];
}

const DEFAULT_KEY = "";
/** What all rows of a journal agree in: the journal has it once. */
const OF_THE_JOURNAL = ["date", "type", "book", "reference", "currency"] as const;

/**
 * Groups rows into journals by their key, in the order in which the keys first appear. Rows of one
 * journal share its header: the first row that gives something rules, a row that says otherwise
 * keeps what it says in `differs`, which the reading of the journal makes a problem.
 * A currency is the first row's: one that is given later only says that the first figures were meant
 * otherwise.
 */
export function rowsToJournals(rows: readonly LoadRow[], common: LoadCommon): LoadJournal[] {
  const groups = new Map<string, number[]>();
  rows.forEach(({ cells }, i) => {
    if (Object.values(cells).every((v) => !v?.trim())) return;
    const key = cells.journal?.trim() || DEFAULT_KEY;
    const group = groups.get(key);
    if (group) group.push(i);
    else groups.set(key, [i]);
  });
  return [...groups].map(([key, places]) => {
    const given = (field: LoadField, i: number) => rows[i]!.cells[field]?.trim() ?? "";
    const first = (field: LoadField) => places.map((i) => given(field, i)).find(Boolean);
    const header = {
      date: first("date"),
      type: first("type"),
      book: first("book"),
      reference: first("reference"),
      currency: given("currency", places[0]!) || undefined,
    };
    const differs = (i: number) =>
      OF_THE_JOURNAL.filter((f) => {
        const own = given(f, i);
        return own !== "" && !alike(own, header[f] ?? "");
      });
    const lines = places.map((i) => lineOf(rows[i]!, common, differs(i)));
    return {
      key,
      rows: places,
      input: journalInput({
        company: common.company,
        type: header.type?.toLowerCase() ?? common.type,
        book: header.book?.toUpperCase() ?? common.book,
        date: header.date ?? common.date,
        reference: header.reference ?? common.reference,
        description:
          common.description.trim() || first("description") || (key ? `Journal ${key}` : "Load"),
        currency: header.currency?.toUpperCase() ?? null,
        lines,
      }),
    };
  });
}

const alike = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();

function lineOf(
  { cells, unread }: LoadRow,
  common: LoadCommon,
  differs: readonly (typeof OF_THE_JOURNAL)[number][],
): Partial<JournalLineInput> {
  const company = cells.company?.trim().toUpperCase() ?? "";
  return {
    account: cells.account ?? "",
    description: common.pattern.trim() ? fill(common.pattern, cells) : (cells.description ?? ""),
    debit: cells.debit ?? "",
    credit: cells.credit ?? "",
    company: company && company !== common.company ? company : "",
    quantity: cells.quantity ?? "",
    partner: cells.partner ?? "",
    dueDate: cells.dueDate ?? "",
    note: cells.note ?? "",
    dimensions: Object.fromEntries(
      Object.entries(cells).flatMap(([field, value]) =>
        field.startsWith("d.") && value ? [[field.slice(2), value.trim()]] : [],
      ),
    ),
    ...(Object.keys(unread).length > 0 ? { unread: unread as Record<string, string> } : {}),
    ...(differs.length > 0
      ? { differs: Object.fromEntries(differs.map((f) => [f, cells[f]!])) }
      : {}),
  };
}

/**
 * A pattern with the texts of a row: "Fuel {reference}, {description}". An unknown name stays as it
 * stands.
 */
const fill = (pattern: string, cells: LoadRow["cells"]): string =>
  pattern
    .replace(/\{([^{}]{1,40})\}/g, (whole, name: string) => {
      const wanted = plainName(name);
      const field = (Object.keys(cells) as LoadField[]).find(
        (f) => plainName(f.replace(/^d\./, "")) === wanted,
      );
      if (field) return cells[field] ?? "";
      return LOAD_FIELDS.some((f) => plainName(f) === wanted) ? "" : whole;
    })
    .replace(/\s+/g, " ")
    .trim();
