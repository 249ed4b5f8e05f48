import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../../shared";
import type { ItemTax } from "../../taxes";
import { expectedLoss, lossBucket, lossRate, rateText, writeOffJournal } from "./index";

describe("expected credit losses", () => {
  test("an item is in the bucket of its days past due, to the day", () => {
    const on = "2026-12-31";
    const bucket = (due: string) => lossBucket(due, on);
    expect(
      ["2027-02-01", "2026-12-31", "2026-12-30", "2026-12-01", "2026-11-30", "2026-10-31"].map(
        bucket,
      ),
    ).toEqual([0, 0, 1, 1, 2, 3]);
    expect([bucket("2026-10-02"), bucket("2026-10-01"), bucket("2020-01-01")]).toEqual([3, 4, 4]);
  });

  test("a rate is what was lost of all that came to be so old, with what is expected ahead", () => {
    const history = { reached: minor(1_000_000n), lost: minor(12_500n) };
    expect(lossRate(history, "0")).toBe(12_500n);
    expect(lossRate(history, "20")).toBe(15_000n);
    expect(lossRate(history, "-100")).toBe(0n);
    expect(lossRate({ reached: minor(100n), lost: minor(90n) }, "50")).toBe(1_000_000n);
    expect(lossRate({ reached: minor(0n), lost: minor(0n) }, "0")).toBe(0n);
    expect(rateText(12_500n)).toBe("1.25");
    expect(rateText(15n)).toBe("0.0015");
  });

  test("a loss is within what is owed, grows with it, and is nothing of a credit", () => {
    const amount = fc.bigInt({ min: 0n, max: 10n ** 13n });
    const rate = fc.bigInt({ min: 0n, max: 1_000_000n });
    fc.assert(
      fc.property(amount, amount, rate, (a, b, r) => {
        const [less, more] = a < b ? [a, b] : [b, a];
        const loss = expectedLoss(minor(more), r);
        expect(loss >= expectedLoss(minor(less), r) && loss <= more).toBe(true);
        expect(expectedLoss(minor(-more), r)).toBe(0n);
      }),
    );
    expect(expectedLoss(minor(10_050n), 5_000n)).toBe(50n);
    expect(expectedLoss(minor(10_100n), 5_000n)).toBe(51n);
  });
});

describe("a write-off", () => {
  const vat: ItemTax = {
    code: "OUT",
    base: minor(100_000n),
    tax: minor(23_000n),
    recoverable: minor(0n),
    functionalBase: minor(90_000n),
    functionalTax: minor(20_700n),
    reverse: false,
    account: "",
    owedAccount: "2210",
  };
  const of = {
    company: { code: "ALP", currency: "EUR" },
    date: "2026-10-15",
    partner: "FEN",
    name: "Fennick Freight",
    reason: "insolvent",
    lossAccount: "7460",
    dimensions: { costCentre: "HARB" },
  };

  test("in another currency it balances in both, gives back its part of the tax, and has no exchange difference", () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: 1n, max: 123_000n }),
        fc.bigInt({ min: 1n, max: 200_000n }),
        fc.boolean(),
        (amount, functional, corrected) => {
          const { draft, taxes } = writeOffJournal(
            [
              {
                id: 1,
                account: "1310",
                reference: "S1",
                amount: minor(amount),
                functional: minor(functional),
                taxes: corrected ? [vat] : [],
              },
            ],
            { ...of, currency: "USD" },
          );
          const signed = (pick: (l: (typeof draft.lines)[number]) => bigint) =>
            draft.lines.reduce((t, l) => t + (l.side === "debit" ? 1n : -1n) * pick(l), 0n);
          expect(signed((l) => l.amount)).toBe(0n);
          expect(signed((l) => l.foreignAmount!)).toBe(0n);
          expect(draft.lines[0]).toMatchObject({
            account: "1310",
            side: "credit",
            amount: functional,
          });
          expect(taxes.length).toBe(corrected ? 1 : 0);
          if (corrected) expect(taxes[0]!.tax <= 23_000n).toBe(true);
        },
      ),
    );
  });

  test("of several items each tax comes back in its part; one that the buyer owes does not", () => {
    const { draft } = writeOffJournal(
      [
        {
          id: 1,
          account: "1310",
          reference: "A",
          amount: minor(61_500n),
          functional: minor(61_500n),
          taxes: [{ ...vat, functionalBase: vat.base, functionalTax: vat.tax }],
        },
        {
          id: 2,
          account: "1310",
          reference: "B",
          amount: minor(50_000n),
          functional: minor(50_000n),
          taxes: [
            { ...vat, base: minor(50_000n), tax: minor(11_500n), reverse: true, owedAccount: "" },
          ],
        },
      ],
      { ...of, currency: "EUR" },
    );
    expect(draft.lines.map((l) => [l.account, l.side, l.amount])).toEqual([
      ["1310", "credit", 111_500n],
      ["2210", "debit", 11_500n],
      ["7460", "debit", 100_000n],
    ]);
  });
});
