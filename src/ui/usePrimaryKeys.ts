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
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      (document.activeElement as HTMLElement | null)?.blur();
      setTimeout(() => (event.shiftKey ? main : check)?.(), 30);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [check, main]);
}
