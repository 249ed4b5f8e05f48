import fc from "fast-check";
import { expect, test } from "vitest";
import type { DraftLine } from "../ledger";
import { minor } from "../shared";
import type { TaxTakenBack } from "../taxes";
import { moneyForAnother, moneyJournal, PAID, RECEIVED, type Money, type MoneySide } from "./index";

const m = minor;
const accounts = {
  company: "HSF",
  functional: "EUR",
  underWay: "1120",
  discount: "8560",
  exchangeGain: "8540",
  exchangeLoss: "8550",
};
const sides = (lines: readonly DraftLine[]) =>
  lines.map(
    (l) =>
      `${l.account} ${l.side} ${l.amount}${l.foreignAmount === undefined ? "" : ` (${l.foreignAmount})`}`,
  );
/** Money over one item; of a customer the item is a debit. */
const over = (taken: bigint, functional: bigint, more: Partial<Money> = {}): Money => ({
  partner: "C-1",
  payee: "Isle of Skerry Council",
  method: "transfer",
  currency: "EUR",
  rate: "same",
  amount: m(taken < 0n ? -taken : taken),
  discount: m(0n),
  items: [
    {
      item: 1,
      reference: "HSF-26-S0001",
      account: "1200",
      taken: m(taken),
      functional: m(functional),
      discount: m(0n),
      lost: m(0n),
    },
  ],
  ...more,
});
const output: TaxTakenBack = {
  item: 1,
  code: "S",
  base: m(2_000n),
  tax: m(460n),
  recoverable: m(0n),
  functionalBase: m(2_000n),
  functionalTax: m(460n),
  reverse: false,
  account: "",
  owedAccount: "2210",
};

test("1,230.00 paid with 2 % granted: 1,205.40 come, 20.00 are discount and 4.60 output tax that is owed no more (worked example)", () => {
  const money = over(123_000n, 123_000n, { amount: m(120_540n), discount: m(2_460n) });
  const journal = moneyJournal(money, "2026-11-06", [output], accounts, RECEIVED);
  expect(sides(journal.lines)).toEqual([
    "1200 credit 123000",
    "1120 debit 120540",
    "2210 debit 460",
    "8560 debit 2000",
  ]);
  expect(journal).toMatchObject({ type: "receipt", reference: "HSF-26-S0001" });
  expect(journal.lines[1]!.item).toMatchObject({ kind: "receipt" });
});
test("1,000 USD invoiced at 0.90 and received at 0.92: a gain of 20 EUR (IAS 21.28, worked example)", () => {
  const money = over(100_000n, 90_000n, { currency: "USD", rate: { rate: "0.92" } });
  expect(sides(moneyJournal(money, "2026-11-06", [], accounts, RECEIVED).lines)).toEqual([
    "1200 credit 90000 (100000)",
    "1120 debit 92000 (100000)",
    "8540 credit 2000 (0)",
  ]);
});
test("received by another company: it owes what it got, and the one that was owed has to get it", () => {
  const money = over(123_000n, 123_000n);
  const own = moneyJournal(money, "2026-11-06", [], accounts, RECEIVED);
  const both = moneyForAnother(
    own,
    money,
    {
      company: "KIT",
      functional: "EUR",
      rate: "same",
      underWay: "1120",
      facing: { ofItems: "1340", ofBank: "2150" },
    },
    accounts,
    RECEIVED,
    { discount: "owing", difference: "owing" },
  );
  expect(both.map((d) => [d.company, d.type, ...sides(d.lines)])).toEqual([
    ["HSF", "receipt", "1200 credit 123000", "1340 debit 123000"],
    ["KIT", "receipt", "2150 credit 123000", "1120 debit 123000"],
  ]);
});

test("for any amount, rate, discount and tax what is received is what is paid with every side turned, and both balance", () => {
  const amount = fc.bigInt(1n, 10n ** 9n);
  fc.assert(
    fc.property(
      amount,
      amount,
      fc.bigInt(0n, 5n),
      fc.integer({ min: 50, max: 150 }),
      fc.boolean(),
      fc.boolean(),
      (taken, functional, percent, rate, usd, there) => {
        const discount = (taken * percent) / 100n;
        const tax = (discount * 23n) / 123n;
        const more: Partial<Money> = {
          amount: m(taken - discount),
          discount: m(discount),
          ...(usd ? { currency: "USD", rate: { rate: String(rate / 100) } } : {}),
        };
        const carried = usd ? functional : taken;
        const taxes = { ...output, tax: m(tax), functionalTax: m(tax) };
        const input = { ...taxes, recoverable: m(tax), account: "2210", owedAccount: "" };
        const received = moneyJournal(
          over(taken, carried, more),
          "2026-11-06",
          [taxes],
          accounts,
          RECEIVED,
        );
        const paid = moneyJournal(
          over(-taken, -carried, more),
          "2026-11-06",
          [input],
          accounts,
          PAID,
        );
        const turned = { debit: "credit", credit: "debit" } as const;
        const other: Record<string, string> = { "8540": "8550", "8550": "8540" };
        expect(
          received.lines.map((l) => [
            other[l.account] ?? l.account,
            turned[l.side],
            l.amount,
            l.foreignAmount,
          ]),
        ).toEqual(paid.lines.map((l) => [l.account, l.side, l.amount, l.foreignAmount]));
        // The same where another company's bank does it, whoever has discount and difference.
        const elsewhere = (own: typeof paid, side: MoneySide, facing: string) =>
          moneyForAnother(
            own,
            over(side === PAID ? -taken : taken, side === PAID ? -carried : carried, more),
            {
              company: "KIT",
              functional: usd ? "USD" : "EUR",
              rate: "same",
              underWay: "1120",
              facing: { ofItems: facing, ofBank: facing },
            },
            accounts,
            side,
            { discount: there ? "paying" : "owing", difference: there ? "paying" : "owing" },
          );
        const pairs = [elsewhere(received, RECEIVED, "1340"), elsewhere(paid, PAID, "1340")];
        expect(pairs[0]!.map((d) => d.lines.map((l) => [turned[l.side], l.amount]))).toEqual(
          pairs[1]!.map((d) => d.lines.map((l) => [l.side, l.amount])),
        );
        for (const { lines } of [received, paid, ...pairs.flat()]) {
          const sum = (pick: (l: DraftLine) => bigint) =>
            lines.reduce((t, l) => t + (l.side === "debit" ? pick(l) : -pick(l)), 0n);
          expect([sum((l) => l.amount), sum((l) => l.foreignAmount ?? l.amount)]).toEqual([0n, 0n]);
        }
      },
    ),
  );
});
