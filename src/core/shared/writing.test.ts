import fc from "fast-check";
import { expect, test } from "vitest";
import { amountText, DEFAULT_FORMAT, readAmount } from "./amountText";
import { readDate } from "./calendarDate";
import {
  DAY_STYLES,
  FIGURE_STYLES,
  readWriting,
  rewriteFigures,
  writingCode,
  writtenDay,
  writtenSentence,
  type DayStyle,
  type FigureStyle,
} from "./writing";

const figures = fc.constantFrom(...(Object.keys(FIGURE_STYLES) as FigureStyle[]));
const days = fc.constantFrom(...(Object.keys(DAY_STYLES) as DayStyle[]));
const currency = fc.constantFrom("EUR", "JPY", "KWD");

test("an amount that is shown and kept again is the same amount, in every way of writing", () => {
  fc.assert(
    fc.property(figures, currency, fc.bigInt(-(10n ** 14n), 10n ** 14n), (style, unit, amount) => {
      const format = FIGURE_STYLES[style];
      const kept = amountText(amount, unit);
      const shown = rewriteFigures(kept, DEFAULT_FORMAT, format);
      expect(shown).toBe(amountText(amount, unit, { format }));
      expect(rewriteFigures(shown, format, DEFAULT_FORMAT)).toBe(kept);
    }),
  );
});

test("what a person types is the amount that their way of writing reads", () => {
  const typed = fc.stringMatching(/^-?[0-9]{1,4}([.,' ][0-9]{1,3}){0,3}$/);
  fc.assert(
    fc.property(figures, currency, typed, (style, unit, text) => {
      const own = readAmount(text, unit, FIGURE_STYLES[style]);
      const kept = rewriteFigures(text, FIGURE_STYLES[style], DEFAULT_FORMAT);
      if (own.ok) expect(readAmount(kept, unit)).toEqual(own);
      // Nothing that they cannot have meant: it is as they typed it, or a fault there as here.
      else if (readAmount(kept, unit).ok) expect(kept).toBe(text);
    }),
    { numRuns: 1000 },
  );
});

test.each<[string, FigureStyle, string]>([
  ["1.234,56", "comma", "1,234.56"],
  ["1.234", "comma", "1,234"],
  ["1 234,5", "space", "1,234.5"],
  ["1\u202f234,5", "space", "1,234.5"],
  ["1'234.50", "apostrophe", "1,234.50"],
  ["1’234.50", "apostrophe", "1,234.50"],
  ["(1.234,56)", "comma", "(1,234.56)"],
  ["1.234,56-", "comma", "1,234.56-"],
  ["=1.500,50*3", "comma", "=1500.50*3"],
  [">1.000", "comma", ">1000"],
  ["500,5..900", "comma", "500.5..900"],
  ["2,5% of 6410", "comma", "2.5% of 6410"],
  ["1.23.4", "comma", "1.23.4"],
  ["about 5", "comma", "about 5"],
])("%s in the style %s is kept as %s", (typed, style, kept) => {
  expect(rewriteFigures(typed, FIGURE_STYLES[style], DEFAULT_FORMAT)).toBe(kept);
});

test("a day is read again from every way of writing it", () => {
  const day = fc
    .date({ min: new Date("1990-01-01"), max: new Date("2100-12-31"), noInvalidDate: true })
    .map((d) => d.toISOString().slice(0, 10));
  fc.assert(
    fc.property(days, day, (style, date) => {
      expect(readDate(writtenDay(date, style), "2026-11-05")).toBe(date);
    }),
  );
});

test("a sentence has its amounts and days rewritten, and nothing else", () => {
  const german = { figures: "comma", days: "points" } as const;
  expect(
    writtenSentence("1,234.56 EUR of 1,200 units at 1.0842: 0.50 is left on 5 Nov 2026.", german),
  ).toBe("1.234,56 EUR of 1.200 units at 1,0842: 0,50 is left on 05.11.2026.");
  for (const same of [
    "HSF-26-00700 of account 6410, line 12",
    "31.10.2026 is no day of 10.0.0.12",
    "version 1.2.3, of 10.0.0.12 and 1,5",
    "Rule A.12.50/3",
  ])
    expect(writtenSentence(same, german)).toBe(same);
});

test("a way of writing that is not known is the standard", () => {
  const german = { figures: "comma", days: "points" } as const;
  expect(readWriting(writingCode(german))).toEqual(german);
  for (const code of [undefined, "", "comma", "comma.toString", "__proto__.iso", "x.y.z"])
    expect(readWriting(code)).toEqual({ figures: "point", days: "words" });
});
