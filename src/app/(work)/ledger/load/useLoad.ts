import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
  doubtsOf,
  findHeadings,
  readHeadings,
  recogniseColumns,
  recogniseUnderHeadings,
  rowsToJournals,
  tableToRows,
  understand,
  type KnownCodes,
  type LoadCommon,
  type LoadedTable,
  type LoadField,
  type LoadRow,
  type Understanding,
} from "@/core/ledger";
import type { LoadedJournal, LoadResult } from "@/server/ledger";
import type { Answer } from "@/app/lib/answer";
import { tidyAmount } from "@/ui/grid/coding";
import {
  shownCells,
  startHistory,
  unreadOf,
  withUnread,
  type GridHistory,
  type GridRow,
} from "@/ui/grid/gridModel";
import { askDrafts } from "@/app/lib/useKeptDraft";
import { keepMeanings, meaningsOf } from "./meanings";

const KEPT = "load.given";
/** Beside each cell stands what it held when it was loaded, so that a correction can be seen. */
const was = (key: string) => `~${key}`;
const toRow = (row: GridRow): LoadRow => ({ cells: shownCells(row), unread: unreadOf(row) ?? {} });
export const originalOf = (row: GridRow, key: string): string | undefined =>
  Object.keys(row).some((k) => k.startsWith("~")) ? (row[was(key)] ?? "") : undefined;

/** What was given once for the last load. */
const NOTHING_ASIDE = { blank: 0, aside: [] };
type Kept = Pick<LoadCommon, "type" | "book" | "pattern">;

/**
 * A table on its way to becoming journals: how it is read, its rows as they are corrected, and what
 * stands against them.
 */
