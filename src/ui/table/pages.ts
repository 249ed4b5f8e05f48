import type { Totals } from "./totals";

/** The column that a table is sorted by. */
export interface Sorting {
  key: string;
  down: boolean;
}

/** What a list is narrowed and ordered by, as it stands in the address. */
export interface ListState {
  sort: string;
  filters: Readonly<Record<string, string>>;
}

/**
 * A table whose rows come page by page from the server, which sorts, filters and sums them: the
 * whole list is known there, and the newest rows here.
 */
export interface Pages<T> {
  /** How many rows the whole list has. */
  count: number;
  totals: readonly Totals[];
  state: ListState;
  /** Asks for the list anew. */
  ask: (state: ListState) => void;
  /** Whether there is more to read; null while it is being read. */
  more: boolean | null;
  /** Whether the next rows could not be read. */
  failed: boolean;
  readMore: () => void;
  /** Reads the whole list, and says how far it is. */
  readAll: (onProgress: (read: number) => void) => Promise<readonly T[]>;
  /** The filters that the person has kept under names. */
  saved: readonly SavedFilter[];
  save: (saved: readonly SavedFilter[]) => void;
}
export interface SavedFilter extends ListState {
  name: string;
}

export const sortingOf = (sort: string): Sorting | null =>
  sort === "" ? null : { key: sort.replace(/^-/, ""), down: sort.startsWith("-") };
export const sortOf = (sorting: Sorting | null): string =>
  sorting ? `${sorting.down ? "-" : ""}${sorting.key}` : "";
