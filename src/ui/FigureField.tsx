"use client";
import type { ComponentProps } from "react";
import { useTyped } from "./useTyped";
import { keptFigures, shownFigures } from "./writing";

interface Props extends Omit<ComponentProps<"input">, "value" | "onChange" | "onBlur"> {
  /** In the standard way of writing, as it is kept; or a text that is no figure yet. */
  value: string;
  onChange: (kept: string) => void;
  /** The field is left with this. */
  onLeave?: (kept: string) => void;
}

/**
 * An amount, a quantity, a rate or a percentage, shown and typed in the person's way of writing,
 * given to the page in the standard one.
 */
export function FigureField({ value, onChange, onLeave, className = "field", ...rest }: Props) {
  const { text, type, leave } = useTyped(value, shownFigures, keptFigures);
  return (
    <input
      autoComplete="off"
      {...rest}
      className={className}
      value={text}
      onChange={(e) => onChange(type(e.target.value))}
      onBlur={(e) => {
        // What a browser's helper has put there says so only when the field is left.
        const kept = e.target.value === text ? value : keptFigures(e.target.value);
        if (kept !== value) onChange(kept);
        leave();
        onLeave?.(kept);
      }}
    />
  );
}
