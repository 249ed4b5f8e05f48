"use client";
import type { ComponentProps } from "react";
import { useTyped } from "../useTyped";
import { keptDay, keptFigures, shownFigures, shownSentence } from "../writing";

interface Props extends Omit<ComponentProps<"input">, "value" | "onChange"> {
  /** As the list is asked: figures and days in the standard way of writing. */
  value: string;
  onChange: (kept: string) => void;
  /** Whether the column holds figures. */
  figures: boolean;
}

/** What is typed above a column, in the person's way of writing. */
export function FilterField({ value, onChange, figures, ...rest }: Props) {
  const { text, type, leave } = useTyped(
    value,
    figures ? shownFigures : shownSentence,
    figures ? keptFigures : keptDay,
  );
  return (
    <input
      {...rest}
      type="text"
      value={text}
      onChange={(e) => onChange(type(e.target.value))}
      onBlur={leave}
    />
  );
}
