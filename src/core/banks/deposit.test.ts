import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import { depositJournal, shareOut, type DepositPart, type LineItem } from "./index";

const item = (id: number, left: bigint, leftFunctional = left): LineItem => ({
  id,
  account: "1310",
  control: "receivables",
  partner: "OST",
  reference: `R-${id}`,
  left: minor(left),
  leftFunctional: minor(leftFunctional),
});
const part = (amount: bigint, items: LineItem[] = []): DepositPart => ({
  kind: "cheque",
  partner: "OST",
  payer: "Ostry Council",
  cheque: "1001",
  amount: minor(amount),
  dueDate: null,
  fee: null,
  items,
  account: "1310",
});
const to = {
  company: "ALP",
  functional: "EUR",
  underWay: "1120",
  bills: "1330",
  discount: "4990",
  exchangeGain: "7710",
  exchangeLoss: "7720",
};
const slip = {
  number: "ALP-26-D00001",
  date: "2026-10-06",
  currency: "EUR",
  rate: "same" as const,
};
const lines = (of: DepositPart, more = slip as Parameters<typeof depositJournal>[1]) =>
  depositJournal(of, more, to).draft.lines.map((l) => [l.account, l.side, l.amount, l.partner]);

describe("a settlement of card payments", () => {
  const fee = { amount: minor(15n), account: "7450", dimensions: {} };
  const card = (amount: bigint, items: LineItem[] = []): DepositPart => ({
    ...part(amount, items),
    kind: "card",
    fee,
  });

  test("pays the whole of what the customer paid; the bank gets it less the fee, which is spent", () => {
    expect(lines(card(1_000n, [item(1, 1_000n)]))).toEqual([
      ["1310", "credit", 1_000n, "OST"],
      ["1120", "debit", 985n, undefined],
      ["7450", "debit", 15n, undefined],
    ]);
  });

  test("whatever is open and kept, and in any currency, its journal balances and takes what was paid", () =>
    fc.assert(
      fc.property(
        fc.bigInt({ min: 16n, max: 10n ** 9n }),
        fc.array(fc.bigInt({ min: 1n, max: 10n ** 8n }), { maxLength: 6 }),
        fc.constantFrom("same" as const, { rate: "1.0917" }),
        (amount, owed, rate) => {
          const items = owed.map((o, i) => item(i + 1, o));
          const of = card(amount, items);
          const currency = rate === "same" ? "EUR" : "USD";
          const { draft, settles } = depositJournal(of, { ...slip, currency, rate }, to);
          for (const side of [
            draft.lines.map((l) => l.amount),
            draft.lines.map((l) => l.foreignAmount ?? l.amount),
          ]) {
            const turned = draft.lines.map((l, i) => (l.side === "debit" ? side[i]! : -side[i]!));
            expect(turned.reduce((t, a) => t + a, 0n)).toBe(0n);
          }
          const taken = settles.reduce((t, s) => t + s.taken, 0n);
          expect(taken).toBe(
            [amount, owed.reduce((t, o) => t + o, 0n)].sort((a, b) => (a < b ? -1 : 1))[0],
          );
        },
      ),
    ));
});

describe("a slip of cheques", () => {
  test("pays items in their order, and keeps the rest on account", () => {
    expect(lines(part(1_000n, [item(1, 600n), item(2, 300n)]))).toEqual([
      ["1310", "credit", 900n, "OST"],
      ["1120", "debit", 1_000n, undefined],
      ["1310", "credit", 100n, "OST"],
    ]);
    expect(lines(part(700n, [item(1, 600n), item(2, 300n)]))).toEqual([
      ["1310", "credit", 700n, "OST"],
      ["1120", "debit", 700n, undefined],
    ]);
  });

  test("what is under way is known by the slip", () => {
    const { draft } = depositJournal(part(5n, [item(1, 5n)]), slip, to);
    expect(draft.lines.find((l) => l.account === "1120")?.item?.reference).toBe("ALP-26-D00001");
    expect(draft.type).toBe("bank");
  });

  test("a bill is receivable from its debtor until its day, and its fee pays no item", () => {
    const bill: DepositPart = {
      ...part(1_020n, [item(1, 900n), item(2, 300n)]),
      kind: "bill",
      dueDate: "2027-01-04",
      fee: { amount: minor(20n), account: "4980", dimensions: {} },
    };
    expect(lines(bill)).toEqual([
      ["1310", "credit", 1_000n, "OST"],
      ["1330", "debit", 1_020n, "OST"],
      ["4980", "credit", 20n, undefined],
    ]);
    const { draft } = depositJournal(bill, slip, to);
    expect(draft.lines[1]).toMatchObject({
      dueDate: "2027-01-04",
      item: { kind: "receipt", reference: slip.number },
    });
    expect(draft.description).toBe("Bill of exchange 1001 from Ostry Council, ALP-26-D00001");
  });

  test("in another currency the difference of the rates is in the result", () => {
    const dollars = { ...slip, currency: "USD", rate: { rate: "0.9" } as never };
    expect(lines(part(1_000n, [item(1, 1_000n, 850n)]), dollars)).toEqual([
      ["1310", "credit", 850n, "OST"],
      ["1120", "debit", 900n, undefined],
      ["7710", "credit", 50n, undefined],
    ]);
  });

  test("nothing is lost: what is taken and what is left is the amount, and no more than is owed", () =>
    fc.assert(
      fc.property(
        fc.bigInt({ min: 1n, max: 10n ** 9n }),
        fc.array(fc.bigInt({ min: 1n, max: 10n ** 8n }), { maxLength: 12 }),
        (amount, owed) => {
          const items = owed.map((o, i) => item(i + 1, o));
          const { settles, rest } = shareOut(part(amount, items));
          expect(settles.reduce((t, s) => t + s.taken, 0n) + rest).toBe(amount);
          for (const s of settles) expect(s.taken <= items[s.item - 1]!.left).toBe(true);
          expect(rest > 0n && settles.length < items.length).toBe(false);
        },
      ),
    ));
});
