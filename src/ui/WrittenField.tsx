"use client";
import { useState, type ComponentProps } from "react";

export interface WrittenProps extends Omit<
  ComponentProps<"input">,
  "value" | "onChange" | "onBlur"
> {
  /** As it is kept: in the standard way of writing, or a text that means nothing yet. */
  value: string;
  onChange: (kept: string) => void;
  /** The field is left with this. */
  onLeave?: (kept: string) => void;
}

interface Ways {
  shown: (kept: string) => string;
  kept: (typed: string) => string;
}

/**
 * A field that shows a value in another way of writing than it is kept in: while somebody types,
 * their own text stands there; once the value is another than they gave, or the field is left, the
 * value does.
 */
export function WrittenField({
  value,
  onChange,
  onLeave,
  shown,
  kept,
  ...rest
}: WrittenProps & Ways) {
  const [typed, setTyped] = useState<{ text: string; gave: string } | null>(null);
  const text = typed?.gave === value ? typed.text : shown(value);
  return (
    <input
      autoComplete="off"
      {...rest}
      value={text}
      onChange={(e) => {
        const gave = kept(e.target.value);
        setTyped({ text: e.target.value, gave });
        onChange(gave);
      }}
      onBlur={(e) => {
        // What a browser's helper has put there says so only when the field is left.
        const last = e.target.value === text ? value : kept(e.target.value);
        if (last !== value) onChange(last);
        setTyped(null);
        onLeave?.(last);
      }}
    />
  );
}
