import { expect, test } from "vitest";
import { readAmountFilter } from "./amountFilter";

test("bounds, a range, or the figures as they are shown", () => {
  expect(readAmountFilter(">= 1,000.50")).toEqual({ bounds: [{ by: ">=", than: "1000.50" }] });
  expect(readAmountFilter("<-5")).toEqual({ bounds: [{ by: "<", than: "-5" }] });
  expect(readAmountFilter("500 .. 900")).toEqual({
    bounds: [
      { by: ">=", than: "500" },
      { by: "<=", than: "900" },
    ],
  });
  for (const text of ["1,234", "10.0", ">", ">much", "1,0..2", "..5", "5.."])
    expect(readAmountFilter(text)).toEqual({ holds: text });
});
