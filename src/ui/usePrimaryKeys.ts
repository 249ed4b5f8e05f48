import { useEffect } from "react";

/**
 * Ctrl Enter does the check, Ctrl Shift Enter the primary action. The cell that is being written
 * keeps its text first.
 */
export function usePrimaryKeys(
  check: (() => void) | undefined,
  main: (() => void) | undefined,
): void {
  useEffect(() => {
    if (!check && !main) return;
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      const before = document.activeElement as HTMLElement | null;
      before?.blur();
      setTimeout(() => {
        (event.shiftKey ? main : check)?.();
        // The act may lead elsewhere; where it leads nowhere, one goes on where one was.
        if (document.activeElement === document.body) before?.focus({ preventScroll: true });
      }, 30);
    };
    // A tab keeps every Enter to itself, so it is asked before the tab is.
    const onTab = (event: KeyboardEvent) => {
      if (!(event.target as Element | null)?.closest?.("[role=tab]")) return;
      onKey(event);
      if (event.defaultPrevented) event.stopPropagation();
    };
    window.addEventListener("keydown", onTab, true);
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onTab, true);
      window.removeEventListener("keydown", onKey);
    };
  }, [check, main]);
}
