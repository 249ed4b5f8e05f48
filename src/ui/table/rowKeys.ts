import type { Dispatch, KeyboardEvent, SetStateAction } from "react";

export const isTyping = ({ target }: KeyboardEvent): boolean =>
  target instanceof HTMLInputElement && target.type === "text";

/** Between the rows, and into one. */
export function rowKeys<T>({
  shown,
  at,
  setAt,
  scroller,
  scrollTo,
  onOpen,
}: {
  shown: readonly T[];
  at: number;
  setAt: Dispatch<SetStateAction<number>>;
  scroller: { current: HTMLDivElement | null };
  scrollTo: (row: number) => void;
  onOpen: ((row: T) => void) | undefined;
}) {
  const move = (to: number) => {
    const next = Math.max(0, Math.min(shown.length - 1, to));
    setAt(next);
    scrollTo(next);
    requestAnimationFrame(() =>
      scroller.current?.querySelector<HTMLElement>(`[data-row="${next}"]`)?.focus(),
    );
  };
  return (event: KeyboardEvent) => {
    if (isTyping(event)) return;
    const steps: Record<string, number> = {
      ArrowDown: at + 1,
      ArrowUp: at - 1,
      PageDown: at + 20,
      PageUp: at - 20,
      Home: 0,
      End: shown.length - 1,
    };
    const row = shown[at];
    if (event.key in steps) {
      event.preventDefault();
      move(steps[event.key]!);
    } else if (
      event.key === "Enter" &&
      row &&
      onOpen &&
      !(event.target instanceof HTMLButtonElement)
    ) {
      event.preventDefault();
      onOpen(row);
    }
  };
}
