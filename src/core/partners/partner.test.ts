import { describe, expect, test } from "vitest";
import { bicFits, ibanText, namesAlike, readIban, taxNumberFits } from "./index";

describe("partners", () => {
  test.each([
    [
      "the example of ISO 13616, with spaces and small letters",
      "gb29 nwbk 6016 1331 9268 19",
      "GB29NWBK60161331926819",
    ],
    ["wrong check digits", "GB28 NWBK 6016 1331 9268 19", null],
    ["too short for its country", "DE89 3704 0044 0532 0130", null],
    ["no account at all", "cash", null],
  ])("IBAN: %s", (_what, text, expected) => expect(readIban(text)).toBe(expected));
  test("an IBAN is shown in groups of four", () =>
    expect(ibanText("DE89370400440532013000")).toBe("DE89 3704 0044 0532 0130 00"));
  test.each([
    ["", true],
    ["COBADEFF", true],
    ["COBADEFFXXX", true],
    ["COBAFRPP", false],
    ["COBADE", false],
  ])("BIC %s", (bic, fits) => expect(bicFits(bic, "DE89370400440532013000")).toBe(fits));
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
