import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { moneyJournal, NO_BANK_ADDRESS, PAID, type PlannedPayment } from "../banks";
import { minor, type Minor } from "../shared";
import {
  readSinglePayment,
  singlePaymentItems,
  type PayableItem,
  type SinglePaymentInput,
} from "./index";
import { taxTakenBack } from "../taxes";

const m = minor;
const item = (id: number, left: bigint, more: Partial<PayableItem> = {}): PayableItem => ({
  id,
  credited: m(0n),
  account: "2140",
  partner: "A",
  currency: "EUR",
  left: m(left),
  leftFunctional: m(left),
  amount: m(left),
  kind: left < 0n ? "invoice" : "credit note",
  reference: `R-${id}`,
  date: "2026-11-01",
  due: "2026-11-10",
  discounts: [],
  hold: "",
  takenBy: null,
  taxes: [],
  ...more,
});
const items = [
  item(1, -10_000n),
  item(2, 3_000n),
  item(3, -500n, { hold: "two crates missing" }),
  item(4, -500n, { partner: "B" }),
  item(5, -500n, { currency: "USD" }),
  item(6, -500n, { date: "2026-11-07" }),
  item(7, -500n, { takenBy: "HSF-26-R0007" }),
];
const known = {
  items: new Map(items.map((i) => [i.id, i])),
  isAdvance: (account: string) => account === "1430",
  isTaxOwed: () => false,
};
type Written = Partial<Omit<SinglePaymentInput, "items" | "lines">> & {
  items?: [id: number, amount?: string, discount?: string][];
  lines?: [account: string, amount: string][];
};
const read = ({ items: wanted = [], lines = [], ...more }: Written) =>
  readSinglePayment(
    {
      supplier: "A",
      date: "2026-11-06",
      refund: false,
      currency: "EUR",
      description: "",
      items: wanted.map(([id, amount = "", discount = ""]) => ({ id, amount, discount })),
      lines: lines.map(([account, amount]) => ({
        account,
        amount,
        dimensions: {},
        description: "",
      })),
      ...more,
    },
    known,
  );
const codes = (w: Written) => read(w).problems.map((p) => `${p.line ?? ""}${p.code}`);

describe("readSinglePayment", () => {
  test("an item in full, in part, and with a discount: without an amount all that is left after the discount", () => {
    expect(read({ items: [[1]] })).toMatchObject({
      amount: 10_000n,
      items: [{ taken: -10_000n, functional: -10_000n, discount: 0n }],
      problems: [],
    });
    expect(read({ items: [[1, "40.00", "2.00"]] })).toMatchObject({
      amount: 4_000n,
      items: [{ taken: -4_200n, discount: 200n }],
    });
    expect(read({ items: [[1, "", "2.00"]] })).toMatchObject({
      amount: 9_800n,
      items: [{ taken: -10_000n, discount: 200n }],
    });
    expect(read({ items: [[1], [2, "10.00"]], lines: [["7420", "1.50"]] })).toMatchObject({
      amount: 9_150n,
      lines: [{ amount: 150n }],
    });
  });
  test("the discount that is not had is the best one there ever was, for the part that is settled", () => {
    const discounted = item(8, -10_000n, {
      discounts: [
        { until: "2026-11-02", percent: "3", amount: m(300n) },
        { until: "2026-11-20", percent: "2", amount: m(200n) },
      ],
    });
    const lost = (amount: string, discount: string) =>
      readSinglePayment(
        {
          supplier: "A",
          date: "2026-11-06",
          refund: false,
          currency: "EUR",
          description: "",
          items: [{ id: 8, amount, discount }],
          lines: [],
        },
        { ...known, items: new Map([[8, discounted]]) },
      ).items[0]!.lost;
    expect([lost("98.00", "2.00"), lost("50.00", ""), lost("96.00", "4.00")]).toEqual([
      100n,
      150n,
      0n,
    ]);
  });
  test.each<[string, Written, string[]]>([
    ["nothing at all", {}, ["REQUIRED"]],
    ["no such item", { items: [[99]] }, ["1NOT_FOUND"]],
    [
      "an item twice",
      {
        items: [
          [1, "60.00"],
          [1, "60.00"],
        ],
      },
      ["2INVALID"],
    ],
    ["another supplier's", { items: [[4]] }, ["1ITEM_OTHER_PARTNER"]],
    ["another currency", { items: [[5]] }, ["1ITEM_OTHER_CURRENCY"]],
    ["one on hold", { items: [[3]] }, ["1IN_USE"]],
    ["one booked after it", { items: [[6]] }, ["1INVALID"]],
    ["one that a run has taken", { items: [[7]] }, ["1IN_USE"]],
    ["a cent too much", { items: [[1, "100.01"]] }, ["1ITEM_OVERALLOCATED"]],
    [
      "a cent too much with the discount",
      { items: [[1, "98.01", "2.00"]] },
      ["1ITEM_OVERALLOCATED"],
    ],
    ["a discount beyond the item", { items: [[1, "", "100.01"]] }, ["1ITEM_OVERALLOCATED"]],
    ["nothing of it", { items: [[1, "0"]] }, ["1ITEM_OVERALLOCATED"]],
    ["less than nothing", { items: [[1, "-1.00"]] }, ["1ITEM_OVERALLOCATED"]],
    ["no amount", { items: [[1, "many"]] }, ["1AMOUNT_NOT_NUMBER"]],
    ["no discount", { items: [[1, "5.00", "few"]] }, ["1AMOUNT_NOT_NUMBER"]],
    ["a discount on a credit note", { items: [[2, "5.00", "1.00"]] }, ["1INVALID"]],
    [
      "each fault at its place",
      {
        items: [[1], [3]],
        lines: [
          ["7420", "x"],
          ["7420", "0"],
        ],
      },
      ["2IN_USE", "1AMOUNT_NOT_NUMBER", "2AMOUNT_NOT_NUMBER"],
    ],
    ["an advance to nobody", { supplier: "", lines: [["1430", "30.00"]] }, ["1PARTNER_REQUIRED"]],
    ["as much taken off as owed", { items: [[1, "30.00"], [2]] }, ["INVALID"]],
    ["a refund that goes out", { refund: true, items: [[1]] }, ["INVALID"]],
  ])("%s is refused", (_what, written, expected) => expect(codes(written)).toEqual(expected));
  test("a refund comes in, and an advance leaves an open item under its description or its day", () => {
    expect(read({ refund: true, items: [[2]] })).toMatchObject({ amount: -3_000n, problems: [] });
    expect(read({ lines: [["1430", "30.00"]] }).lines[0]!.line).toMatchObject({
      partner: "A",
      dueDate: "2026-11-06",
      item: { kind: "prepayment", reference: "Advance 2026-11-06" },
    });
    expect(
      read({ description: "Winter deposit", lines: [["1430", "30.00"]] }).lines[0]!.line.item
        ?.reference,
    ).toBe("Winter deposit");
  });
});

