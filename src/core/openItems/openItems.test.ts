import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, minor } from "../shared";
import {
  age,
  bucketNames,
  bucketOf,
  dueAhead,
  dueDatesOf,
  instalmentsOf,
  instalmentsText,
  lateness,
  latenessByQuarter,
  readTermsText,
  settle,
  settledUnpaid,
  termsSchema,
  type ItemLeft,
} from "./index";

const item = (
  id: number,
  left: bigint,
  leftFunctional: bigint = left,
  more: Partial<ItemLeft> = {},
): ItemLeft => ({
  id,
  account: "2140",
  partner: "S-1",
  currency: "USD",
  left: minor(left),
  leftFunctional: minor(leftFunctional),
  ...more,
});
const codes = (r: { ok: boolean; problems?: readonly { code: string }[] }) =>
  r.ok ? [] : r.problems!.map((p) => p.code);
const terms = (value: object) => termsSchema.validateSync(value);

test("of a part only that part of the discount is agreed: the rest is settled without money", () => {
  const owed = {
    amount: minor(1_000n),
    left: minor(1_000n),
    credited: minor(0n),
    discounts: [{ until: "2026-10-10", percent: "2", amount: minor(20n) }],
  };
  const unpaid = (money: bigint, amount: bigint, discount: bigint) =>
    settledUnpaid(minor(money), "2026-10-06", [
      { item: owed, amount: minor(amount), discount: minor(discount) },
    ]);
  expect(unpaid(980n, 1_000n, 20n)).toBe(0n);
  expect(unpaid(490n, 500n, 10n)).toBe(0n);
  expect(unpaid(480n, 500n, 20n)).toBe(10n);
});

describe("settle", () => {
  test("the difference between the rates of invoice and payment is a realised exchange loss (IAS 21.28, worked example)", () => {
    // 1,000 USD invoiced at 0.90, paid at 0.92.
    const r = settle(item(1, -100_000n, -90_000n), item(2, 100_000n, 92_000n));
    expect(r).toMatchObject({
      ok: true,
      value: {
        lines: [
          { item: 1, amount: -100_000n, functional: -90_000n },
          { item: 2, amount: 100_000n, functional: 92_000n },
        ],
        difference: 2_000n,
      },
    });
  });
  test.each([
    [
      "of another partner",
      item(1, -10n),
      item(2, 10n, 10n, { partner: "S-2" }),
      undefined,
      ["ITEM_OTHER_PARTNER"],
    ],
    [
      "of another currency",
      item(1, -10n),
      item(2, 10n, 10n, { currency: "EUR" }),
      undefined,
      ["ITEM_OTHER_CURRENCY"],
    ],
    ["on the same side", item(1, -10n), item(2, -10n), undefined, ["ITEM_SAME_SIDE"]],
    ["with nothing left", item(1, 0n), item(2, -10n), undefined, ["ITEM_SAME_SIDE"]],
    ["beyond what is left", item(1, -10n), item(2, 30n), 11n, ["ITEM_OVERALLOCATED"]],
  ])("an item %s is refused", (_what, a, b, amount, expected) =>
    expect(codes(settle(a, b, amount === undefined ? undefined : minor(amount)))).toEqual(expected),
  );

  test("in any number of parts nothing is lost: what is left and what was taken is the whole, and an item used up has no functional rest", () => {
    fc.assert(
      fc.property(
        fc.bigInt(1n, 10n ** 9n),
        fc.bigInt(1n, 10n ** 9n),
        fc.array(fc.bigInt(1n, 10n ** 9n), { maxLength: 8 }),
        (whole, functional, payments) => {
          let open = item(1, -whole, -functional);
          let taken = 0n;
          let carried = 0n;
          for (const [i, amount] of payments.entries()) {
            if (open.left === 0n) break;
            const r = settle(open, item(i + 2, amount, amount));
            if (!r.ok) throw new Error("refused");
            const [own, other] = [r.value.lines[0]!, r.value.lines[1]!];
            expect(own.amount + other.amount).toBe(0n);
            taken += own.amount;
            carried += own.functional;
            open = {
              ...open,
              left: minor(open.left - own.amount),
              leftFunctional: minor(open.leftFunctional - own.functional),
            };
            expect(open.left <= 0n && open.leftFunctional <= 0n).toBe(true);
          }
          expect([open.left + taken, open.leftFunctional + carried]).toEqual([-whole, -functional]);
          if (open.left === 0n) expect(open.leftFunctional).toBe(0n);
        },
      ),
    );
  });
});

