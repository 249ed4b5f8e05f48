import fc from "fast-check";
import { expect, test } from "vitest";
import { compute } from "./index";

test.each([
  ["1250*0.6", "750.00"],
  ["1,250 × 60%", "750.00"],
  ["100/3", "33.33"],
  ["-(2+3)*4", "-20.00"],
  ["10-4-3", "3.00"],
  ["2+3*4", "14.00"],
  ["0.005", "0.01"],
  ["-0.005", "-0.01"],
  ["1000*19%", "190.00"],
  ["", null],
  ["1/0", null],
  ["2+", null],
  ["(1", null],
  ["1)", null],
  ["alert(1)", null],
  ["1e3", null],
  ["1..2", null],
])("=%s is %s", (text, expected) => expect(compute(text, 2)).toBe(expected));

test("sums of cents come out exactly, and any text gives a number or nothing", () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -999_999, max: 999_999 }), { minLength: 1, maxLength: 12 }),
      (cents) => {
        const text = cents
          .map((c) => `${c < 0 ? "-" : "+"}${(Math.abs(c) / 100).toFixed(2)}`)
          .join("");
        expect(compute(text, 2)).toBe(
          (cents.reduce((a, b) => a + b, 0) / 100).toFixed(2).replace("-0.00", "0.00"),
        );
      },
    ),
  );
  fc.assert(
    fc.property(
      fc.string({ maxLength: 60 }),
      (text) => void expect(compute(text, 2) ?? "0.00").toMatch(/^-?\d+\.\d\d$/),
    ),
  );
});

test.each(["100*1,2", "1,2,3+1", "1 2", "12,34*2", "1.2.3"])("=%s is no arithmetic", (text) =>
  expect(compute(text, 2)).toBeNull(),
);
