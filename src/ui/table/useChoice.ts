import { useEffect, useRef, useState } from "react";

/** Rows that are ticked as they stand elsewhere: the table shows them and says what is asked. */
export interface Ticks {
  keys: ReadonlySet<string>;
  set: (keys: readonly string[], on: boolean) => void;
}

/**
 * Which rows of a table are chosen: its own choice, or ticks that are kept elsewhere. With Shift a
 * choice goes from the last row that was chosen to this one.
 */
export function useChoice(
  shownKeys: () => readonly string[],
  ticks: Ticks | undefined,
  onSelect: ((keys: string[]) => void) | undefined,
) {
  const [own, setOwn] = useState<ReadonlySet<string>>(new Set());
  const last = useRef<string | null>(null);
  const selected = ticks?.keys ?? own;
  useEffect(() => onSelect?.([...own]), [own, onSelect]);
  const set = (keys: readonly string[], on: boolean) => {
    if (ticks) return ticks.set(keys, on);
    setOwn((s) => {
      const next = new Set(s);
      for (const key of keys)
        if (on) next.add(key);
        else next.delete(key);
      return next;
    });
  };
  const toggle = (key: string, isRange = false) => {
    const keys = shownKeys();
    const from = isRange && last.current !== null ? keys.indexOf(last.current) : -1;
    const to = keys.indexOf(key);
    last.current = key;
    set(
      from < 0 ? [key] : keys.slice(Math.min(from, to), Math.max(from, to) + 1),
      !selected.has(key),
    );
  };
  return { selected, toggle, all: (on: boolean) => set(on ? shownKeys() : [...selected], on) };
}
