import { useEffect, type RefObject } from "react";

/**
 * A list takes the focus when it comes, unless somebody is at work in the page already: its first
 * row is at hand without a way through the frame. `drawn` says whether its rows are there: they come
 * a moment after the list.
 */
export function useFirstFocus(scroller: RefObject<HTMLElement | null>, drawn: boolean): void {
  useEffect(() => {
    if (!drawn) return;
    const active = document.activeElement;
    if (active !== document.body && !active?.closest("nav[aria-label]")) return;
    scroller.current
      ?.querySelector<HTMLElement>('tr[data-row][tabindex="0"]')
      ?.focus({ preventScroll: true });
  }, [scroller, drawn]);
}
