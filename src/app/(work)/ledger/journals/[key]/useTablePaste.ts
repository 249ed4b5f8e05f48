import { useCallback, useState } from "react";
import {
  findHeadings,
  LOAD_FIELDS,
  readHeadings,
  tableToRows,
  understand,
  type LoadField,
  type LoadedTable,
  type Understanding,
} from "@/core/ledger";
import { amountText, readNumberFormat, readTableFigure } from "@/core/shared";
import {
  breathe,
  commitAll,
  step,
  withUnread,
  type CellChange,
  type Commit,
  type GridHistory,
  type GridRow,
} from "@/ui/grid/gridModel";
import { keepMeanings, meaningsOf } from "../../load/meanings";

/** Rows that are read at a time, before the page may answer again. */
const SLICE = 500;

interface Taken {
  headings: string[];
  body: string[][];
  fields: (LoadField | null)[];
  read: Understanding;
  at: number;
  before: GridHistory;
  count: number;
  blank: number;
  /** Rows of the table (from 1, below the headings) that are no lines. */
  aside: LoadedTable["aside"];
  /** As for an earlier table with the same headings. */
  remembered: boolean;
}

/**
 * What a column of a table can mean for a line; what belongs to the whole journal stands in its
 * head.
 */
const OF_LINES: readonly LoadField[] = LOAD_FIELDS.filter(
  (f) => !["journal", "date", "type", "book", "reference", "currency"].includes(f),
);

/**
 * Rows pasted with a heading row, in any order of columns, into an empty or a started journal;
 * without one, in the places from the cell on.
 */
export function useTablePaste({
  history,
  setHistory,
  currency,
  dimensions,
  commit,
}: {
  history: GridHistory;
  setHistory: (h: GridHistory) => void;
  currency: string;
  dimensions: { code: string; name: string }[];
  commit: Commit;
}) {
  const [taken, setTaken] = useState<Taken | null>(null);
  const choices = [...OF_LINES, ...dimensions.map((d): LoadField => `d.${d.code}`)];

  const fill = useCallback(
    async (t: Omit<Taken, "count" | "blank" | "aside">) => {
      const loaded = { rows: [] as GridRow[], blank: 0, aside: [] as LoadedTable["aside"] };
      for (let from = 0; from < t.body.length; from += SLICE) {
        const part = tableToRows(t.body.slice(from, from + SLICE), t.fields, currency, t.read);
        loaded.rows.push(
          ...part.rows.map((r) => withUnread(r.cells as Record<string, string>, r.unread)),
        );
        loaded.blank += part.blank;
        loaded.aside.push(...part.aside.map((a) => ({ ...a, place: a.place + from })));
        await breathe();
      }
      const rows = t.before.rows;
      // Blank lines from the cell on are written over; lines that stand there move down.
      let free = t.at;
      while (
        free < rows.length &&
        free - t.at < loaded.rows.length &&
        Object.values(rows[free]!).every((v) => !v)
      )
        free++;
      const start = [
        ...rows.slice(0, t.at),
        ...Array.from(
          { length: Math.max(0, t.at - rows.length) + loaded.rows.length },
          (): GridRow => ({}),
        ),
        ...rows.slice(free),
      ];
      let next: readonly GridRow[] = start;
      for (let from = 0; from < loaded.rows.length; from += SLICE)
        next = await commitAll(
          next,
          loaded.rows.slice(from, from + SLICE).flatMap((row, i) =>
            Object.entries(row).map(([key, value]): CellChange => ({
              row: t.at + from + i,
              key,
              value,
            })),
          ),
          commit,
        );
      setHistory(step(t.before, next));
      setTaken({
        ...t,
        count: loaded.rows.length,
        blank: loaded.blank,
        aside: loaded.aside,
      });
    },
    [commit, currency, setHistory],
  );

  const onTable = useCallback(
    (
      block: readonly (readonly string[])[],
      at: { row: number; key: string },
      keys: readonly string[],
    ): boolean => {
      const head = block.length > 1 ? findHeadings(block, dimensions) : -1;
      if (head >= 0) {
        const headings = [...block[head]!];
        const body = block.slice(head + 1).map((r) => [...r]);
        const allowed = new Set(choices);
        const before = meaningsOf(headings);
        const fields = (before ?? readHeadings(headings, dimensions)).map((f) =>
          f && allowed.has(f) ? f : null,
        );
        void fill({
          headings,
          body,
          fields,
          read: understand(body, fields),
          at: at.row,
          before: history,
          remembered: before !== null,
        });
        return true;
      }
      // Without headings the places decide; figures are written our way first, and what is no
      // figure in the block's marks stays a problem.
      const from = keys.indexOf(at.key);
      const amounts = keys.flatMap((key, i) =>
        i >= from && (key === "debit" || key === "credit") ? [i - from] : [],
      );
      const format = readNumberFormat(block.flatMap((r) => amounts.flatMap((i) => r[i] ?? [])));
      const unread = (text: string, i: number) =>
        amounts.includes(i) &&
        text.trim() !== "" &&
        !text.trim().startsWith("=") &&
        !readTableFigure(text, currency, format).ok;
      if (format.decimal === "." && format.group === "," && !block.some((r) => r.some(unread)))
        return false;
      const changes = block.flatMap((r, n) =>
        r.flatMap((written, i): CellChange[] => {
          const key = keys[from + i];
          if (!key) return [];
          const text = written.trim();
          const row = at.row + n;
          if (unread(text, i))
            return Object.entries(withUnread({ [key]: text }, { [key]: text })).map(
              ([k, value]): CellChange => ({ row, key: k, value }),
            );
          const reading = amounts.includes(i) ? readTableFigure(text, currency, format) : null;
          return [{ row, key, value: reading?.ok ? amountText(reading.amount, currency) : text }];
        }),
      );
      void commitAll(history.rows, changes, commit).then((next) => setHistory(step(history, next)));
      return true;
    },
    // The choices follow from the dimensions.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [dimensions, fill, history, commit, currency, setHistory],
  );
  const mean = (index: number, field: LoadField | null) => {
    if (!taken) return;
    const fields = taken.fields.map((f, i) => (i === index ? field : f === field ? null : f));
    keepMeanings(taken.headings, fields);
    void fill({ ...taken, fields });
  };
  const reread = (change: Partial<Understanding>) =>
    void (taken && fill({ ...taken, read: { ...taken.read, ...change } }));
  return { taken, choices, onTable, mean, reread, close: () => setTaken(null) };
}
