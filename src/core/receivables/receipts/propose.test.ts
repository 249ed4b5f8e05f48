import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../../shared";
import { proposeApplication, type ItemToPay } from "./propose";
import { readReceiptTakes } from "./readTakes";
import { appliedTotals, appliedTo, writtenTakes, writtenWhole } from "./written";

const item = (id: number, left: bigint, more: Partial<ItemToPay> = {}): ItemToPay => ({
  id,
  partner: "TOUR",
  numbers: [`ALP-26-R0010${id}`],
  due: `2026-0${id}-10`,
  left: minor(left),
  currency: "EUR",
  discount: minor(0n),
  disputed: minor(0n),
  ...more,
});
const propose = (amount: bigint, items: ItemToPay[], text = "", small = 0n) => {
  const made = proposeApplication(
    { amount: minor(amount), date: "2026-10-06", text },
    items,
    minor(small),
  );
  return {
    by: made.by,
    rest: made.rest,
    takes: made.takes.map((t) => [t.item, t.amount, t.discount, t.small]),
  };
};

describe("what a payer's money is proposed for", () => {
  test("what it names, with the credit note that the payer deducts", () => {
    const items = [item(1, 500n), item(2, 300n), item(3, -100n)];
    expect(propose(200n, items, "ALP-26-R00102 less ALP 26 R00103")).toEqual({
      by: "numbers",
      rest: 0n,
      takes: [
        [2, 300n, 0n, 0n],
        [3, -100n, 0n, 0n],
      ],
    });
  });
  test("what it names in part, as far as it goes", () => {
    expect(propose(120n, [item(1, 500n), item(2, 300n)], "R00102").takes).toEqual([
      [2, 120n, 0n, 0n],
    ]);
  });
  test("else the item of the very amount, with its discount or without", () => {
    const items = [item(1, 500n), item(2, 300n, { discount: minor(6n) })];
    expect(propose(300n, items)).toMatchObject({ by: "amount", takes: [[2, 300n, 0n, 0n]] });
    expect(propose(294n, items)).toMatchObject({
      by: "amount less discount",
      takes: [[2, 300n, 6n, 0n]],
    });
  });
  test("else those that come to it together, with their discounts or without", () => {
    const items = [1, 2, 3].map((n) => item(n, 100n * BigInt(n), { discount: minor(BigInt(n)) }));
    expect(propose(400n, items)).toMatchObject({ by: "sum", rest: 0n });
    expect(propose(495n, items)).toMatchObject({
      by: "sum",
      takes: [
        [3, 300n, 3n, 0n],
        [2, 200n, 2n, 0n],
      ],
    });
  });
  test("else the oldest first, what is in dispute last, and too much stays on account", () => {
    const items = [item(1, 500n, { disputed: minor(500n) }), item(2, 300n)];
    expect(propose(450n, items)).toEqual({
      by: "oldest first",
      rest: 0n,
      takes: [
        [2, 300n, 0n, 0n],
        [1, 150n, 0n, 0n],
      ],
    });
    expect(propose(1_000n, items).rest).toBe(200n);
    expect(propose(7n, [])).toEqual({ by: "nothing is open", rest: 7n, takes: [] });
  });
  test("a little that is missing is let go only where it is small, and only one item nearly fits", () => {
    const items = [item(1, 500n), item(2, 300n)];
    expect(propose(298n, items, "", 2n).takes).toEqual([[2, 300n, 0n, 2n]]);
    expect(propose(298n, items, "", 1n).by).toBe("oldest first");
    expect(propose(298n, [...items, item(3, 299n)], "", 2n).by).toBe("oldest first");
  });
  test("whatever is open: takes and rest are the money, and no item gives more than is left of it", () => {
    const cents = fc.bigInt(1n, 10_000n);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(cents, fc.boolean(), fc.bigInt(0n, 5n), fc.boolean()), { maxLength: 8 }),
        cents,
        fc.bigInt(0n, 50n),
        fc.constantFrom("", "R00101 R00103", "R00102"),
        (of, amount, small, text) => {
          const items = of.map(([left, credit, percent, disputed], i) =>
            item(i + 1, credit ? -left : left, {
              discount: minor(credit ? 0n : (left * percent) / 100n),
              disputed: minor(disputed && !credit ? left : 0n),
            }),
          );
          const made = proposeApplication(
            { amount: minor(amount), date: "2026-10-06", text },
            items,
            minor(small),
          );
          const paid = made.takes.reduce((t, x) => t + x.amount - x.discount - x.small, 0n);
          expect(paid + made.rest).toBe(amount);
          expect(made.rest).toBeGreaterThanOrEqual(0n);
          for (const t of made.takes) {
            const { left } = items.find((i) => i.id === t.item)!;
            const [taken, most] = left < 0n ? [-t.amount, -left] : [t.amount, left];
            expect(taken > 0n && taken <= most).toBe(true);
            expect(t.discount + t.small < taken || t.discount + t.small === 0n).toBe(true);
            expect(t.small).toBeLessThanOrEqual(small);
          }
          expect(new Set(made.takes.map((t) => t.item)).size).toBe(made.takes.length);
        },
      ),
      { numRuns: 500 },
    );
  });

  test("what is proposed, written out and read again is what was proposed, and its totals are the money", () => {
    const items = [
      item(1, 500n, { discount: minor(10n) }),
      item(2, 300n, { discount: minor(6n) }),
      item(3, -100n),
    ];
    const byId = new Map(items.map((i) => [i.id, { ...i, reference: `R${i.id}` }]));
    for (const [amount, text, small] of [
      [684n, "R00101 R00102 R00103", 0n],
      [698n, "R00101 R00102 R00103", 5n],
      [120n, "R00102", 0n],
      [784n, "", 0n],
    ] as const) {
      const money = { amount: minor(amount), date: "2026-10-06", text };
      const made = proposeApplication(money, items, minor(small));
      const takes = writtenTakes(made, "EUR");
      const written = Object.entries(takes).map(([id, t]) => ({ ...t, item: Number(id) }));
      const read = readReceiptTakes(written, byId);
      expect(read.problems).toEqual([]);
      const byItem = <T extends { item: number }>(of: readonly T[]) =>
        of.toSorted((a, b) => a.item - b.item);
      expect(byItem(read.takes).map((t) => [t.item, t.amount, t.discount, t.writtenOff])).toEqual(
        byItem(made.takes).map((t) => [t.item, t.amount, t.discount, t.small]),
      );
      expect(appliedTotals(items, takes, "EUR").applied + made.rest).toBe(amount);
    }
  });
  test("a whole item has its discount where it is in time; what is half typed counts as nothing", () => {
    const owed = { id: 1, left: minor(500n), discount: minor(10n), late: false };
    expect(writtenWhole(owed, "EUR")).toMatchObject({ pays: "4.90", discount: "0.10" });
    expect(writtenWhole({ ...owed, late: true }, "EUR")).toMatchObject({
      pays: "5.00",
      discount: "",
    });
    expect(appliedTo(owed, { pays: "1.", discount: "x" }, "EUR")).toMatchObject({ discount: 0n });
    expect(appliedTo(owed, { pays: "6", discount: "" }, "EUR").short).toBe(-100n);
  });
});
