import { describe, expect, test } from "vitest";
import { tidyAmount } from "./coding";
import { searchOptions } from "./lookup";

const options = [
  ["1430", "Advances to suppliers"],
  ["2140", "Suppliers"],
  ["2520", "Current portion of loans"],
  ["2530", "Current leases"],
  ["2630", "Pensions"],
  ["6310", "Quay repairs"],
  ["6320", "Dredging"],
  ["7210", "Rent of offices"],
  ["7220", "Rental of vehicles, short"],
  ["P-1", "Ostry pier, main works"],
  ["@fuel", "6310 · VESS"],
].map(([code, name]) => ({ code: code!, name: name! }));
const codes = (typed: string, recent: string[] = []) =>
  searchOptions(options, typed, recent).map((o) => o.code);

describe("looking up in a cell", () => {
  test.each([
    ["the exact name before a name that holds it", "suppliers", ["2140", "1430"]],
    [
      "the beginning of a name before the inside of a word",
      "rent",
      ["7210", "7220", "2520", "2530"],
    ],
    ["the beginning of a number before its inside", "63", ["6310", "6320", "2630"]],
    ["parts of words in any order", "main pie", ["P-1"]],
    ["the exact number", "6320", ["6320"]],
    ["saved codings by their mark only", "@f", ["@fuel"]],
    ["nothing", "zzz", []],
  ])("%s", (_rule, typed, expected) => expect(codes(typed)).toEqual(expected));
  test("what was used lately comes first among equals, and never before a better fit", () => {
    expect(codes("rent", ["2530", "7220"])).toEqual(["7220", "7210", "2530", "2520"]);
    expect(codes("suppliers", ["1430"])).toEqual(["2140", "1430"]);
  });
});

test.each([
  ["1500,75", "1,500.75"],
  ["1.234,50", "1,234.50"],
  ["1,234", "1,234.00"],
  ["1 234.5", "1,234.50"],
  ["=100*1,2", "=100*1,2"],
  ["12,345", "12,345.00"],
  ["1,2,3", "1,2,3"],
  ["0,123", "0,123"],
])("an amount typed as %s reads %s", (typed, shown) =>
  expect(tidyAmount(typed, "EUR")).toBe(shown),
);
