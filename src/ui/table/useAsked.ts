import { useEffect, useRef, useState } from "react";
import { sortingOf, sortOf, type Pages, type Sorting } from "./pages";

/** A filter is asked for when typing rests. */
const REST = 350;

export type Filters = Readonly<Record<string, string>>;
export const NO_FILTERS: Filters = {};

/** Order and filters: here, or in the address where the server does both. */
export function useAsked<T>(pages: Pages<T> | undefined) {
  const [here, setHere] = useState<Sorting | null>(null);
  const [typed, setTyped] = useState(pages?.state.filters ?? NO_FILTERS);
  // Another address, as by going back, says what is typed. The answer to what was asked here does
  // not: somebody may have typed on meanwhile.
  const asked = pages?.state.filters;
  const [seen, setSeen] = useState(asked);
  const [sent, setSent] = useState(asked);
  if (asked && seen !== asked) {
    setSeen(asked);
    if (!sameFilters(asked, seen) && !sameFilters(asked, sent)) setTyped(asked);
  }
  const ask = useRef(pages);
  useEffect(() => void (ask.current = pages), [pages]);
  useEffect(() => {
    const now = ask.current;
    if (!now || sameFilters(typed, now.state.filters)) return;
    const rest = setTimeout(() => {
      setSent(typed);
      now.ask({ ...now.state, filters: typed });
    }, REST);
    return () => clearTimeout(rest);
  }, [typed]);
  const setFilter = (key: string, text: string) =>
    setTyped(({ [key]: _before, ...others }) =>
      text === "" ? others : { ...others, [key]: text },
    );
  return {
    sorting: pages ? sortingOf(pages.state.sort) : here,
    setSorting: (next: Sorting | null) =>
      pages ? pages.ask({ sort: sortOf(next), filters: typed }) : setHere(next),
    filters: typed,
    setFilter,
    clear: () => setTyped(NO_FILTERS),
  };
}

const sameFilters = (a: Filters, b: Filters = NO_FILTERS): boolean => {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((k) => a[k] === b[k]);
};
