import { useEffect } from "react";

/**
 * Single keys of the desk. They go before those of the frame, where “n” begins a journal; what is
 * typed into a field is no key.
 */
export function useDeskKeys(keys: Readonly<Record<string, () => unknown>>): void {
  useEffect(() => {
    let led = 0;
    const onKey = (e: KeyboardEvent) => {
      const typing =
        e.target instanceof HTMLElement &&
        e.target.closest("input, select, textarea, [role=dialog]");
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      // What follows “g” is the frame's way to another page.
      if (e.key === "g") led = Date.now();
      if (Date.now() - led < 1500 || !Object.hasOwn(keys, e.key)) return;
      e.preventDefault();
      e.stopImmediatePropagation();
      keys[e.key]!();
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [keys]);
}
