import { useEffect, useLayoutEffect, useState, type RefObject } from "react";

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
  scroller: RefObject<HTMLElement | null>,
  setAt: (row: number) => void,
): (row: string) => void {
  const [left] = useState(() => (typeof window === "undefined" ? null : lastLeft(name)));
  useLayoutEffect(() => {
    if (left) scroller.current?.scrollTo({ top: left.top });
  }, [left, scroller]);
  useEffect(() => {
    if (!left) return;
    const row = rowKeys().indexOf(left.row);
    if (row < 0) return;
    // Where a task stood when the page was drawn, its row may not be drawn yet.
    const frame = requestAnimationFrame(() => {
      setAt(row);
      scroller.current?.querySelector<HTMLElement>(`[data-row="${row}"]`)?.focus();
    });
    return () => cancelAnimationFrame(frame);
    // Only once, when it is drawn.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (row) => {
    const address = window.location.pathname + window.location.search;
    const top = scroller.current?.scrollTop ?? 0;
    window.sessionStorage.setItem(keyOf(name), JSON.stringify({ address, row, top }));
  };
}
