import { useState } from "react";

/**
 * A field that shows a value in another way of writing than it is kept in: while somebody types,
 * their own text stands there; once the value is another than they gave, or the field is left, the
 * value does.
 */
export function useTyped(
  value: string,
  shown: (kept: string) => string,
  kept: (typed: string) => string,
): { text: string; type: (text: string) => string; leave: () => void } {
  const [typed, setTyped] = useState<{ text: string; gave: string } | null>(null);
  return {
    text: typed?.gave === value ? typed.text : shown(value),
    type: (text) => {
      const gave = kept(text);
      setTyped({ text, gave });
      return gave;
    },
    leave: () => setTyped(null),
  };
}
