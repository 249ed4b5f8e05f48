import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { proposedIban, readIban } from "./index";

describe("proposedIban", () => {
  const of = (country: string, bankCode: string, number: string, bic = "") =>
    proposedIban({ country, bankCode, number, bic });

  test.each([
    // Check digits worked out apart: 98 less the remainder of the figures, letters as 10 to 35, by 97.
    ["DE", "37040044", "532013000", "", "DE89370400440532013000"],
    ["AT", "19043", "234573201", "", "AT611904300234573201"],
    ["CH", "00762", "011623852957", "", "CH9300762011623852957"],
    ["IE", "99-99-99", "50000001", "ZZZZIE2D", "IE04ZZZZ99999950000001"],
    ["NL", "", "417164300", "ZZZZNL2A", "NL43ZZZZ0417164300"],
    ["LT", "10000", "11101001000", "", "LT121000011101001000"],
  ])("%s is built of code and number", (country, code, number, bic, iban) =>
    expect(of(country, code, number, bic)).toBe(iban),
  );

  test("of what is missing, too long or of a country that builds it otherwise nothing is proposed", () => {
    expect(of("DE", "3704004", "532013000")).toBe("");
    expect(of("DE", "37040044", "")).toBe("");
    expect(of("DE", "37040044", "12345678901")).toBe("");
    expect(of("FR", "20041", "0500013M026")).toBe("");
    expect(of("IE", "999999", "12345678")).toBe("");
    expect(of("US", "999999992", "1")).toBe("");
  });

  test("what is proposed is an IBAN, whatever the number, and holds it at its end", () => {
    const country = fc.constantFrom(["DE", "37040044"], ["AT", "19043"], ["CH", "00762"]);
    fc.assert(
      fc.property(country, fc.integer({ min: 1, max: 9_999_999_999 }), ([at, code], n) => {
        const iban = of(at!, code!, String(n));
        expect(readIban(iban)).toBe(iban);
        expect(iban.endsWith(String(n))).toBe(true);
      }),
    );
  });
});
