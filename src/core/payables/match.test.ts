import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import { matchLine, type OrderedLine, type ReceiptLot } from "./index";
import { splitByShares } from "../shares";

const m = minor;
const lot = (
  receiptLine: number,
  quantity: bigint,
  value: bigint,
  more: Partial<ReceiptLot> = {},
): ReceiptLot => ({
  receiptLine,
  receipt: `G-${receiptLine}`,
  quantityLeft: quantity * 1000n,
  foreignLeft: m(value),
  functionalLeft: m(value),
  cleaned: m(0n),
  cleanedTo: null,
  ...more,
});
const none = { percent: null, amount: null };
const ordered = (lots: ReceiptLot[], more: Partial<OrderedLine> = {}): OrderedLine => ({
  ref: "O-1/1",
  orderId: 1,
  orderLine: 1,
  supplier: "A",
  currency: "EUR",
  price: "10",
  exponent: 2,
  quantity: 10_000n,
  received: 10_000n,
  invoiced: 0n,
  account: "6310",
  dimensions: {},
  description: "",
  taxCode: "S",
  twoWay: false,
  closed: false,
  lots,
  priceTolerance: none,
  quantityTolerance: none,
  ...more,
});
const match = (line: OrderedLine, quantity: bigint, net: bigint, credit = false) =>
  matchLine(line, quantity * 1000n, m(net), m(net), credit);

describe("matchLine", () => {
  test("what fits clears receipts, oldest first, and leaves nothing over", () =>
    expect(match(ordered([lot(1, 4n, 4000n), lot(2, 6n, 6000n)]), 5n, 5000n)).toMatchObject({
      cleared: 5000n,
      direct: 0n,
      priceVariance: 0n,
      quantityVariance: 0n,
      holds: [],
      uses: [
        { receiptLine: 1, quantity: 4000n, functional: 4000n },
        { receiptLine: 2, quantity: 1000n, functional: 1000n },
      ],
    }));
  test("a higher price is a variance, and a hold beyond the tolerance; per cent and amount both have to fit", () => {
    const at = (percent: string | null, amount: bigint | null) =>
      match(ordered([lot(1, 10n, 10_000n)], { priceTolerance: { percent, amount } }), 10n, 10_400n);
    expect(at(null, null)).toMatchObject({
      cleared: 10_000n,
      priceVariance: 400n,
      holds: [
        "O-1/1: 10 are invoiced at 10.40, ordered at 10.00; that is 4.00 EUR more than ordered.",
      ],
    });
    expect([at("5", null), at("5", 400n), at(null, 400n)].map((x) => x.holds)).toEqual([
      [],
      [],
      [],
    ]);
    expect([at("3", null), at("5", 399n)].map((x) => x.holds.length)).toEqual([1, 1]);
  });
  test("more than received or ordered is a hold that says so; within the tolerance it is a variance of quantity", () => {
    expect(match(ordered([lot(1, 8n, 8000n)]), 9n, 9000n)).toMatchObject({
      quantityVariance: 1000n,
      holds: ["O-1/1: 9 are invoiced, 8 are received and not invoiced yet."],
    });
    expect(
      match(
        ordered([lot(1, 8n, 8000n)], { quantityTolerance: { percent: "10", amount: null } }),
        9n,
        9000n,
      ),
    ).toMatchObject({ quantityVariance: 1000n, holds: [] });
    expect(match(ordered([lot(1, 2n, 2000n)], { invoiced: 9_000n }), 2n, 2000n).holds).toEqual([
      "O-1/1: 11 are invoiced of 10 ordered.",
    ]);
  });
  test("a service is compared with the order alone", () =>
    expect(match(ordered([], { twoWay: true }), 10n, 10_000n)).toMatchObject({
      direct: 10_000n,
      cleared: 0n,
      holds: [],
    }));
  test("what was written off stands again in proportion to what is billed of it", () =>
    expect(
      match(
        ordered([
          lot(1, 3n, 3000n, { cleaned: m(3000n), cleanedTo: { account: "6310", dimensions: {} } }),
        ]),
        1n,
        1000n,
      ).uses[0],
    ).toMatchObject({ functional: 1000n, reopened: 1000n }));
  test("a credit note settles returns", () =>
    expect(match(ordered([lot(1, -2n, -2000n)]), 2n, 2000n, true)).toMatchObject({
      cleared: 2000n,
      direct: 0n,
      uses: [{ quantity: 2000n }],
    }));

  test("in any sequence of bills nothing is lost: the parts are the cost, and a lot billed in full has no rest in either currency", () => {
    const value = fc.bigInt(1n, 10n ** 7n);
    fc.assert(
      fc.property(
        fc.array(fc.record({ q: fc.bigInt(1n, 50n), v: value, f: value }), {
          minLength: 1,
          maxLength: 4,
        }),
        fc.array(fc.record({ q: fc.bigInt(1n, 40n), net: value }), { minLength: 1, maxLength: 8 }),
        (lots, bills) => {
          let left = lots.map((l, i) => lot(i, l.q, l.v, { functionalLeft: m(l.f) }));
          for (const b of bills) {
            const r = match(ordered(left), b.q, b.net);
            expect(r.cleared + r.direct + r.priceVariance + r.quantityVariance).toBe(b.net);
            left = left.map((l) =>
              r.uses
                .filter((u) => u.receiptLine === l.receiptLine)
                .reduce(
                  (x, u) => ({
                    ...x,
                    quantityLeft: x.quantityLeft - u.quantity,
                    foreignLeft: m(x.foreignLeft - u.foreign),
                    functionalLeft: m(x.functionalLeft - u.functional),
                  }),
                  l,
                ),
            );
            for (const l of left)
              expect(
                l.quantityLeft >= 0n &&
                  l.foreignLeft >= 0n &&
                  l.functionalLeft >= 0n &&
                  (l.quantityLeft > 0n || (l.foreignLeft === 0n && l.functionalLeft === 0n)),
              ).toBe(true);
          }
        },
      ),
    );
  });
});

