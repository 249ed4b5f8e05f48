import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import { amountInWords, chequeLine, magneticLine, numberInWords } from "./index";

describe("amountInWords", () => {
  test.each([
    [123_456n, "EUR", "One thousand two hundred and thirty-four and 56/100 EUR"],
    [0n, "EUR", "Zero and 00/100 EUR"],
    [100_500n, "GBP", "One thousand and five and 00/100 GBP"],
    [2_000_000_010n, "EUR", "Twenty million and 10/100 EUR"],
    [19n, "JPY", "Nineteen JPY"],
    [1_001n, "KWD", "One and 001/1000 KWD"],
    [11_000_000n, "EUR", "One hundred and ten thousand and 00/100 EUR"],
  ])("%s %s", (amount, currency, words) =>
    expect(amountInWords(minor(amount), currency)).toBe(words),
  );

  test("the words say the number again", () => {
    const value = new Map(
      "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen"
        .split(" ")
        .map((w, i) => [w, BigInt(i)] as const),
    );
    "twenty thirty forty fifty sixty seventy eighty ninety"
      .split(" ")
      .forEach((w, i) => value.set(w, BigInt(i + 2) * 10n));
    const scale = new Map([
      ["thousand", 10n ** 3n],
      ["million", 10n ** 6n],
      ["billion", 10n ** 9n],
      ["trillion", 10n ** 12n],
      ["quadrillion", 10n ** 15n],
    ]);
    const read = (words: string): bigint => {
      let total = 0n;
      let part = 0n;
      for (const w of words.split(/[ -]/).filter((x) => x !== "and")) {
        if (w === "hundred") part *= 100n;
        else if (scale.has(w)) [total, part] = [total + part * scale.get(w)!, 0n];
        else part += value.get(w)!;
      }
      return total + part;
    };
    fc.assert(
      fc.property(fc.bigInt(0n, 10n ** 18n - 1n), (n) => {
        expect(read(numberInWords(n))).toBe(n);
      }),
    );
  });
});

describe("magneticLine", () => {
  test("each figure and mark has a shape of its own within its cell, and anything else is refused", () => {
    const marks = [..."0123456789TAUD"];
    expect(new Set(marks.map((c) => JSON.stringify(magneticLine(c)))).size).toBe(marks.length);
    for (const s of magneticLine(marks.join("")))
      expect(s.x % 9 <= 9 && s.y + s.height <= 9 * 0.013 * 72 + 1e-9).toBe(true);
    expect(() => magneticLine("B")).toThrow("no magnetic shape");
    expect(chequeLine(1042, "990017", "12345678")).toBe("U001042U T990017T 12345678U");
  });
});
