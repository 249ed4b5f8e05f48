import { useEffect, useRef, useState, type RefObject } from "react";

/** So long after going back in the browser's history a page that is drawn is the one gone back to. */
const SOON = 8_000;

let wentBackAt = -SOON;
if (typeof window !== "undefined")
  window.addEventListener("popstate", () => {
    wentBackAt = performance.now();
  });

const keyOf = (name: string): string => `list.${name}`;

interface Left {
  address: string;
  row: string;
  top: number;
}

function lastLeft(name: string): Left | null {
  try {
    const left = JSON.parse(window.sessionStorage.getItem(keyOf(name)) ?? "null") as Left | null;
    const here = window.location.pathname + window.location.search;
    return left && left.address === here && performance.now() - wentBackAt < SOON ? left : null;
  } catch {
    return null;
  }
}

/**
 * Going back leads to a list as it was left: at the row that was opened, scrolled as it was.
 * Answers what to call when a row is opened.
 */
export function useReturn(
  name: string,
  rowKeys: () => readonly string[],
  {
    scroller,
    drawn,
    setAt,
  }: {
    scroller: RefObject<HTMLElement | null>;
    /** Whether its rows are there: they come a moment after the list. */
    drawn: boolean;
    setAt: (row: number) => void;
  },
): (row: string) => void {
  const [left] = useState(() => (typeof window === "undefined" ? null : lastLeft(name)));
  const returned = useRef(false);
  useEffect(() => {
    if (!left || !drawn || returned.current) return;
    returned.current = true;
    const row = rowKeys().indexOf(left.row);
    scroller.current?.scrollTo({ top: left.top });
    if (row < 0) return;
    setAt(row);
    // Scrolled there, the row is drawn with the next picture.
    const frame = requestAnimationFrame(() =>
      scroller.current?.querySelector<HTMLElement>(`[data-row="${row}"]`)?.focus(),
    );
    return () => cancelAnimationFrame(frame);
    // Only once, when it is first drawn.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [drawn]);
  return (row) => {
    const address = window.location.pathname + window.location.search;
    const top = scroller.current?.scrollTop ?? 0;
    window.sessionStorage.setItem(keyOf(name), JSON.stringify({ address, row, top }));
  };
}
