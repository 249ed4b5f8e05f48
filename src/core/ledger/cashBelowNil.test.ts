import fc from "fast-check";
import { expect, test } from "vitest";
import { addDays, minor } from "../shared";
import { cashBelowNil } from "./cashBelowNil";

const day = (n: number, amount: bigint) => ({
  date: addDays("2026-11-01", n),
  amount: minor(amount),
});

test.each([
  ["what is not in it", 0n, [], [day(0, -1n)], { date: "2026-11-01", holds: -1n }],
  ["all of it", 5n, [], [day(0, -5n)], null],
  [
    "what was taken later already",
    5n,
    [day(3, -4n)],
    [day(1, -2n)],
    { date: "2026-11-04", holds: -1n },
  ],
  ["what comes in the same day", 0n, [day(1, 4n)], [day(1, -4n)], null],
  ["what comes in only later", 0n, [day(2, 4n)], [day(1, -4n)], { date: "2026-11-02", holds: -4n }],
  ["money into a box that is short", -9n, [], [day(1, 4n)], null],
])("a cash box: %s", (_name, before, there, added, found) => {
  expect(cashBelowNil(minor(before), there, added)).toEqual(found);
});

test("whatever is let through one after the other, no day ends below nil", () => {
  const moves = fc.array(fc.tuple(fc.nat(5), fc.bigInt(-30n, 30n)), { maxLength: 30 });
  fc.assert(
    fc.property(moves, (of) => {
      const kept: ReturnType<typeof day>[] = [];
      for (const [n, amount] of of)
        if (cashBelowNil(minor(0n), kept, [day(n, amount)]) === null) kept.push(day(n, amount));
      for (let n = 0; n <= 5; n++) {
        const until = addDays("2026-11-01", n);
        const held = kept.filter((k) => k.date <= until).reduce((t, k) => t + k.amount, 0n);
        expect(held).toBeGreaterThanOrEqual(0n);
      }
    }),
  );
});
