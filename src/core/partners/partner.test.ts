import { describe, expect, test } from "vitest";
import { namesAlike, taxNumberFits } from "./index";

describe("partners", () => {
  test.each([
    ["DE 123 456 789", "DE", true],
    ["DE12345678", "DE", false],
    ["IE1234567WA", "IE", true],
    ["anything", "KR", true],
    ["", "DE", true],
    ["FR12345678901", "DE", false],
  ])("tax number %s of %s", (text, country, fits) =>
    expect(taxNumberFits(text, country)).toBe(fits),
  );
  test.each([
    ["Tarn Rope & Chain Ltd", "TARN ROPE AND CHAIN", true],
    ["Pelling Marine Fuels", "Peling Marine Fuels", true],
    ["Brightwater Insurance", "Bright Water Insurance", true],
    ["Corrow Shipyard", "Corrow Stevedores", false],
    ["", "Corrow", false],
  ])("%s and %s", (a, b, alike) => expect(namesAlike(a, b)).toBe(alike));
});
