"use client";
import { WrittenField, type WrittenProps } from "./WrittenField";
import { keptFigures, shownFigures } from "./writing";

/**
 * An amount, a quantity, a rate or a percentage, shown and typed in the person's way of writing,
 * given to the page in the standard one.
 */
export const FigureField = (props: WrittenProps) => (
  <WrittenField className="field" {...props} shown={shownFigures} kept={keptFigures} />
);
