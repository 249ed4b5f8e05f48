import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import { convert, findRate, impliedRate, inverseRate, readRate, type Rate } from "./index";

const rates: Rate[] = [
  { kind: "spot", base: "EUR", quote: "GBP", date: "2026-10-01", rate: "0.8700" },
  { kind: "spot", base: "EUR", quote: "USD", date: "2026-10-01", rate: "1.1000" },
  { kind: "spot", base: "EUR", quote: "USD", date: "2026-10-15", rate: "1.1200" },
  { kind: "spot", base: "EUR", quote: "ISK", date: "2026-10-15", rate: "150" },
  { kind: "closing", base: "EUR", quote: "USD", date: "2026-10-31", rate: "1.1300" },
];

describe("findRate", () => {
  test.each([
    ["as listed", "EUR", "USD", "2026-10-15", "1.12", "spot EUR/USD"],
    [
      "the last earlier one, and says so",
      "EUR",
      "USD",
      "2026-10-14",
      "1.1",
      "spot EUR/USD, last known on 1 Oct 2026",
    ],
    ["inverse", "USD", "EUR", "2026-10-01", "0.909090909091", "spot inverse of EUR/USD"],
    [
      "across the third currency",
      "GBP",
      "USD",
      "2026-10-01",
      "1.26436781609",
      "spot across EUR: inverse of EUR/GBP × EUR/USD",
    ],
    [
      "across, as old as its older leg",
      "GBP",
      "ISK",
      "2026-10-20",
      "172.413793103",
      "spot across EUR: inverse of EUR/GBP × EUR/ISK, last known on 1 Oct 2026",
    ],
    ["the same currency", "EUR", "EUR", "2026-10-15", "1", "the same currency"],
  ])("%s", (_name, from, to, on, rate, how) =>
    expect(findRate(rates, "spot", from, to, on)).toMatchObject({ rate, how }),
  );
  test("is null before the first rate, in another kind, and where no way leads", () => {
    expect(findRate(rates, "spot", "EUR", "USD", "2026-09-30")).toBeNull();
    expect(findRate(rates, "average", "EUR", "USD", "2026-10-15")).toBeNull();
    expect(findRate(rates, "spot", "EUR", "JPY", "2026-10-15")).toBeNull();
  });
});

describe("convert", () => {
  // Exponents of ISO 4217: ISK and JPY have no minor unit, KWD has three.
  test.each([
    ["ISK without decimals to EUR", 10_000n, "ISK", "EUR", "0.0066", 6_600n],
    ["EUR to ISK drops the cents, half away from zero", 101n, "EUR", "ISK", "150", 152n],
    ["KWD with three decimals to EUR", 1_000n, "KWD", "EUR", "2.95", 295n],
    ["a negative amount rounds like a positive one", -101n, "EUR", "ISK", "150", -152n],
    ["half a cent goes up", 5n, "EUR", "USD", "1.1", 6n],
  ])("%s", (_name, amount, from, to, rate, expected) =>
    expect(convert(minor(amount), from, to, rate)).toBe(expected),
  );

  test("never strays by more than half a minor unit from the exact product, and is odd", () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 13n), max: 10n ** 13n }),
        fc.integer({ min: 1, max: 10 ** 9 }),
        fc.constantFrom("EUR", "ISK", "KWD"),
        fc.constantFrom("EUR", "ISK", "KWD"),
        (amount, millionths, from, to) => {
          const exponent = { EUR: 2, ISK: 0, KWD: 3 };
          const result = convert(minor(amount), from, to, (millionths / 1e6).toFixed(6));
          // result / 10^to = amount / 10^from × millionths / 10^6, within half a unit of 10^-to: in
          // integers.
          const exact = amount * BigInt(millionths) * 10n ** BigInt(exponent[to]);
          const scale = 10n ** BigInt(exponent[from] + 6);
          const off = result * scale - exact;
          expect((off < 0n ? -off : off) * 2n <= scale).toBe(true);
          expect(convert(minor(-amount), from, to, (millionths / 1e6).toFixed(6))).toBe(-result);
        },
      ),
    );
  });
});

test("a rate is read as it is typed, its inverse and the rate that amounts imply are computed", () => {
  expect(
    [
      "1.12",
      "0,87",
      "150",
      " 0.0066 ",
      "1e3",
      "-1",
      "0",
      "0.000",
      "",
      "1.1.1",
      "NaN",
      "1,2,3",
      "1,2.5",
    ].map(readRate),
  ).toEqual([
    "1.12",
    "0.87",
    "150",
    "0.0066",
    null,
    null,
    null,
    null,
    null,
    null,
    null,
    null,
    null,
  ]);
  expect(inverseRate("1.12")).toBe("0.892857142857");
  expect(impliedRate(minor(10_000n), "ISK", minor(6_613n), "EUR")).toBe("0.006613");
  expect(impliedRate(minor(0n), "ISK", minor(1n), "EUR")).toBeNull();
});
