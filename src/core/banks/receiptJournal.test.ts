import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import { receiptJournal, type LineItem, type ReceiptToPost } from "./index";

const item = (id: number, left: bigint, more: Partial<LineItem> = {}): LineItem => ({
  id,
  account: "1310",
  control: "receivables",
  partner: "HEAD",
  reference: `R-${id}`,
  left: minor(left),
  leftFunctional: minor(left),
  ...more,
});
const take = (of: LineItem, more: Partial<ReceiptToPost["takes"][number]> = {}) => ({
  item: of,
  amount: of.left,
  discount: minor(0n),
  writtenOff: minor(0n),
  ...more,
});
const receipt = (amount: bigint, takes: ReceiptToPost["takes"], more = {}): ReceiptToPost => ({
  reference: "ALP-26-N00001",
  title: "Receipt from Sable Tours, ALP-26-N00001",
  date: "2026-10-06",
  partner: "HEAD",
  payer: "Head Office",
  amount: minor(amount),
  currency: "EUR",
  rate: "same",
  takes,
  reason: "",
  ...more,
});
const TO = {
  company: "ALP",
  functional: "EUR",
  underWay: "1120",
  receivables: "1310",
  writeOff: "7990",
  discount: "4990",
  exchangeGain: "7710",
  exchangeLoss: "7720",
};
const lines = (of: ReceiptToPost) =>
  receiptJournal(of, TO).draft.lines.map((l) => [l.account, l.side, l.amount, l.partner]);

describe("the journal of a receipt", () => {
  test("a head office pays for a branch: each one's items by whoever owes them, the rest on the payer's account", () => {
    const made = receiptJournal(
      receipt(1_000n, [take(item(1, 600n)), take(item(2, 300n, { partner: "BRANCH" }))]),
      TO,
    );
    expect(made.draft.lines.map((l) => [l.account, l.side, l.amount, l.partner])).toEqual([
      ["1310", "credit", 600n, "HEAD"],
      ["1310", "credit", 300n, "BRANCH"],
      ["1120", "debit", 1_000n, "HEAD"],
      ["1310", "credit", 100n, "HEAD"],
    ]);
    expect(made.settling).toBe(2);
  });
  test("items that come to nothing settle each other, and leave no line", () => {
    const made = receiptJournal(
      receipt(50n, [
        take(item(1, 300n)),
        take(item(2, -300n)),
        take(item(3, 50n, { partner: "B" })),
      ]),
      TO,
    );
    expect(made.settling).toBe(1);
    expect(made.draft.lines[0]).toMatchObject({ partner: "B", amount: 50n });
  });
  test("what is missing is a cost where it is written off", () => {
    const of = receipt(95n, [take(item(1, 100n), { writtenOff: minor(5n) })], {
      reason: "charges",
    });
    expect(lines(of)).toEqual([
      ["1310", "credit", 100n, "HEAD"],
      ["1120", "debit", 95n, "HEAD"],
      ["7990", "debit", 5n, undefined],
    ]);
  });
  test("a discount takes its part of the output tax back", () => {
    // 120.00 with 20.00 of tax, less 2 %: 2.00 of turnover and 0.40 of tax.
    const tax = {
      code: "S20",
      base: minor(10_000n),
      tax: minor(2_000n),
      recoverable: minor(0n),
      functionalBase: minor(10_000n),
      functionalTax: minor(2_000n),
      reverse: false,
      account: "",
      owedAccount: "2310",
    };
    const made = receiptJournal(
      receipt(11_760n, [take(item(1, 12_000n), { discount: minor(240n), taxes: [tax] })]),
      TO,
    );
    expect(made.draft.lines.map((l) => [l.account, l.side, l.amount])).toEqual([
      ["1310", "credit", 12_000n],
      ["1120", "debit", 11_760n],
      ["2310", "debit", 40n],
      ["4990", "debit", 200n],
    ]);
    expect(made.taxes).toMatchObject([{ item: 1, base: 200n, tax: 40n }]);
  });
  test("in another currency the difference between the rates is realised (IAS 21.28, worked example)", () => {
    // 1,000 USD invoiced at 0.90, of which 600 are paid at 0.92.
    const owed = item(1, 100_000n, { leftFunctional: minor(90_000n) });
    const of = receipt(60_000n, [take(owed, { amount: minor(60_000n) })], {
      currency: "USD",
      rate: { rate: "0.92" },
    });
    expect(lines(of)).toEqual([
      ["1310", "credit", 54_000n, "HEAD"],
      ["1120", "debit", 55_200n, "HEAD"],
      ["7710", "credit", 1_200n, undefined],
    ]);
  });
  test("whatever is taken, the journal balances in both currencies", () => {
    const amount = fc.bigInt(1n, 10n ** 8n);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(amount, amount, fc.boolean(), fc.bigInt(0n, 99n)), { minLength: 1 }),
        fc.bigInt(0n, 10n ** 6n),
        (parts, more) => {
          const takes = parts.map(([left, functional, branch, percent], i) => {
            const of = item(i + 1, left, {
              leftFunctional: minor(functional),
              partner: branch ? "BRANCH" : "HEAD",
            });
            return take(of, {
              discount: minor((left * percent) / 400n),
              writtenOff: minor((left * percent) / 300n),
            });
          });
          const came = takes.reduce((t, x) => t + x.amount - x.discount - x.writtenOff, 0n) + more;
          const { draft } = receiptJournal(
            receipt(came, takes, { currency: "USD", rate: { rate: "0.9137" } }),
            TO,
          );
          const sum = (of: "amount" | "foreignAmount") =>
            draft.lines.reduce((t, l) => t + (l.side === "debit" ? 1n : -1n) * (l[of] ?? 0n), 0n);
          expect([sum("amount"), sum("foreignAmount")]).toEqual([0n, 0n]);
        },
      ),
    );
  });
  test("more than came is never taken", () => {
    expect(() => lines(receipt(99n, [take(item(1, 100n))]))).toThrow(RangeError);
  });
});