describe("instalmentsOf", () => {
  test.each([
    ["net 30 days", { instalments: [{ percent: "100", days: 30 }] }, [["2026-03-02", 10_000n]]],
    [
      "the end of the month after next, plus ten days",
      { instalments: [{ percent: "100", days: 10, endOfMonth: true, months: 2 }] },
      [["2026-04-10", 10_000n]],
    ],
    [
      "thirds add up to the whole",
      {
        instalments: [
          { percent: "33.33", days: 0 },
          { percent: "33.33", days: 30 },
          { percent: "33.34", days: 60 },
        ],
      },
      [
        ["2026-01-31", 3333n],
        ["2026-03-02", 3333n],
        ["2026-04-01", 3334n],
      ],
    ],
  ])("%s", (_rule, given, expected) =>
    expect(
      instalmentsOf(terms(given), "2026-01-31", minor(10_000n)).map((i) => [i.due, i.amount]),
    ).toEqual(expected),
  );
  test("2 % within 10 days of what may be discounted (2/10 net 30)", () => {
    const [one] = instalmentsOf(
      terms({
        instalments: [{ percent: "100", days: 30 }],
        discounts: [{ percent: "2", days: 10 }],
      }),
      "2026-01-05",
      minor(119_000n),
      { discountable: minor(100_000n) },
    );
    expect(one).toEqual({
      due: "2026-02-04",
      amount: 119_000n,
      discounts: [{ until: "2026-01-15", percent: "2", amount: 2_000n }],
    });
  });
  test.each([
    ["30 days, then the end of the month", "100 % 30 days, then end of month", "2026-03-31"],
    ["the 15th on or after", "100 % 14 days, on day 15", "2026-02-15"],
    ["the 10th, already past: of the next month", "100 % 0 days, on day 10", "2026-02-10"],
    ["the 30th of a month without one", "100 % 1 days, on day 30", "2026-02-28"],
    ["10 days from the end of the month", "100 % 10 days from end of month", "2026-02-10"],
    ["on delivery", "100 % on delivery", "2026-02-20"],
    ["a retention", "100 % 0 days from delivery, 12 months on", "2027-02-20"],
    ["2 months on, from its end", "100 % 0 days from end of month, 2 months on", "2026-03-31"],
  ])("%s", (_rule, text, due) => {
    const { by, parts } = readTermsText(text);
    const given = terms({ by, instalments: parts });
    const [one] = instalmentsOf(given, "2026-01-31", minor(100n), { delivered: "2026-02-20" });
    expect(one!.due).toBe(due);
    expect(readTermsText(instalmentsText(given))).toEqual({ by, parts });
  });
  test("equal parts, the first spare cent to the earlier", () => {
    const { by, parts } = readTermsText("1 part 0 days; 1 part 30 days; 1 part 60 days");
    expect(
      instalmentsOf(terms({ by, instalments: parts }), "2026-01-01", minor(10_000n)).map(
        (i) => i.amount,
      ),
    ).toEqual([3334n, 3333n, 3333n]);
  });
  test("a due date on the paper leaves the discount; days of a discount from the end of the month", () =>
    expect(
      instalmentsOf(
        terms({
          instalments: [{ percent: "100", days: 30 }],
          discounts: [{ percent: "2", days: 5, endOfMonth: true }],
        }),
        "2026-01-05",
        minor(10_000n),
        { due: "2026-03-31" },
      ),
    ).toEqual([
      {
        due: "2026-03-31",
        amount: 10_000n,
        discounts: [{ until: "2026-02-05", percent: "2", amount: 200n }],
      },
    ]));
  test("instalments that are not the whole are refused", () =>
    expect(() => terms({ instalments: [{ percent: "50", days: 0 }] })).toThrow("100 per cent"));
});

describe("age", () => {
  test("due on the day is not overdue; the first day after is", () => {
    const items = [
      ["2026-11-05", 1n],
      ["2026-11-04", 10n],
      ["2026-10-06", 100n],
      ["2026-10-05", 1000n],
      ["2026-08-06", 10_000n],
    ].map(([due, left]) => ({ due: due as string, left: minor(left as bigint) }));
    expect(age(items, "2026-11-05")).toEqual([1n, 110n, 1000n, 0n, 10_000n]);
    expect(bucketNames([30, 60, 90])).toEqual([
      "not due",
      "1 to 30",
      "31 to 60",
      "61 to 90",
      "over 90",
    ]);
    expect(bucketNames([30], "document")).toEqual(["that day", "1 to 30", "over 30"]);
  });
});

