"use client";
import { useCallback, useMemo, useState } from "react";
import { filterKey, MOST, type ListAsked, type ListPage } from "@/core/lists";
import { useWork } from "@/ui/frame/work";
import type { Pages, SavedFilter } from "@/ui/table/pages";
import { readList, type ListName } from "./listActions";
import { keepPreference } from "./preferences";

export type Asked = Omit<ListAsked, "after" | "limit">;

/** A list of documents as its page begins with it. */
export interface StartOfList<R> {
  page: ListPage<R>;
  asked: Asked & Record<string, unknown>;
  /** What the person has chosen for it: columns, and filters under names. */
  kept: { columns: string | undefined; filters: string | undefined };
}

/** The rows of a list that are here, and how more of them, or others, are asked for. */
export function useListPages<R>(
  name: ListName,
  { page, asked, kept }: StartOfList<R>,
): { rows: readonly R[]; pages: Pages<R> } {
  const work = useWork();
  const [read, setRead] = useState<{ of: ListPage<R>; rows: readonly R[]; next: string | null }>({
    of: page,
    rows: page.rows,
    next: page.next,
  });
  // Another page from the server: another list, or the same after something was done.
  const here = useMemo(
    () => (read.of === page ? read : { of: page, rows: page.rows, next: page.next }),
    [read, page],
  );
  const [reading, setReading] = useState(false);
  /** The page that could not be read: it is not asked for again before somebody says so. */
  const [failed, setFailed] = useState<ListPage<R> | null>(null);
  const [saved, setSaved] = useState<readonly SavedFilter[]>(() => savedFilters(kept.filters));

  const further = useCallback(
    async (after: string, limit?: number): Promise<ListPage<R>> => {
      const result = await readList(name, { ...asked, after, ...(limit ? { limit } : {}) });
      if (!result.ok) throw new Error(result.message);
      return result.value as unknown as ListPage<R>;
    },
    [name, asked],
  );
  const readMore = useCallback(() => {
    if (here.next === null || reading) return;
    setReading(true);
    setFailed(null);
    further(here.next)
      .then((more) => setRead({ of: page, rows: [...here.rows, ...more.rows], next: more.next }))
      .catch(() => setFailed(page))
      .finally(() => setReading(false));
  }, [here, reading, further, page]);
  const readAll = useCallback(
    async (onProgress: (read: number) => void) => {
      const rows: R[] = [];
      for (let after: string | null = ""; after !== null;) {
        const more: ListPage<R> = await further(after, MOST);
        rows.push(...more.rows);
        after = more.next;
        onProgress(rows.length);
      }
      return rows;
    },
    [further],
  );
  const pages = useMemo(
    (): Pages<R> => ({
      count: page.count ?? page.rows.length,
      totals: page.totals,
      state: { sort: asked.sort, filters: asked.filters },
      ask: (state) => {
        const gone = Object.keys(asked.filters).map((key) => [filterKey(key), null] as const);
        const wanted = Object.entries(state.filters).map(
          ([key, value]) => [filterKey(key), value] as const,
        );
        work.go(
          { ...Object.fromEntries([...gone, ...wanted]), sort: state.sort || null },
          { replace: true },
        );
      },
      more: reading ? null : here.next !== null,
      failed: failed === page,
      readMore,
      readAll,
      saved,
      save: (next) => {
        setSaved(next);
        void keepPreference(`filters.${name}`, JSON.stringify(next));
      },
    }),
    [page, asked, work, reading, failed, here.next, readMore, readAll, saved, name],
  );
  return { rows: here.rows, pages };
}

function savedFilters(kept: string | undefined): SavedFilter[] {
  try {
    const read: unknown = JSON.parse(kept ?? "[]");
    return Array.isArray(read) ? (read as SavedFilter[]) : [];
  } catch {
    return [];
  }
}
