import { useEffect, type RefObject } from "react";

/**
 * A list takes the focus when it comes, unless somebody is at work in the page already: its first
 * row is at hand without a way through the frame.
 */
export function useFirstFocus(scroller: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const active = document.activeElement;
    if (active !== document.body && !active?.closest("nav[aria-label]")) return;
    scroller.current
      ?.querySelector<HTMLElement>('tr[data-row][tabindex="0"]')
      ?.focus({ preventScroll: true });
  }, [scroller]);
}
