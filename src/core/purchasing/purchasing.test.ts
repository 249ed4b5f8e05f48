import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { TaxCode } from "../taxes";
import { minor } from "../shared";
import {
  applyRules,
  orderInput,
  readDeliveries,
  readOrder,
  ruleProblems,
  type CleanUpRule,
  type Leftover,
  type OrderContext,
} from "./index";
import { valueOf } from "../trade";

const tax = (more: Partial<TaxCode> & { code: string }): TaxCode => ({
  direction: "purchase",
  name: more.code,
  kind: "standard",
  account: "1410",
  owedAccount: "",
  recoverable: "100",
  returnLine: "",
  category: "",
  reason: "",
  blocked: false,
  rates: [{ from: "2020-01-01", percent: "23" }],
  ...more,
});
const context: OrderContext = {
  functional: "EUR",
  today: "2026-11-05",
  supplier: { code: "S-1", name: "Tarn Rope", blocked: false },
  supplierNeeded: true,
  taxCodes: new Map(
    [tax({ code: "S" }), tax({ code: "HALF", recoverable: "50" })].map((t) => [t.code, t]),
  ),
  items: new Map([
    [
      "ROPE",
      {
        code: "ROPE",
        name: "Mooring rope",
        kind: "goods" as const,
        group: "deck",
        unit: "m",
        account: "6310",
        dimensions: { costCentre: "HARB" },
        taxCode: "S",
        price: "12.345",
        currency: "",
        blocked: false,
      },
    ],
  ]),
};
const read = (lines: object[], more: object = {}) =>
  readOrder(
    orderInput({ company: "HSF", supplier: "S-1", date: "2026-11-05", lines, ...more }),
    context,
  );

describe("readOrder", () => {
  test("an item proposes what was left empty; the price has more decimals than the money", () => {
    const r = read([
      { item: "rope", quantity: "7.5", wanted: "5 on 12 Nov, 2.5 on 3 Dec" },
      { account: "6430", description: "Fenders", quantity: "3", price: "33.33", taxCode: "half" },
    ]);
    expect(r.problems).toEqual([]);
    expect(r.lines.map((l) => [l.account, l.net, l.burden, l.unit])).toEqual([
      ["6310", 9259n, 0n, "m"],
      ["6430", 9999n, 1150n, ""],
    ]);
    expect(r.lines[0]!.deliveries).toEqual([
      { date: "2026-11-12", quantity: 5000n },
      { date: "2026-12-03", quantity: 2500n },
    ]);
    expect([r.net, r.tax]).toEqual([19_258n, 2130n + 2300n]);
  });
  test("what is missing or wrong is said at its place", () =>
    expect(
      read([{ item: "NIL", quantity: "0", price: "x", wanted: "2 on 3 Nov" }], {
        supplier: "",
        date: "31 Feb",
      }).problems.map((p) => `${p.line ?? ""}${p.field}:${p.code}`),
    ).toEqual(
      expect.arrayContaining([
        "date:DATE_INVALID",
        "1item:NOT_FOUND",
        "1quantity:QUANTITY_INVALID",
        "1price:INVALID",
        "1account:REQUIRED",
        "1taxCode:REQUIRED",
        "1wanted:INVALID",
      ]),
    ));
  test("parts of a delivery add up, or are refused", () =>
    expect([
      readDeliveries("5 on 12 Nov, 2 on 3 Dec", 8000n, "2026-11-05"),
      readDeliveries("12 Nov", 8000n, "2026-11-05"),
    ]).toEqual([null, [{ date: "2026-11-12", quantity: 8000n }]]));
  test("a value is the quantity times the price, rounded once, whatever the decimals", () => {
    fc.assert(
      fc.property(fc.bigInt(1n, 10n ** 7n), fc.bigInt(1n, 10n ** 9n), (quantity, micro) => {
        const price = `${micro / 1_000_000n}.${String(micro % 1_000_000n).padStart(6, "0")}`;
        const exact = quantity * micro; // 10^-9 of a unit
        expect(valueOf(quantity, price, 2)).toBe((exact * 2n + 10_000_000n) / 20_000_000n);
      }),
    );
  });
});

const left = (receiptLine: number, leftover: bigint, more: Partial<Leftover> = {}): Leftover => ({
  receiptLine,
  receipt: "G",
  receiptId: 1,
  date: "2026-01-01",
  age: 200,
  company: "HSF",
  supplier: "S-1",
  supplierName: "",
  order: "O",
  orderId: 1,
  orderOpen: false,
  kind: "goods",
  description: "",
  received: minor(10_000n),
  invoiced: minor(10_000n - leftover),
  leftover: minor(leftover),
  account: "6310",
  dimensions: {},
  ...more,
});
const rule = (
  place: number,
  name: string,
  conditions: [string, string, string][],
  more: Partial<CleanUpRule> = {},
): CleanUpRule => ({
  id: place,
  place,
  name,
  company: null,
  conditions: conditions.map(([part, by, value]) => ({
    part,
    by,
    value,
  })) as CleanUpRule["conditions"],
  action: "coding",
  account: "",
  dimensions: {},
  active: true,
  ...more,
});

describe("clean-up rules", () => {
  const small = rule(1, "small", [["amount", "at most", "5.00"]]);
  const old = rule(2, "old and closed", [
    ["age", "at least", "180"],
    ["order", "is", "closed"],
  ]);
  const percent = rule(3, "two per cent", [["percent", "at most", "2"]]);
  test("the first rule in order takes it, says why, and which others would have", () => {
    const taken = applyRules(
      [left(1, 100n), left(2, 900n), left(3, 900n, { age: 10 }), left(4, -150n, { age: 10 })],
      [percent, old, small],
      "EUR",
    );
    expect(taken.map((t) => [t.leftover.receiptLine, t.rule.name, t.why, t.also])).toEqual([
      [1, "small", "1.00 is at most 5.00", ["old and closed", "two per cent"]],
      [2, "old and closed", "200 days is at least 180, order is closed", []],
      [4, "small", "1.50 is at most 5.00", ["two per cent"]],
    ]);
  });
  test("a rule of another company or one that is put aside takes nothing", () =>
    expect(
      applyRules(
        [left(1, 100n)],
        [
          { ...small, company: "MBY" },
          { ...old, active: false },
        ],
        "EUR",
      ),
    ).toEqual([]));
  test.each([
    ["no days", [["age", "at least", "many"]], {}],
    ["no such supplier", [["supplier", "is", "S-9"]], {}],
    [
      "nothing can fit",
      [
        ["amount", "at least", "10"],
        ["amount", "at most", "5"],
      ],
      {},
    ],
    ["everything would go", [], {}],
    [
      "an account that is not there",
      [["age", "at least", "1"]],
      { action: "account", account: "9999" },
    ],
    ["compared in a wrong way", [["order", "at least", "open"]], {}],
  ] as [string, [string, string, string][], Partial<CleanUpRule>][])(
    "%s: the rule says so",
    (_what, conditions, more) =>
      expect(
        ruleProblems(rule(1, "x", conditions, more), {
          suppliers: new Set(["S-1"]),
          accounts: new Set(["6310"]),
          currency: "EUR",
        }),
      ).toHaveLength(1),
  );
});