export function useLoad(
  company: string,
  currency: string,
  dimensions: { code: string; name: string }[],
  codes: KnownCodes,
  firstCommon: LoadCommon,
) {
  const [table, setTable] = useState<string[][] | null>(null);
  const [source, setSource] = useState("");
  const [notes, setNotes] = useState<string[]>([]);
  const [headed, setHeaded] = useState(true);
  /** The number of the first row below the headings in the file. */
  const [firstRow, setFirstRow] = useState(1);
  const [remembered, setRemembered] = useState(false);
  /** Columns of figures that nobody has given a meaning yet. */
  const [open, setOpen] = useState<number[]>([]);
  const [fields, setFields] = useState<(LoadField | null)[]>([]);
  const [read, setRead] = useState<Understanding | null>(null);
  const [aside, setAside] = useState<Pick<LoadedTable, "blank" | "aside">>(NOTHING_ASIDE);
  /** Journals that this load has taken in; the rows that are left go on. */
  const [done, setDone] = useState<LoadedJournal[]>([]);
  const [again, setAgain] = useState<ReadonlySet<string>>(new Set());
  const [history, setHistory] = useState<GridHistory>(() => startHistory([]));
  const [common, setCommon] = useState<LoadCommon>(firstCommon);
  const [result, setResult] = useState<LoadResult | null>(null);
  /** The rows that the result speaks of. */
  const [checked, setChecked] = useState<readonly GridRow[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState<string | null>(null);
  const kept = useRef<Kept | null>(null);
  useEffect(() => {
    try {
      kept.current = JSON.parse(localStorage.getItem(KEPT) ?? "null") as Kept | null;
    } catch {
      kept.current = null;
    }
  }, []);

  const fill = useCallback(
    (
      cells: readonly (readonly string[])[],
      meaning: (LoadField | null)[],
      understanding?: Understanding,
    ) => {
      const how = understanding ?? understand(cells, meaning);
      const loaded = tableToRows(cells, meaning, currency, how);
      setRead(how);
      setAside({ blank: loaded.blank, aside: loaded.aside });
      setHistory(
        startHistory(
          loaded.rows.map(({ cells: texts, unread }): GridRow => {
            const unit = texts.currency?.toUpperCase() || currency;
            const shown = Object.fromEntries(
              Object.entries(texts as Record<string, string>).map(([k, v]) => [
                k,
                (k === "debit" || k === "credit") && unread[k] === undefined
                  ? tidyAmount(v, unit)
                  : v,
              ]),
            );
            const before = Object.entries(shown).map(([k, v]) => [was(k), v]);
            return withUnread({ ...shown, ...Object.fromEntries(before) }, unread);
          }),
        ),
      );
    },
    [currency],
  );
  const take = useCallback(
    (sheet: { cells: string[][]; notes: string[] }, from: string) => {
      const { cells } = sheet;
      const at = findHeadings(cells, dimensions);
      const heads = at >= 0;
      const body = cells.slice(at + 1);
      const width = Math.max(...cells.map((r) => r.length), 0);
      const names = heads ? cells[at]! : Array.from({ length: width }, (_, i) => `Column ${i + 1}`);
      const before = heads ? meaningsOf(names) : null;
      const given = before ?? (heads ? readHeadings(names, dimensions) : []);
      const known = before ?? (heads ? recogniseUnderHeadings(body, given, codes) : null);
      const recognised = known?.includes("account")
        ? { fields: known, open: [] }
        : recogniseColumns(body, given, codes);
      setTable([names.map(String), ...body.map((r) => [...r])]);
      setNotes(sheet.notes);
      setHeaded(heads);
      setRemembered(before !== null);
      setFirstRow(at + 2);
      setOpen(recognised.open);
      setSource(from);
      setFields(recognised.fields);
      setResult(null);
      setDone([]);
      setAgain(new Set());
      setProblem(null);
      if (kept.current) setCommon((c) => ({ ...c, ...kept.current }));
      fill(body, recognised.fields);
    },
    [dimensions, codes, fill],
  );
  const mean = (index: number, field: LoadField | null) => {
    if (!table) return;
    const next = fields.map((f, i) => (i === index ? field : f === field ? null : f));
    setFields(next);
    setOpen(open.filter((i) => i !== index));
    if (headed) keepMeanings(table[0] ?? [], next);
    setResult(null);
    fill(table.slice(1), next);
  };
  const reread = (change: Partial<Understanding>) => {
    if (!table || !read) return;
    setResult(null);
    fill(table.slice(1), fields, { ...read, ...change });
  };

  const rows = history.rows;
  const journals = useMemo(
    () => rowsToJournals(rows.map(toRow), { ...common, company }),
    [rows, common, company],
  );
  const ask = useCallback(
    async (mode: "check" | "draft" | "submit" | "post"): Promise<Answer<LoadResult> | null> => {
      if (journals.length === 0) return null;
      const checkedRows = rows;
      setBusy(mode);
      setProblem(null);
      const answer = await askDrafts<LoadResult>("load", {
        mode,
        source,
        journals: journals.map(({ key, input }) => ({ key, input, again: again.has(key) })),
      }).catch(() => null);
      setBusy(null);
      if (!answer) {
        setProblem("The server did not answer. Nothing of the table is lost; try again.");
        return null;
      }
      if (!answer.ok) {
        setProblem(answer.message);
        return answer;
      }
      if (mode === "check") {
        setChecked(checkedRows);
        setResult(answer.value);
        return answer;
      }
      const { type, book, pattern } = common;
      localStorage.setItem(KEPT, JSON.stringify({ type, book, pattern } satisfies Kept));
      // What was taken in leaves the grid, so that the rest can be corrected and goes the same way.
      const gone = new Set(
        answer.value.journals.flatMap((j, n) => (j.id === null ? [] : journals[n]!.rows)),
      );
      setDone((d) => [...d, ...answer.value.journals.filter((j) => j.id !== null)]);
      const left = checkedRows.filter((_, i) => !gone.has(i));
      setHistory(startHistory(left));
      setChecked(left);
      setResult({
        journals: answer.value.journals.filter((j) => j.id === null),
        balances: [],
      });
      return answer;
    },
    [journals, rows, common, source, again],
  );

  // What stands against the rows is looked up anew a moment after they change.
  const asked = useRef<unknown>(null);
  useEffect(() => {
    if (journals.length === 0 || asked.current === journals) return;
    const timer = setTimeout(() => {
      asked.current = journals;
      void ask("check");
    }, 700);
    return () => clearTimeout(timer);
  }, [journals, ask]);

  return {
    table,
    source,
    notes: [...notes, ...(read ? doubtsOf(read) : [])],
    headed,
    remembered,
    firstRow,
    open,
    done,
    again,
    /** Says of a journal that came in before that it is meant to be there twice. */
    loadAgain: (key: string) => setAgain((s) => new Set([...s, key])),
    fields,
    read,
    aside,
    history,
    setHistory,
    common,
    setCommon,
    result,
    checked,
    setResult,
    problem,
    busy,
    journals,
    take,
    mean,
    reread,
    ask,
    clear: () => {
      setTable(null);
      setHistory(startHistory([]));
      setResult(null);
      setDone([]);
      setProblem(null);
    },
  };
}
