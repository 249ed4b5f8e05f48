import { describe, expect, test } from "vitest";
import { standingIn, type SumInCurrency } from "./standing";

const sum = (currency: string, amount: bigint, functional: bigint): SumInCurrency => ({
  currency,
  amount,
  functional,
});
const HALF = { rate: "0.5" };

describe("what a bank account stands at, in its own currency", () => {
  test.each([
    ["nothing stands on it", "EUR", [], "same", 0n],
    [
      "in functional currency all counts at what it is carried at",
      "EUR",
      [sum("EUR", 100n, 100n), sum("USD", 500n, 40n)],
      "same",
      140n,
    ],
    [
      "in a currency of its own that counts as it is, whatever it is carried at",
      "USD",
      [sum("USD", 500n, 1n), sum("USD", -200n, -900n)],
      HALF,
      300n,
    ],
    [
      "what came in another currency counts at the rate of the day",
      "USD",
      [sum("USD", 500n, 400n), sum("EUR", 101n, 101n)],
      HALF,
      551n,
    ],
    ["without a rate it is not known", "USD", [sum("EUR", 1n, 1n)], null, null],
    [
      "without a rate it is known where none is needed",
      "USD",
      [sum("USD", 7n, 6n), sum("EUR", 0n, 0n)],
      null,
      7n,
    ],
  ] as const)("%s", (_rule, currency, sums, rate, expected) =>
    expect(standingIn(currency, "EUR", sums, rate)).toBe(expected),
  );
});
