import fc from "fast-check";
import { expect, test } from "vitest";
import { tidy } from "./index";

test("what comes from outside keeps its shape and loses only what no field can hold", () => {
  expect(
    tidy({ a: "x\u0000y\u0007\tz\n", b: ["\ud800!", "⛵", 1n, null], "\u0001c": true }),
  ).toEqual({ a: "xy\tz\n", b: ["\ufffd!", "⛵", 1n, null], "\u0001c": true });
  const attack = JSON.parse(
    '{"company":"HSF","__proto__":{"admin":true},"constructor":{"x":1}}',
  ) as object;
  expect(Object.keys(tidy(attack) as object)).toEqual(["company"]);
  const date = new Date();
  expect(tidy({ date })).toEqual({ date });
});

test("tidying twice is tidying once, and plain text stays as it is", () => {
  fc.assert(
    fc.property(fc.jsonValue(), (value) => void expect(tidy(tidy(value))).toEqual(tidy(value))),
  );
  fc.assert(
    fc.property(
      fc.string({ unit: "grapheme-ascii" }),
      (text) => void expect(tidy(text)).toBe(text),
    ),
  );
});