describe("splitByShares", () => {
  const set = (way: "per cent" | "fixed amounts" | "units", ...weights: string[]) => ({
    name: "Premium",
    way,
    targets: weights.map((weight, i) => ({
      company: "",
      account: "",
      dimensions: { costCentre: `C${i}` },
      weight,
    })),
  });
  const parts = (s: ReturnType<typeof set>, cost: bigint) => {
    const r = splitByShares(s, m(cost));
    return r.ok ? r.value.map((p) => p.amount) : r.problems.map((p) => p.code);
  };
  test.each([
    ["55/30/15 of 100.01", set("per cent", "55", "30", "15"), 10_001n, [5501n, 3000n, 1500n]],
    ["thirds by units", set("units", "1", "1", "1"), 100n, [34n, 33n, 33n]],
    ["fixed, and what is left", set("fixed amounts", "10", "", "5.5"), 2000n, [1000n, 450n, 550n]],
    ["not 100 per cent", set("per cent", "50", "49"), 100n, ["INVALID"]],
    ["fixed beyond the cost", set("fixed amounts", "30", ""), 2000n, ["INVALID"]],
    ["fixed with a rest that nobody takes", set("fixed amounts", "10"), 2000n, ["INVALID"]],
    ["a credit note", set("per cent", "50", "50"), -101n, [-51n, -50n]],
  ])("%s", (_what, s, cost, expected) => expect(parts(s, cost)).toEqual(expected));
  test("the parts are always the whole", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 100_000 }), { minLength: 1, maxLength: 30 }),
        fc.bigInt(-(10n ** 12n), 10n ** 12n),
        (units, cost) => {
          fc.pre(units.some((u) => u > 0));
          expect(
            (parts(set("units", ...units.map(String)), cost) as bigint[]).reduce(
              (a, b) => a + b,
              0n,
            ),
          ).toBe(cost);
        },
      ),
    );
  });
});