describe("when items fall due, and how late they are settled", () => {
  const days = fc.integer({ min: -400, max: 400 });
  const on = "2026-03-01";

  test("the due dates of a bucket are those that fall into it, for any buckets and day", () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1, max: 365 }), { minLength: 1, maxLength: 6 }),
        days,
        (last, offset) => {
          const buckets = last.sort((a, b) => a - b);
          const due = addDays(on, offset);
          const own = bucketOf(due, on, buckets);
          const inside = bucketNames(buckets).map((_, bucket) => {
            const { from, to } = dueDatesOf(bucket, on, buckets);
            return (from === null || due >= from) && (to === null || due <= to);
          });
          expect(inside.map((found, i) => (found ? i : -1)).filter((i) => i >= 0)).toEqual([own]);
        },
      ),
    );
  });

  test("what is due is told apart by days ahead, and adds up", () => {
    const at = (offset: number, left: bigint) => ({ due: addDays(on, offset), left: minor(left) });
    expect(
      dueAhead([at(-1, 1n), at(0, 10n), at(7, 100n), at(8, 1_000n), at(30, -7n), at(31, 5n)], on),
    ).toEqual([1n, 110n, 1_000n, -7n, 5n]);
  });

  test("quarters are those of the calendar, at the turn of the year too, and know no later ones", () => {
    const paid = (due: string, on: string) => ({ due, on, amount: minor(100n) });
    const parts = [
      paid("2026-01-10", "2026-01-10"),
      paid("2025-12-20", "2025-12-31"),
      paid("2025-12-20", "2026-01-01"),
      paid("2026-02-01", "2026-03-05"),
    ];
    expect(latenessByQuarter(parts, "2026-02-15", 3)).toEqual([
      { quarter: "2025-Q3", days: null },
      { quarter: "2025-Q4", days: 11 },
      { quarter: "2026-Q1", days: 6 },
    ]);
  });

  test("lateness is the mean of days weighted by amount, half away from zero", () => {
    const part = (late: number, amount: bigint) => ({
      due: on,
      on: addDays(on, late),
      amount: minor(amount),
    });
    expect(lateness([])).toBeNull();
    expect(lateness([part(10, -300n), part(-2, -100n)])).toEqual({ days: 7, latePercent: 75 });
    expect(lateness([part(1, 100n), part(0, 100n)])).toEqual({ days: 1, latePercent: 50 });
    expect(lateness([part(-1, 100n), part(0, 100n)])).toEqual({ days: -1, latePercent: 0 });
    expect(lateness([part(0, 5n)])).toEqual({ days: 0, latePercent: 0 });
  });
});

describe("what is settled without money", () => {
  const due = (amount: bigint, discount: bigint) => ({
    amount: minor(amount),
    left: minor(amount),
    credited: minor(0n),
    discounts: [{ until: "2026-10-10", percent: "2", amount: minor(discount) }],
  });
  const of = (sign: bigint, money: bigint, amount: bigint, discount: bigint, day: string) =>
    settledUnpaid(minor(sign * money), day, [
      {
        item: due(sign * 100_000n, 2_000n),
        amount: minor(sign * amount),
        discount: minor(sign * discount),
      },
    ]);

  test.each([1n, -1n])("is what no money and no agreed discount covers, signs as %s", (sign) => {
    expect(of(sign, 98_000n, 100_000n, 2_000n, "2026-10-10")).toBe(0n);
    // A day late the discount is no longer agreed.
    expect(of(sign, 98_000n, 100_000n, 2_000n, "2026-10-11")).toBe(2_000n);
    expect(of(sign, 99_500n, 100_000n, 0n, "2026-10-11")).toBe(500n);
    expect(of(sign, 97_000n, 100_000n, 2_000n, "2026-10-10")).toBe(1_000n);
    expect(of(sign, 96_000n, 100_000n, 3_000n, "2026-10-10")).toBe(2_000n);
    // More money than is taken leaves nothing unpaid, and does not hide a discount either.
    expect(of(sign, 120_000n, 100_000n, 0n, "2026-10-11")).toBe(0n);
    expect(of(sign, 120_000n, 100_000n, 500n, "2026-10-11")).toBe(500n);
  });
});
