import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { NO_OVERRIDES } from "../runs";
import { moneyForAnother, moneyJournal, NO_BANK_ADDRESS, PAID } from "../banks";
import { minor, type Minor } from "../shared";
import {
  proposePayments,
  type PayableItem,
  type PayableSupplier,
  type PaymentRules,
} from "./index";
import { discountOn } from "../openItems";
import { taxTakenBack } from "../taxes";

const m = minor;
const supplier = (code: string, more: Partial<PayableSupplier> = {}): [string, PayableSupplier] => [
  code,
  {
    code,
    name: `Supplier ${code}`,
    method: "transfer",
    hold: "",
    blocked: false,
    ...NO_BANK_ADDRESS,
    iban: "IE00",
    bankId: null,
    holder: "",
    town: "",
    purpose: "",
    bankWaits: false,
    ...more,
  },
];
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
const rules = (more: Partial<PaymentRules> = {}): PaymentRules => ({
  date: "2026-11-06",
  next: "2026-11-13",
  method: "",
  currencies: [],
  minimum: m(0n),
  perInvoice: false,
  discountOnPart: "in proportion",
  functional: "EUR",
  rateOf: (c) => (c === "USD" ? { rate: "0.92" } : c === "EUR" ? "same" : null),
  ...more,
});
const suppliers = new Map([
  supplier("A"),
  supplier("B", { name: "Aardvark Chandlers", method: "cheque" }),
  supplier("C", { hold: "Disputed" }),
  supplier("D", { iban: "" }),
  supplier("E", { bankWaits: true }),
]);
const propose = (
  items: PayableItem[],
  more: Partial<PaymentRules> = {},
  overrides = NO_OVERRIDES,
) => proposePayments(items, suppliers, rules(more), overrides);
const most = 99_999_999_999n;
test("no more goes in one transfer than SEPA lets pass: 999,999,999.99 EUR", () =>
  expect(
    [most, most + 1n].map(
      (n) => propose([item(1, -n, { due: "2026-11-05" })]).items[0]!.leftOut ?? "paid",
    ),
  ).toEqual(["paid", "a transfer carries at most 999,999,999.99 EUR"]));
const two = (amount: bigint, until: string) => [{ until, percent: "2", amount: m(amount) }];
const accounts = {
  company: "HSF",
  functional: "EUR",
  underWay: "1120",
  discount: "8560",
  exchangeGain: "8540",
  exchangeLoss: "8550",
};
const sides = (
  lines: readonly { account: string; side: string; amount: Minor; foreignAmount?: Minor }[],
) =>
  lines.map(
    (l) =>
      `${l.account} ${l.side} ${l.amount}${l.foreignAmount === undefined ? "" : ` (${l.foreignAmount})`}`,
  );

describe("proposePayments", () => {
  test("pays what falls due before the next run and what would lose its discount by then; the rest waits", () => {
    const plan = propose([
      item(1, -100n, { due: "2026-11-12" }),
      item(2, -200n, { due: "2026-11-13" }),
      item(3, -1000n, { due: "2026-12-01", discounts: two(20n, "2026-11-12") }),
      item(4, -1000n, { due: "2026-12-01", discounts: two(20n, "2026-11-13") }),
      item(5, -50n, { due: "2026-11-05" }),
    ]);
    expect(plan.items.map((i) => [i.label, i.why])).toEqual([
      ["R-5", "overdue since 5 Nov 2026"],
      ["R-1", "due 12 Nov 2026"],
      ["R-3", "discount until 12 Nov 2026"],
    ]);
    expect(plan.payments).toMatchObject([
      {
        amount: 1130n,
        discount: 20n,
        items: [{ taken: -50n }, { taken: -100n }, { taken: -1000n, discount: 20n }],
      },
    ]);
  });
  test.each([
    [
      "an item on hold",
      item(1, -100n, { hold: "two crates missing" }),
      "on hold: two crates missing",
    ],
    ["a supplier on hold", item(1, -100n, { partner: "C" }), "on hold: Disputed"],
    ["no bank account", item(1, -100n, { partner: "D" }), "no bank account is known"],
    ["a changed bank account", item(1, -100n, { partner: "E" }), "waits for a second person"],
    [
      "taken by another run",
      item(1, -100n, { takenBy: "HSF-26-R0007" }),
      "HSF-26-R0007 has taken it",
    ],
    [
      "booked after the payment",
      item(1, -100n, { date: "2026-11-07" }),
      "booked on 7 Nov 2026, after the payment",
    ],
    ["no rate", item(1, -100n, { currency: "NOK" }), "no rate from NOK"],
    ["below the minimum", item(1, -4999n), "below 50.00 EUR"],
  ])("%s is left out and says why", (_what, one, why) => {
    const plan = propose([one], { minimum: m(5000n) });
    expect(plan.payments).toEqual([]);
    expect(plan.items[0]!.leftOut).toContain(why);
  });
  test("credit notes net, also by invoice; who owes us on balance is left out", () => {
    expect(propose([item(1, -100n), item(2, 30n)]).payments).toMatchObject([{ amount: 70n }]);
    expect(
      propose([item(1, -100n), item(2, -500n), item(3, 200n)], { perInvoice: true }).payments.map(
        (p) => p.amount,
      ),
    ).toEqual([100n, 300n]);
    expect(propose([item(1, -100n), item(2, 130n)])).toMatchObject({
      payments: [],
      items: [{ leftOut: expect.stringContaining("owes us 0.30 EUR") as string }, {}],
    });
  });
  test("an item dropped or paid in part: the discount goes with the part, or not at all, as the rule says", () => {
    const one = item(1, -10_000n, { discounts: two(200n, "2026-11-20"), due: "2026-11-07" });
    const part = (typed: string, more = {}) =>
      propose([one, item(2, -5n)], more, { dropped: ["item|2"], amounts: { "pay|1": typed } });
    // 49.00 paid of what 98.00 settle: half of it, with half the discount.
    expect(part("49.00").payments).toMatchObject([
      { amount: 4900n, discount: 100n, items: [{ taken: -5000n, discount: 100n }] },
    ]);
    expect(part("49.00", { discountOnPart: "none" }).payments).toMatchObject([
      { amount: 4900n, discount: 0n, items: [{ taken: -4900n, lost: 98n }] },
    ]);
    expect(part("98.01").items[0]!.leftOut).toContain("98.00 EUR settle it");
    expect(part("one").items[0]!.leftOut).toContain("no amount");
  });
  test("what was settled in part before, or is credited, has the part of the discount that is left", () => {
    const earned = (left: bigint, credited: bigint) =>
      discountOn(
        {
          amount: m(-10_000n),
          left: m(left),
          credited: m(credited),
          discounts: two(200n, "2026-11-20"),
        },
        "2026-11-20",
      )?.amount ?? 0n;
    expect([
      earned(-2_500n, 0n),
      earned(-10_000n, 2_500n),
      earned(-5_000n, 2_500n),
      earned(-2_500n, 2_500n),
      earned(-2_500n, 9_000n),
    ]).toEqual([50n, 150n, 50n, 0n, 0n]);
  });
});

