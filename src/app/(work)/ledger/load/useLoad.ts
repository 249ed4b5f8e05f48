import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
  findHeadings,
  readHeadings,
  rowsToJournals,
  tableToRows,
  understand,
  type LoadCommon,
  type LoadField,
  type LoadRow,
  type Understanding,
} from "@/core/ledger";
import type { LoadResult } from "@/server/ledger";
import type { Answer } from "@/app/lib/answer";
import { tidyAmount } from "@/ui/grid/coding";
import { startHistory, type GridHistory, type GridRow } from "@/ui/grid/gridModel";
import { loadAction } from "./actions";
import { keepMeanings, meaningsOf } from "./meanings";

const KEPT = "load.given";
/** Beside each cell stands what it held when it was loaded, so that a correction can be seen. */
const was = (key: string) => `~${key}`;
export const originalOf = (row: GridRow, key: string): string | undefined =>
  Object.keys(row).some((k) => k.startsWith("~")) ? (row[was(key)] ?? "") : undefined;

/** What was given once for the last load. */
type Kept = Omit<LoadCommon, "company" | "date" | "reference">;

/**
 * A table on its way to becoming journals: how it is read, its rows as they are corrected, and what
 * stands against them.
 */
export function useLoad(
  company: string,
  currency: string,
  dimensions: { code: string; name: string }[],
  firstCommon: LoadCommon,
) {
  const [table, setTable] = useState<string[][] | null>(null);
  const [source, setSource] = useState("");
  const [headed, setHeaded] = useState(true);
  const [fields, setFields] = useState<(LoadField | null)[]>([]);
  const [read, setRead] = useState<Understanding | null>(null);
  const [aside, setAside] = useState({ blank: 0, withoutAmount: 0 });
  const [history, setHistory] = useState<GridHistory>(() => startHistory([]));
  const [common, setCommon] = useState<LoadCommon>(firstCommon);
  const [result, setResult] = useState<LoadResult | null>(null);
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
      setAside({ blank: loaded.blank, withoutAmount: loaded.withoutAmount });
      setHistory(
        startHistory(
          loaded.rows.map((row): GridRow => {
            const shown = Object.fromEntries(
              Object.entries(row as Record<string, string>).map(([k, v]) => [
                k,
                k === "debit" || k === "credit"
                  ? tidyAmount(v, row.currency?.toUpperCase() || currency)
                  : v,
              ]),
            );
            return {
              ...shown,
              ...Object.fromEntries(Object.entries(shown).map(([k, v]) => [was(k), v])),
            };
          }),
        ),
      );
    },
    [currency],
  );
  const take = useCallback(
    (cells: string[][], from: string) => {
      const at = findHeadings(cells, dimensions);
      const heads = at >= 0;
      const first = cells[at] ?? [];
      const body = cells.slice(at + 1);
      const width = Math.max(...cells.map((r) => r.length), 0);
      const names = heads ? first : Array.from({ length: width }, (_, i) => `Column ${i + 1}`);
      const meaning = meaningsOf(names, readHeadings(names, dimensions));
      setTable([names.map(String), ...body.map((r) => [...r])]);
      setHeaded(heads);
      setSource(from);
      setFields(meaning);
      setResult(null);
      setProblem(null);
      if (kept.current)
        setCommon(
          (c) =>
            ({
              ...kept.current,
              ...Object.fromEntries(Object.entries(c).filter(([, v]) => v)),
            }) as LoadCommon,
        );
      fill(body, meaning);
    },
    [dimensions, fill],
  );
  const mean = (index: number, field: LoadField | null) => {
    if (!table) return;
    const next = fields.map((f, i) => (i === index ? field : f === field ? null : f));
    setFields(next);
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
    () =>
      rowsToJournals(
        rows.map(
          (r) =>
            Object.fromEntries(Object.entries(r).filter(([k]) => !k.startsWith("~"))) as LoadRow,
        ),
        { ...common, company },
      ),
    [rows, common, company],
  );
  const ask = useCallback(
    async (
      mode: "check" | "draft" | "submit" | "post",
      confirmed = false,
    ): Promise<Answer<LoadResult> | null> => {
      if (journals.length === 0) return null;
      setBusy(mode);
      setProblem(null);
      const answer = await loadAction({
        mode,
        confirmed,
        journals: journals.map(({ key, input }) => ({ key, input })),
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
      setResult(answer.value);
      if (mode !== "check") {
        const { company: _c, date: _d, reference: _r, ...rest } = common;
        localStorage.setItem(KEPT, JSON.stringify(rest satisfies Kept));
        keepMeanings(table?.[0] ?? [], fields);
      }
      return answer;
    },
    [journals, common, table, fields],
  );

  // What stands against the rows is looked up anew a moment after they change.
  const asked = useRef<unknown>(null);
  useEffect(() => {
    if (
      journals.length === 0 ||
      asked.current === journals ||
      result?.journals.some((j) => j.id !== null)
    )
      return;
    const timer = setTimeout(() => {
      asked.current = journals;
      void ask("check");
    }, 700);
    return () => clearTimeout(timer);
  }, [journals, ask, result]);

  return {
    table,
    source,
    headed,
    fields,
    read,
    aside,
    history,
    setHistory,
    common,
    setCommon,
    result,
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
      setProblem(null);
    },
  };
}