test("whatever is paid, in part or with a discount, in whatever currency: the journal balances in both, and its parts as shown add up to the payment", () => {
  const cents = fc.bigInt(1n, 10n ** 7n);
  const text = (n: bigint) => `${n / 100n}.${String(n % 100n).padStart(2, "0")}`;
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          left: cents,
          paid: cents,
          discount: fc.bigInt(0n, 500n),
          rate: fc.bigInt(70n, 140n),
          tax: fc.boolean(),
        }),
        { minLength: 1, maxLength: 5 },
      ),
      fc.array(cents, { maxLength: 3 }),
      fc.boolean(),
      (given, coded, foreign) => {
        const currency = foreign ? "USD" : "EUR";
        const open = given.map((g, i) => {
          const base = m((g.left * 100n) / 123n);
          return item(i + 1, -g.left, {
            currency,
            ...(foreign ? { leftFunctional: m((-g.left * g.rate) / 100n) } : {}),
            taxes: g.tax
              ? [
                  {
                    code: "S",
                    base,
                    tax: m(g.left - base),
                    recoverable: m(g.left - base),
                    functionalBase: m((base * g.rate) / 100n),
                    functionalTax: m(((g.left - base) * g.rate) / 100n),
                    reverse: false,
                    account: "1410",
                    owedAccount: "",
                  },
                ]
              : [],
          });
        });
        const known = new Map(open.map((o) => [o.id, o]));
        const paid = readSinglePayment(
          {
            supplier: "A",
            date: "2026-11-06",
            refund: false,
            currency,
            description: "",
            items: given.map((g, i) => ({
              id: i + 1,
              amount: text(g.paid),
              discount: text(g.discount),
            })),
            lines: coded.map((n) => ({
              account: "7420",
              dimensions: {},
              description: "",
              amount: text(n),
            })),
          },
          { items: known, isAdvance: () => false, isTaxOwed: () => false },
        );
        const beyond = given.filter((g) => g.paid + g.discount > g.left).length;
        expect(paid.problems.length).toBe(beyond);
        if (beyond > 0) return;
        const taken = paid.items.flatMap((i) => taxTakenBack(known.get(i.item)!, i.discount));
        const planned: PlannedPayment = {
          key: "k",
          partner: "A",
          payee: "A",
          method: "manual",
          currency,
          rate: foreign ? { rate: "0.9173" } : "same",
          amount: paid.amount,
          functional: paid.amount,
          discount: m(paid.items.reduce((t, i) => t + i.discount, 0n)),
          ...NO_BANK_ADDRESS,
          bankId: null,
          holder: "",
          items: paid.items,
        };
        const { lines } = moneyJournal(
          planned,
          "2026-11-06",
          taken,
          {
            company: "HSF",
            functional: "EUR",
            underWay: "1120",
            discount: "8560",
            exchangeGain: "8540",
            exchangeLoss: "8550",
          },
          PAID,
          paid.lines,
        );
        const net = (pick: (l: (typeof lines)[number]) => Minor) =>
          lines.reduce((t, l) => t + (l.side === "debit" ? pick(l) : -pick(l)), 0n);
        expect([net((l) => l.amount), net((l) => l.foreignAmount ?? m(0n))]).toEqual([0n, 0n]);
        const shown = singlePaymentItems(paid, {
          payee: "A",
          refund: false,
          currency,
          own: (n) => m(n),
        });
        expect([
          shown.reduce((t, i) => t + i.amount, 0n),
          shown.filter((i) => i.takes !== false).length,
        ]).toEqual([paid.amount, given.length]);
      },
    ),
  );
});
