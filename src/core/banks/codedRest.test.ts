import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import type { ShareSet } from "../shares";
import type { TaxCode } from "../taxes";
import { codedRest, type CodingFacts } from "./codedRest";

const tax = (code: string, over: Partial<TaxCode> = {}): TaxCode => ({
  code,
  name: code,
  direction: "purchase",
  kind: "standard",
  account: "1410",
  owedAccount: "2410",
  recoverable: "100",
  returnLine: "66",
  category: "",
  reason: "",
  blocked: false,
  rates: [{ from: "2020-01-01", percent: "19" }],
  ...over,
});
const target = (over: Partial<ShareSet["targets"][number]>) => ({
  company: "",
  account: "",
  dimensions: {},
  weight: "",
  ...over,
});
const facts: CodingFacts = {
  company: "ALP",
  taxCodes: new Map(
    [
      tax("V19"),
      tax("HALF", { recoverable: "50" }),
      tax("RC", { kind: "reverse" }),
      tax("FREE", { kind: "none", rates: [{ from: "2020-01-01", percent: "0" }] }),
      tax("U19", { direction: "sale" }),
      tax("KEPT", { kind: "withheld" }),
    ].map((t) => [t.code, t]),
  ),
  shares: new Map(
    [
      {
        code: "THIRDS",
        name: "Thirds",
        way: "units" as const,
        targets: ["HARB", "YARD", "CAFE"].map((costCentre) =>
          target({ dimensions: { costCentre }, weight: "1" }),
        ),
      },
      {
        code: "BOTH",
        name: "Both",
        way: "per cent" as const,
        targets: [target({ weight: "60" }), target({ company: "BET", weight: "40" })],
      },
    ].map((s) => [s.code, s]),
  ),
};
const on = { booked: "2026-10-06", currency: "EUR" };
const coding = (over: object) => ({ account: "6310", dimensions: {}, text: "Fee", ...over });
const parts = (over: object, amount: bigint) => {
  const made = codedRest(coding(over), minor(amount), on, facts);
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
};
const shown = (over: object, amount: bigint) =>
  parts(over, amount).parts.map((p) => [p.account, p.amount]);

describe("what a coding makes of an amount of the bank", () => {
  test("the tax is in it, on what is bought and on what is sold, and taken back where money comes back", () => {
    expect(shown({ tax: "v19" }, -11_900n)).toEqual([
      ["6310", -10_000n],
      ["1410", -1_900n],
    ]);
    expect(shown({ tax: "V19" }, 11_900n)).toEqual([
      ["6310", 10_000n],
      ["1410", 1_900n],
    ]);
    expect(shown({ tax: "U19" }, 11_900n)).toEqual([
      ["6310", 10_000n],
      ["2410", 1_900n],
    ]);
    expect(parts({ tax: "V19" }, 11_900n).tax).toMatchObject({ base: -10_000n, tax: -1_900n });
    expect(parts({ tax: "U19" }, 11_900n).tax).toMatchObject({ base: 10_000n, tax: 1_900n });
  });

  test("what can't be recovered is cost, a reverse charge is owed besides, a free amount is recorded", () => {
    expect(shown({ tax: "HALF" }, -11_900n)).toEqual([
      ["6310", -10_950n],
      ["1410", -950n],
    ]);
    expect(shown({ tax: "RC" }, -10_000n)).toEqual([
      ["6310", -10_000n],
      ["1410", -1_900n],
      ["2410", 1_900n],
    ]);
    expect(parts({ tax: "FREE" }, -10_000n)).toMatchObject({
      parts: [{ account: "6310", amount: -10_000n, written: true }],
      tax: { base: 10_000n, tax: 0n },
    });
  });

  test("comes to the amount to the cent, whatever the tax and the shares, and the tax to its rate", () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 10n), max: 10n ** 10n }),
        fc.constantFrom("", "V19", "HALF", "RC", "FREE", "U19"),
        fc.constantFrom("", "thirds"),
        (amount, code, shares) => {
          const made = parts({ tax: code, shares }, amount);
          expect(made.parts.reduce((t, p) => t + p.amount, 0n)).toBe(amount);
          if (code === "V19" || code === "HALF" || code === "U19")
            expect(made.tax!.base + made.tax!.tax).toBe(code === "U19" ? amount : -amount);
          expect(new Set(made.parts.filter((p) => p.written).map((p) => p.account))).toEqual(
            new Set(["6310"]),
          );
        },
      ),
    );
  });

  test("refuses a tax there is not, one without a rate that day, one that is kept back, shares of another company", () => {
    const code = (over: object, booked = on.booked) => {
      const made = codedRest(coding(over), minor(-100n), { ...on, booked }, facts);
      return made.ok ? "" : made.problems.map((p) => `${p.code} ${p.field}`).join();
    };
    expect(code({ tax: "X" })).toBe("TAX_UNKNOWN tax");
    expect(code({ tax: "V19" }, "2019-12-31")).toBe("TAX_RATE_MISSING tax");
    expect(code({ tax: "KEPT" })).toBe("INVALID tax");
    expect(code({ shares: "X" })).toBe("NOT_FOUND shares");
    expect(code({ shares: "BOTH" })).toBe("INVALID shares");
  });
});
