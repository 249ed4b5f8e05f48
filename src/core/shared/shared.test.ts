import { addDays as libraryAdds, differenceInCalendarDays, format, parseISO } from "date-fns";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import {
  addDays,
  amountText,
  CURRENCIES,
  daysBetween,
  decimalText,
  describeProblem,
  isCalendarDate,
  minor,
  proportion,
  readAmount,
  readDate,
  split,
  sum,
  type NumberFormat,
} from "./index";

const amount = fc.bigInt({ min: -(10n ** 15n), max: 10n ** 15n }).map(minor);
const currency = fc.constantFrom(...CURRENCIES);

test("days are counted as a calendar does: leap years, year ends, and hours that a zone skips", () => {
  const day = fc.integer({ min: 1900, max: 2199 }).chain((year) =>
    fc
      .record({
        month: fc.integer({ min: 1, max: 12 }),
        day: fc.integer({ min: 1, max: 31 }),
      })
      .map(
        ({ month, day }) =>
          `${year}-${String(month).padStart(2, "0")}-${String(day).padStart(2, "0")}`,
      ),
  );
  const date = day.filter(isCalendarDate);
  const near = fc.integer({ min: -1000, max: 1000 });
  fc.assert(
    fc.property(date, date, near, (a, b, days) => {
      expect(daysBetween(a, b)).toBe(differenceInCalendarDays(parseISO(b), parseISO(a)));
      const later = format(libraryAdds(parseISO(a), days), "yyyy-MM-dd");
      expect(addDays(a, days)).toBe(later);
    }),
  );
});

describe("amounts", () => {
  test("what is written out is read back to the minor unit, in every currency and format (ISO 4217 exponents)", () => {
    const formats: NumberFormat[] = [
      { decimal: ".", group: "," },
      { decimal: ",", group: "." },
      { decimal: ",", group: " " },
      { decimal: ".", group: "'" },
    ];
    fc.assert(
      fc.property(amount, currency, fc.constantFrom(...formats), (a, c, format) => {
        expect(readAmount(amountText(a, c, { format }), c, format)).toEqual({
          ok: true,
          amount: a,
        });
        expect(readAmount(decimalText(a, c), c)).toEqual({ ok: true, amount: a });
      }),
    );
  });

  test.each([
    ["1,234.50", "EUR", 123450n],
    ["(1,234.50)", "EUR", -123450n],
    ["1234.5-", "EUR", -123450n],
    ["−12", "EUR", -1200n],
    [" 1 000 ".replace(/ /g, ""), "JPY", 1000n],
    ["1.234", "KWD", 1234n],
    [".5", "EUR", 50n],
    ["12.3400", "EUR", 1234n],
    ["0", "EUR", 0n],
  ])("%s in %s is understood", (text, c, expected) =>
    expect(readAmount(text, c)).toEqual({ ok: true, amount: expected }),
  );

  test.each([
    ["NaN", "not-a-number"],
    ["Infinity", "not-a-number"],
    ["1e5", "not-a-number"],
    ["12,50", "not-a-number"],
    ["1,23,456", "not-a-number"],
    ["", "not-a-number"],
    ["-", "not-a-number"],
    ["(-5)", "not-a-number"],
    ["1.2.3", "not-a-number"],
    ["0x10", "not-a-number"],
    ["0.001", "too-many-decimals"],
    ["99999999999999999999", "too-large"],
    ["10000000000000.01", "too-large"],
  ])("%s is refused: %s", (text, fault) =>
    expect(readAmount(text, "EUR")).toEqual({ ok: false, fault }),
  );

  test("any text is either read or refused, never thrown on", () =>
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), currency, (text, c) => void readAmount(text, c)),
    ));

  test("statements show parentheses and an en dash, ledgers a minus; scaling is half away from zero", () => {
    expect(amountText(-123456n, "EUR", { style: "statement" })).toBe("(1,234.56)");
    expect(amountText(0n, "EUR", { style: "statement" })).toBe("–");
    expect(amountText(-123456n, "EUR")).toBe("−1,234.56");
    expect(amountText(-50_000n, "EUR", { style: "statement", scale: 1000 })).toBe("(1)");
    expect(amountText(49_999n, "EUR", { style: "statement", scale: 1000 })).toBe("–");
    expect(amountText(1_234_567n, "JPY", { scale: 1000 })).toBe("1,235");
  });
});

