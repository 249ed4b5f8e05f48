import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import { lineJournal, type LineItem, type LineToPost } from "./lineJournal";

const to = {
  company: "HSF",
  functional: "EUR",
  underWay: "1110",
  discount: "8570",
  exchangeGain: "8540",
  exchangeLoss: "8550",
};
const item = (id: number, left: bigint, functional: bigint): LineItem => ({
  id,
  account: "1310",
  control: "receivables",
  partner: "C-1",
  reference: `R-${id}`,
  left: minor(left),
  leftFunctional: minor(functional),
});
const line = (over: Omit<Partial<LineToPost>, "amount"> & { amount: bigint }): LineToPost => ({
  booked: "2026-12-31",
  currency: "EUR",
  rate: "same",
  payee: "Sable Tours",
  text: "R-1",
  takes: [],
  rest: minor(0n),
  restTo: null,
  ...over,
  amount: minor(over.amount),
});
const signed = (of: ReturnType<typeof lineJournal>, pick: "amount" | "foreignAmount") =>
  of.draft.lines.map((l) => (l.side === "debit" ? 1n : -1n) * (l[pick] ?? 0n));
const sum = (of: readonly bigint[]) => of.reduce((t, a) => t + a, 0n);

describe("the journal of a bank's line", () => {
  test("balances in both currencies and moves the bank by the line, whatever is taken at whatever rate, in or out", () => {
    const cents = fc.bigInt({ min: 1n, max: 10n ** 9n });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(cents, cents, fc.integer({ min: 1, max: 100 })), {
          minLength: 1,
          maxLength: 4,
        }),
        fc.bigInt({ min: -(10n ** 6n), max: 10n ** 6n }),
        fc.boolean(),
        fc.constantFrom("0.8123", "1.37", "0.006145"),
        fc.constantFrom("USD", "JPY", "KWD", "EUR"),
        (of, rest, isIn, rate, currency) => {
          const sign = isIn ? 1n : -1n;
          const takes = of.map(([left, functional, percent], i) => {
            const amount = (left * BigInt(percent) + 99n) / 100n;
            return {
              item: item(i + 1, sign * left, sign * functional),
              amount: minor(sign * amount),
              discount: minor(isIn && amount > 50n ? amount / 50n : 0n),
            };
          });
          const taken = sum(takes.map((t) => t.amount - t.discount));
          fc.pre(taken + rest !== 0n && taken + rest > 0n === isIn);
          const isOwn = currency === "EUR";
          const made = lineJournal(
            line({
              amount: taken + rest,
              currency,
              rate: isOwn ? "same" : { rate },
              takes,
              rest: minor(rest),
              restTo: { coding: { account: "7450", dimensions: {}, text: "" } },
            }),
            to,
          );
          expect(sum(signed(made, "amount"))).toBe(0n);
          const inCurrency = signed(made, isOwn ? "amount" : "foreignAmount");
          expect(sum(inCurrency)).toBe(0n);
          const bank = made.draft.lines.findIndex((l) => l.account === "1110");
          expect(inCurrency[bank]).toBe(taken + rest);
          expect(made.draft.lines[bank]!.item).toBeUndefined();
          expect(made.settles.map((s) => s.taken)).toEqual(takes.map((t) => t.amount));
        },
      ),
    );
  });

  test("of two currencies the difference between the item's rate and the day's is realised (IAS 21.28)", () => {
    const made = lineJournal(
      line({
        amount: 10_000n,
        currency: "USD",
        rate: { rate: "0.9" },
        takes: [{ item: item(1, 10_000n, 8_000n), amount: minor(10_000n), discount: minor(0n) }],
      }),
      to,
    );
    expect(made.draft.lines.map((l) => [l.account, l.side, l.amount])).toEqual([
      ["1310", "credit", 8_000n],
      ["1110", "debit", 9_000n],
      ["8540", "credit", 1_000n],
    ]);
  });

  test("parts of what is left, in another currency, leave no difference of rounding", () => {
    fc.assert(
      fc.property(
        fc.array(fc.bigInt({ min: -(10n ** 6n), max: 10n ** 6n }), { minLength: 2, maxLength: 6 }),
        fc.constantFrom("0.8123", "1.37", "0.006145"),
        (amounts, rate) => {
          const whole = sum(amounts);
          fc.pre(whole !== 0n);
          const parts = amounts.map((amount) => ({
            account: "7450",
            dimensions: {},
            text: "",
            amount: minor(amount),
          }));
          const made = lineJournal(
            line({
              amount: whole,
              currency: "USD",
              rate: { rate },
              rest: minor(whole),
              restTo: { parts },
            }),
            to,
          );
          expect(new Set(made.draft.lines.map((l) => l.account))).toEqual(
            new Set(["1110", ...(amounts.some((a) => a !== 0n) ? ["7450"] : [])]),
          );
          expect(sum(signed(made, "amount"))).toBe(0n);
        },
      ),
    );
  });

  test("parts that are not the line, and a rest without a place, are refused", () => {
    expect(() => lineJournal(line({ amount: 5n }), to)).toThrow(RangeError);
    expect(() => lineJournal(line({ amount: 5n, rest: minor(5n) }), to)).toThrow(RangeError);
  });

  test("a third of a debt in the company's own currency is carried at itself: no cent is a difference of exchange", () => {
    const owed = { ...item(1, -300n, -300n), account: "2110", control: "payables" as const };
    const part = { item: owed, amount: minor(-100n), discount: minor(0n) };
    const { draft } = lineJournal(line({ amount: -100n, takes: [part] }), to);
    expect(draft.lines.map((l) => [l.account, l.side, l.amount])).toEqual([
      ["2110", "debit", 100n],
      ["1110", "credit", 100n],
    ]);
  });
});
