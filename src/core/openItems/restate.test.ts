import fc from "fast-check";
import { expect, test } from "vitest";
import { minor, type Found } from "../shared";
import { restatement, type ItemToRestate } from "./restate";

const invoice = (left: bigint, leftFunctional: bigint): ItemToRestate => ({
  id: 7,
  account: "1150",
  partner: "C-1",
  currency: "USD",
  left: minor(left),
  leftFunctional: minor(leftFunctional),
  kind: "invoice",
  reference: "S-12",
  dueDate: "2026-11-30",
});
const company = {
  code: "HSF",
  currency: "EUR",
  type: "receipt",
  exchangeGain: "7210",
  exchangeLoss: "7220",
};
const restate = (
  item: ItemToRestate,
  taken: bigint,
  currency: string,
  amount: bigint,
  rate: "same" | { rate: string } = "same",
) =>
  restatement(
    item,
    { date: "2026-11-05", taken: minor(taken), currency, amount: minor(amount), rate },
    company,
  );
const first = (r: { ok: boolean; problems?: readonly Found[] }) => r.problems?.[0];

test("USD 1,000 carried at EUR 930 and owed as EUR 920 from here is a loss of EUR 10 (IAS 21.28)", () => {
  const r = restate(invoice(100_000n, 93_000n), 100_000n, "EUR", 92_000n);
  expect(r.ok && r.value.difference).toBe(1_000n);
  expect(r.ok && r.value.draft.lines).toMatchObject([
    { side: "credit", amount: 93_000n, currency: "USD", foreignAmount: 100_000n },
    {
      side: "debit",
      amount: 92_000n,
      dueDate: "2026-11-30",
      item: { kind: "invoice", reference: "S-12" },
    },
    { account: "7220", side: "debit", amount: 1_000n },
  ]);
  expect(r.ok && r.value.draft.lines[1]).not.toHaveProperty("currency");
});

test("whatever is restated, of either sign and into a third currency, balances and takes no more than there is", () => {
  const amount = fc.bigInt({ min: 1n, max: 10n ** 12n });
  fc.assert(
    fc.property(
      amount,
      amount,
      amount,
      amount,
      fc.boolean(),
      fc.constantFrom(
        ["EUR", "same"] as const,
        ["ISK", { rate: "0.0066" }] as const,
        ["GBP", { rate: "1.17" }] as const,
      ),
      (left, functional, part, into, credit, [currency, rate]) => {
        const sign = credit ? -1n : 1n;
        const taken = part > left ? left : part;
        const r = restate(invoice(sign * left, sign * functional), taken, currency, into, rate);
        if (!r.ok) return expect(first(r)).toMatchObject({ what: "It comes to nothing there" });
        const { draft, takes } = r.value;
        const signed = draft.lines.map((l) => (l.side === "debit" ? l.amount : -l.amount));
        expect(signed.reduce((t, x) => t + x, 0n)).toBe(0n);
        expect(takes.amount).toBe(sign * taken);
        expect(signed[0]).toBe(-takes.functional);
        const made = draft.lines[1]!;
        expect(made.foreignAmount ?? made.amount).toBe(into);
        expect(made.side).toBe(credit ? "credit" : "debit");
      },
    ),
  );
});

test("its own currency, more than is left, nothing, and no account for the difference are refused", () => {
  const item = invoice(100_000n, 93_000n);
  expect(first(restate(item, 100_000n, "USD", 100_000n))).toMatchObject({ field: "currency" });
  expect(first(restate(item, 100_001n, "EUR", 92_000n))).toMatchObject({
    code: "ITEM_OVERALLOCATED",
    left: 100_000n,
  });
  expect(first(restate(item, 0n, "EUR", 92_000n))).toMatchObject({ code: "ITEM_OVERALLOCATED" });
  expect(first(restate(item, 100_000n, "EUR", 0n))).toMatchObject({ field: "amount" });
  const r = restatement(
    item,
    {
      date: "2026-11-05",
      taken: minor(1n),
      currency: "EUR",
      amount: minor(5n),
      rate: "same",
    },
    { ...company, exchangeGain: undefined },
  );
  expect(first(r)).toMatchObject({ code: "PURPOSE_MISSING" });
});