describe("split (largest remainder method)", () => {
  test("parts add up to the whole, lie within a unit of their exact share, and carry its sign", () => {
    fc.assert(
      fc.property(
        amount,
        fc
          .array(fc.bigInt({ min: 0n, max: 10n ** 9n }), { minLength: 1, maxLength: 30 })
          .filter((w) => w.some((x) => x > 0n)),
        (total, weights) => {
          const parts = split(total, weights);
          const whole = weights.reduce((a, b) => a + b, 0n);
          expect(sum(parts)).toBe(total);
          parts.forEach((p, i) => {
            const exact = total * weights[i]!;
            const difference = p * whole - exact;
            expect((difference < 0n ? -difference : difference) < whole).toBe(true);
            if (weights[i] === 0n) expect(p).toBe(0n);
          });
        },
      ),
    );
  });
  test.each([
    [100n, [1n, 1n, 1n], [34n, 33n, 33n]],
    [-100n, [1n, 1n, 1n], [-34n, -33n, -33n]],
    [5n, [55n, 30n, 15n], [3n, 1n, 1n]],
    [1n, [1n, 2n], [0n, 1n]],
  ])("%s over %s is %s", (total, weights, expected) =>
    expect(split(minor(total), weights)).toEqual(expected),
  );
  test("no weights, negative ones, or all zero for an amount are faults of the caller", () => {
    for (const weights of [[], [-1n, 2n], [0n, 0n]])
      expect(() => split(minor(5n), weights)).toThrow(RangeError);
  });
  test("a proportion is the nearest unit, halves away from zero, the same on both sides of it, and nothing of nothing", () => {
    fc.assert(
      fc.property(
        amount,
        fc.bigInt({ min: 0n, max: 10n ** 9n }),
        fc.bigInt({ min: 1n, max: 10n ** 9n }),
        (total, part, whole) => {
          const p = proportion(total, part, whole);
          const off = 2n * (p * whole - total * part);
          expect(off < 0n ? -off <= whole : off <= whole).toBe(true);
          expect(proportion(-total, part, whole)).toBe(-p);
          // Of a debt, both are negative; of a part of the other side, one.
          expect(proportion(-total, -part, -whole)).toBe(-p);
          expect(proportion(total, part, -whole)).toBe(-p);
          expect(proportion(total, whole, whole)).toBe(total);
        },
      ),
    );
    expect([
      proportion(1n, 1n, 2n),
      proportion(-1n, 1n, 2n),
      proportion(-100n, 1n, 8n),
      proportion(5n, 0n, 0n),
    ]).toEqual([1n, -1n, -13n, 0n]);
  });
  // @ts-expect-error a plain bigint is no amount
  test("units are branded", () => void split(100n, [1n]));
});

describe("dates", () => {
  test.each([
    ["31 Oct 2026", "2026-10-31"],
    ["31.10.2026", "2026-10-31"],
    ["31/10/2026", "2026-10-31"],
    ["2026-10-31", "2026-10-31"],
    ["20261031", "2026-10-31"],
    ["5 Nov", "2026-11-05"],
    ["29 Feb 2024", "2024-02-29"],
    ["31 Feb 2026", null],
    ["29 Feb 2026", null],
    ["2026-13-01", null],
    ["soon", null],
    ["", null],
    ["1 Jan 1066", null],
  ])("%s is %s", (text, expected) => expect(readDate(text, "2026-11-05")).toBe(expected));
  test("only dates that exist are dates", () => {
    expect(isCalendarDate("2026-02-31")).toBe(false);
    fc.assert(
      fc.property(
        fc.date({
          min: new Date("1900-01-01T00:00:00Z"),
          max: new Date("2199-12-31T00:00:00Z"),
          noInvalidDate: true,
        }),
        (d) => {
          expect(isCalendarDate(d.toISOString().slice(0, 10))).toBe(true);
        },
      ),
    );
  });
});

test("sentences shorten what was typed and name the line", () => {
  expect(
    describeProblem({ code: "AMOUNT_NOT_NUMBER", text: "x".repeat(100_000) }).length,
  ).toBeLessThan(120);
});