describe("the journal of a payment", () => {
  test("1,000 USD invoiced at 0.90 and paid at 0.92 with 2 % discount: 20 USD at 0.92, a loss of 20 EUR (IAS 21.28, worked example)", () => {
    const usd = item(1, -100_000n, {
      currency: "USD",
      leftFunctional: m(-90_000n),
      discounts: two(2_000n, "2026-11-20"),
    });
    const [payment] = propose([usd]).payments;
    expect(sides(moneyJournal(payment!, "2026-11-06", [], accounts, PAID).lines)).toEqual([
      "2140 debit 90000 (100000)",
      "1120 credit 90160 (98000)",
      "8560 credit 1840 (2000)",
      "8550 debit 2000 (0)",
    ]);
  });
  test("a discount takes its tax back: 24.60 off 1,230.00 at 23 % is 20.00 and 4.60 of tax; under reverse charge the tax owed falls as well", () => {
    const tax = {
      code: "S",
      base: m(100_000n),
      tax: m(23_000n),
      recoverable: m(23_000n),
      functionalBase: m(100_000n),
      functionalTax: m(23_000n),
      reverse: false,
      account: "1410",
      owedAccount: "",
    };
    const one = item(1, -123_000n, { discounts: two(2_460n, "2026-11-20"), taxes: [tax] });
    const [payment] = propose([one]).payments;
    expect(
      sides(
        moneyJournal(payment!, "2026-11-06", taxTakenBack(one, m(2_460n)), accounts, PAID).lines,
      ),
    ).toEqual(["2140 debit 123000", "1120 credit 120540", "1410 credit 460", "8560 credit 2000"]);
    const reverse = { ...one, taxes: [{ ...tax, reverse: true, owedAccount: "2210" }] };
    expect(
      sides(
        moneyJournal(payment!, "2026-11-06", taxTakenBack(reverse, m(2_000n)), accounts, PAID)
          .lines,
      ).slice(2),
    ).toEqual(["1410 credit 460", "2210 debit 460", "8560 credit 2460"]);
    // 1,100.00 with 23 % less 100.00 returned packing at 8 %: 1,245.00, of which 2 % are 22.00,
    // 5.06 of tax, less 2.00 and 0.16 of the packing.
    const packing = {
      ...one,
      taxes: [
        { ...tax, base: m(110_000n), tax: m(25_300n), recoverable: m(25_300n) },
        { ...tax, code: "R", base: m(-10_000n), tax: m(-800n), recoverable: m(-800n) },
      ],
    };
    expect(taxTakenBack(packing, m(2_490n)).map((t) => [t.code, t.base, t.tax])).toEqual([
      ["S", 2_200n, 506n],
      ["R", -200n, -16n],
    ]);
  });
  test("a foreign tax is taken back at the rate at which it was recorded: 23 USD of 230 recorded as 207.00, paid at 0.92 (IAS 21.28)", () => {
    const usd = item(1, -123_000n, {
      currency: "USD",
      leftFunctional: m(-110_700n),
      discounts: two(12_300n, "2026-11-20"),
      taxes: [
        {
          code: "S",
          base: m(100_000n),
          tax: m(23_000n),
          recoverable: m(23_000n),
          functionalBase: m(90_000n),
          functionalTax: m(20_700n),
          reverse: false,
          account: "1410",
          owedAccount: "",
        },
      ],
    });
    const [payment] = propose([usd]).payments;
    const taken = taxTakenBack(usd, m(12_300n));
    expect(taken[0]).toMatchObject({ functionalBase: 9_000n, functionalTax: 2_070n });
    expect(sides(moneyJournal(payment!, "2026-11-06", taken, accounts, PAID).lines)).toEqual([
      "2140 debit 110700 (123000)",
      "1120 credit 101844 (110700)",
      "1410 credit 2070 (2300)",
      "8560 credit 9200 (10000)",
      "8550 debit 2414 (0)",
    ]);
  });
  test("balances in both currencies and settles exactly what is carried, whatever is paid in part", () => {
    const amount = fc.bigInt(1n, 10n ** 8n);
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            left: amount,
            rate: fc.bigInt(80n, 130n),
            percent: fc.bigInt(0n, 5n),
            cents: amount,
            dropped: fc.boolean(),
          }),
          { minLength: 1, maxLength: 6 },
        ),
        fc.boolean(),
        fc.boolean(),
        (given, usd, paying) => {
          const items = given.map((g, i) =>
            item(i + 1, -g.left, {
              ...(usd ? { currency: "USD", leftFunctional: m((-g.left * g.rate) / 100n) } : {}),
              discounts: two((g.left * g.percent) / 100n, "2026-11-30"),
            }),
          );
          const overrides = {
            dropped: given.flatMap((g, i) => (g.dropped ? [`item|${i + 1}`] : [])),
            amounts: Object.fromEntries(
              given.map((g, i) => [
                `pay|${i + 1}`,
                `${g.cents / 100n}.${String(g.cents % 100n).padStart(2, "0")}`,
              ]),
            ),
          };
          for (const payment of propose(items, {}, overrides).payments) {
            const draft = moneyJournal(payment, "2026-11-06", [], accounts, PAID);
            const pair = moneyForAnother(
              draft,
              payment,
              {
                company: "KIT",
                functional: usd ? "USD" : "EUR",
                rate: "same",
                underWay: "1120",
                facing: { ofItems: "2150", ofBank: "1340" },
              },
              accounts,
              PAID,
              {
                discount: paying ? "paying" : "owing",
                difference: paying ? "paying" : "owing",
              },
            );
            for (const d of [draft, ...pair]) {
              const sum = (pick: (l: (typeof d.lines)[number]) => bigint) =>
                d.lines.reduce((t, l) => t + (l.side === "debit" ? pick(l) : -pick(l)), 0n);
              expect([sum((l) => l.amount), sum((l) => l.foreignAmount ?? l.amount)]).toEqual([
                0n,
                0n,
              ]);
            }
            expect(payment.amount + payment.discount).toBe(
              payment.items.reduce((t, i) => t - i.taken, 0n),
            );
            for (const i of payment.items)
              expect(-i.taken <= -items[i.item - 1]!.left && i.discount >= 0n).toBe(true);
          }
        },
      ),
    );
  });
  test("paid by another company, both face each other with the same amount; discount and difference go where the set-up says", () => {
    const usd = item(1, -100_000n, {
      currency: "USD",
      leftFunctional: m(-90_000n),
      discounts: two(2_000n, "2026-11-20"),
    });
    const [payment] = propose([usd]).payments;
    const kit = {
      company: "MBY",
      functional: "EUR",
      rate: { rate: "0.92" },
      underWay: "1120",
      facing: { ofItems: "2150", ofBank: "1340" },
    };
    const draft = moneyJournal(payment!, "2026-11-06", [], accounts, PAID);
    const owing = moneyForAnother(draft, payment!, kit, accounts, PAID, {
      discount: "owing",
      difference: "owing",
    });
    expect(owing.map((d) => sides(d.lines))).toEqual([
      [
        "2140 debit 90000 (100000)",
        "8560 credit 1840 (2000)",
        "8550 debit 2000 (0)",
        "2150 credit 90160 (98000)",
      ],
      ["1340 debit 90160 (98000)", "1120 credit 90160 (98000)"],
    ]);
    const paying = moneyForAnother(draft, payment!, kit, accounts, PAID, {
      discount: "paying",
      difference: "paying",
    });
    expect(paying.map((d) => sides(d.lines))).toEqual([
      ["2140 debit 90000 (100000)", "2150 credit 90000 (100000)"],
      [
        "1340 debit 90000 (100000)",
        "1120 credit 90160 (98000)",
        "8560 credit 1840 (2000)",
        "8550 debit 2000 (0)",
      ],
    ]);
  });
});
