import { useEffect } from "react";

/** A form that a key has opened has the focus in its first field: the first of these that is there. */
export function useFirstField(...ids: readonly string[]): void {
  const first = ids.join(" ");
  useEffect(() => {
    for (const id of first.split(" ")) {
      const field = document.getElementById(id);
      if (field) return field.focus();
    }
  }, [first]);
}
