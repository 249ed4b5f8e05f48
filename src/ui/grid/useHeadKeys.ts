import { useCallback, useState, type KeyboardEvent } from "react";

/**
 * Enter in the head of a document goes where the next input is: to the next field that is needed
 * and empty, else into the lines. Answers the handler for the head, and a number that changes each
 * time the lines are entered.
 */
export function useHeadKeys(): { onKeyDown: (e: KeyboardEvent) => void; entered: number } {
  const [entered, setEntered] = useState(0);
  const onKeyDown = useCallback((e: KeyboardEvent) => {
    const field = e.target;
    if (
      e.key !== "Enter" ||
      e.defaultPrevented ||
      e.ctrlKey ||
      e.metaKey ||
      !(field instanceof HTMLInputElement)
    )
      return;
    e.preventDefault();
    const needed = [
      ...e.currentTarget.querySelectorAll<HTMLInputElement>("[data-needed] input"),
    ].filter((input) => input.value.trim() === "" && !input.disabled);
    const next = needed.find(
      (input) => field.compareDocumentPosition(input) & Node.DOCUMENT_POSITION_FOLLOWING,
    );
    if (next) next.focus();
    else setEntered((n) => n + 1);
  }, []);
  return { onKeyDown, entered };
}
