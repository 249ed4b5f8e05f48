import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { isCreditorId, minor } from "../../shared";
import {
  againstMandate,
  proposeDebits,
  sequenceOf,
  type DebitItem,
  type DebitMandate,
} from "./index";

const mandate = (more: Partial<DebitMandate> = {}): DebitMandate => ({
  id: 7,
  partner: "C-201",
  signed: "2026-01-10",
  kind: "recurrent",
  notice: 5,
  ended: null,
  lastUsed: "2026-09-15",
  ...more,
});
const item = (id: number, left: bigint, more: Partial<DebitItem> = {}): DebitItem => ({
  id,
  payer: "C-201",
  date: "2026-09-10",
  due: "2026-10-10",
  left: minor(left),
  disputed: minor(0n),
  promised: minor(0n),
  promisedFor: null,
  discount: minor(0n),
  takenBy: null,
  ...more,
});
const ON = {
  on: "2026-10-20",
  upTo: "2026-10-20",
  today: "2026-10-15",
  dropped: new Set<number>(),
};
const plan = (items: DebitItem[], of: DebitMandate = mandate(), more: Partial<typeof ON> = {}) =>
  proposeDebits(items, [of], { ...ON, ...more });
const reasons = (p: ReturnType<typeof plan>) => p.items.map((i) => [i.item, i.leftOut]);

describe("a creditor identifier", () => {
  test("has check digits over what its country gives, not over the business code (EPC 262-08, example of the Deutsche Bundesbank)", () => {
    expect(isCreditorId("DE98ZZZ09999999999")).toBe(true);
    expect(isCreditorId("DE98ABC09999999999")).toBe(true);
    expect(isCreditorId("DE98ZZZ09999999998")).toBe(false);
    expect(isCreditorId("98DEZZZ09999999999")).toBe(false);
  });
});

describe("a mandate", () => {
  test("first, again, or once; lost after 36 months without use (EPC 016-06)", () => {
    expect(sequenceOf(mandate({ lastUsed: null }))).toBe("FRST");
    expect(sequenceOf(mandate())).toBe("RCUR");
    expect(sequenceOf(mandate({ kind: "one-off", lastUsed: null }))).toBe("OOFF");
    const unused = mandate({ signed: "2023-10-20", lastUsed: null });
    expect(againstMandate(unused, "2026-10-20")).toBeNull();
    expect(againstMandate(unused, "2026-10-21")).toContain("expired");
    const used = { ...unused, lastUsed: "2023-11-30" };
    expect(againstMandate(used, "2026-11-30")).toBeNull();
    expect(againstMandate(used, "2026-12-01")).toContain("30 Nov 2023");
    expect(againstMandate(mandate({ kind: "one-off" }), "2026-10-20")).toContain(
      "one direct debit",
    );
    expect(againstMandate(mandate({ ended: "2026-10-20" }), "2026-10-20")).toContain("ended");
    expect(againstMandate(mandate({ ended: "2026-10-21" }), "2026-10-20")).toBeNull();
    expect(againstMandate(mandate({ signed: "2026-10-21" }), "2026-10-20")).toContain("21 Oct");
  });
});

describe("direct debits", () => {
  test("take what is due in one sum: less credits, disputes, promises and the discounts of the day", () => {
    const { debits, items } = plan([
      item(1, 50_000n, { discount: minor(1_000n) }),
      item(2, 20_000n, { disputed: minor(5_000n), discount: minor(400n) }),
      item(3, 8_000n, { promised: minor(8_000n), promisedFor: "2026-10-30" }),
      item(4, -3_000n, { due: "2026-12-01" }),
      item(5, 9_000n, { due: "2026-10-21" }),
      item(6, 9_000n, { takenBy: "ALP-26-R00004" }),
      item(7, -9_000n, { date: "2026-10-21" }),
    ]);
    expect(debits).toEqual([
      {
        mandate: 7,
        payer: "C-201",
        amount: 61_000n,
        sequence: "RCUR",
        takes: [
          { item: 1, amount: 50_000n, discount: 1_000n },
          { item: 2, amount: 15_000n, discount: 0n },
          { item: 4, amount: -3_000n, discount: 0n },
        ],
      },
    ]);
    // What is not due yet, or comes after the day, is no part of the run at all.
    expect(items.map((i) => [i.item, i.leftOut, i.why])).toEqual([
      [1, null, "due 10 Oct 2026; discount on 20 Oct 2026"],
      [2, null, "due 10 Oct 2026; in dispute in part"],
      [3, "promised for 30 Oct 2026", "due 10 Oct 2026"],
      [4, null, "credit, taken off"],
      [6, "ALP-26-R00004 has taken it already", "due 10 Oct 2026"],
    ]);
  });

  test("leave a customer out whom it is too late to tell, whose mandate does not hold, or whose credits cover all", () => {
    expect(reasons(plan([item(1, 100n)], mandate({ notice: 6 })))).toEqual([
      [1, "it is told 6 days before: from 21 Oct 2026 on"],
    ]);
    expect(plan([item(1, 100n)], mandate({ notice: 5 })).debits).toHaveLength(1);
    expect(reasons(plan([item(1, 100n)], mandate({ ended: "2026-10-01" })))).toEqual([
      [1, "its mandate ended on 1 Oct 2026"],
    ]);
    expect(reasons(plan([item(1, 100n), item(2, -100n)]))).toEqual([
      [1, "credits cover what is due"],
      [2, "credits cover what is due"],
    ]);
    // A person can take the credit out, and put it back.
    const without = plan([item(1, 100n), item(2, -100n)], mandate(), { dropped: new Set([2]) });
    expect(without.debits[0]!.amount).toBe(100n);
    expect(reasons(without)).toEqual([
      [1, null],
      [2, null],
    ]);
    expect(
      reasons(plan([item(1, 100n), item(2, -50n)], mandate(), { dropped: new Set([1]) })),
    ).toEqual([
      [1, null],
      [2, "nothing else of this customer is debited"],
    ]);
    expect(plan([item(1, -100n)]).items).toEqual([]);
    expect(reasons(plan([item(1, 100_000_000_000n)]))[0]![1]).toContain("more than one");
  });

  test("come to what their items come to, never more than is free of each", () => {
    const amount = fc.bigInt({ min: -50_000n, max: 200_000n }).filter((n) => n !== 0n);
    const some = fc.array(
      fc.tuple(amount, fc.bigInt({ min: 0n, max: 60_000n }), fc.bigInt({ min: 0n, max: 60_000n })),
      { maxLength: 12 },
    );
    fc.assert(
      fc.property(some, fc.array(fc.nat(11)), (all, out) => {
        const items = all.map(([left, disputed, promised], n) =>
          item(n, left, {
            disputed: minor(disputed),
            promised: minor(promised),
            promisedFor: promised > 0n ? "2026-10-30" : null,
            discount: minor(left > 100n ? left / 50n : 0n),
          }),
        );
        const { debits } = plan(items, mandate(), { dropped: new Set(out) });
        for (const { amount: debited, takes } of debits) {
          expect(debited > 0n).toBe(true);
          expect(takes.reduce((t, x) => t + x.amount - x.discount, 0n)).toBe(debited);
          for (const t of takes) {
            const of = items[t.item]!;
            expect(out).not.toContain(t.item);
            if (of.left > 0n)
              expect(t.amount <= of.left - of.disputed - of.promised && t.amount > 0n).toBe(true);
            else expect(t.amount).toBe(of.left);
          }
        }
      }),
    );
  });
});
