import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor, type Minor } from "../shared";
import { termsSchema } from "../openItems";
import { invoiceInput, numberKey, readInvoice, type InvoiceContext } from "./index";
import { rateOn, taxOf, type TaxCode } from "../taxes";

const code = (more: Partial<TaxCode> & { code: string }): TaxCode => ({
  direction: "purchase",
  name: `Tax ${more.code}`,
  kind: "standard",
  account: "1410",
  owedAccount: "2210",
  recoverable: "100",
  returnLine: "60",
  category: "",
  reason: "",
  blocked: false,
  rates: [
    { from: "2020-01-01", percent: "23" },
    { from: "2026-07-01", percent: "21.5" },
  ],
  ...more,
});
const context: InvoiceContext = {
  functional: "EUR",
  today: "2026-11-05",
  control: "2140",
  partner: { code: "S-1", name: "Tarn Rope", terms: "2-10-30", blocked: false },
  taxCodes: new Map(
    [
      code({ code: "S" }),
      code({ code: "HALF", recoverable: "50" }),
      code({ code: "RC", kind: "reverse" }),
      code({ code: "Z", kind: "none", rates: [{ from: "2020-01-01", percent: "0" }] }),
    ].map((c) => [c.code, c]),
  ),
  terms: new Map([
    ["2-10-30", termsSchema.validateSync({ discounts: [{ percent: "2", days: 10 }] })],
    [
      "half",
      termsSchema.validateSync({
        instalments: [
          { percent: "50", days: 10 },
          { percent: "50", days: 40 },
        ],
      }),
    ],
  ]),
};
const line = (account: string, net: string, taxCode: string, more: object = {}) => ({
  account,
  net,
  taxCode,
  ...more,
});
const read = (lines: object[], more: object = {}) =>
  readInvoice(
    invoiceInput({
      company: "HSF",
      supplier: "S-1",
      number: "T-88",
      date: "2026-06-30",
      lines,
      ...more,
    }),
    context,
  );
const sides = (r: ReturnType<typeof read>) =>
  r.entry.lines.map((l) => `${l.account} ${l.side} ${l.amount}`);
const codes = (r: ReturnType<typeof read>) =>
  r.problems.map((p) => `${p.line ?? ""}${p.field ?? ""}:${p.code}`);

describe("taxOf", () => {
  test("each line rounded, or all once: three times 33.33 at 23 % is 23.01 by line and 23.00 in total (worked example)", () => {
    const nets = [3333n, 3333n, 3333n].map(minor);
    const total = (r: "line" | "total") =>
      taxOf(nets, "23", "100", r).reduce((t, x) => t + x.tax, 0n);
    expect([total("line"), total("total")]).toEqual([2301n, 2300n]);
  });
  test("in total it is the tax of the sum, whatever the lines, and by line never further from it than half a unit each", () => {
    fc.assert(
      fc.property(
        fc.array(fc.bigInt(-(10n ** 9n), 10n ** 9n), { minLength: 1, maxLength: 20 }),
        fc.integer({ min: 0, max: 3000 }),
        (amounts, hundredths) => {
          const nets = amounts.map(minor);
          const percent = String(hundredths / 100);
          const whole = taxOf(
            [nets.reduce((a, b) => minor(a + b), minor(0n))],
            percent,
            "100",
            "line",
          )[0]!.tax;
          const sum = (r: "line" | "total"): bigint =>
            taxOf(nets, percent, "100", r).reduce((t, x) => t + x.tax, 0n);
          expect(sum("total")).toBe(whole);
          const apart = sum("line") - whole;
          expect((apart < 0n ? -apart : apart) * 2n <= BigInt(nets.length) + 1n).toBe(true);
        },
      ),
    );
  });
  test("the rate is the one of the invoice's day", () =>
    expect([
      rateOn(context.taxCodes.get("S")!, "2026-06-30")?.percent,
      rateOn(context.taxCodes.get("S")!, "2026-07-01")?.percent,
      rateOn(context.taxCodes.get("S")!, "2019-12-31"),
    ]).toEqual(["23", "21.5", null]));
});

describe("readInvoice", () => {
  test("cost, recoverable tax, and the supplier by the terms: 2 % within ten days, 30 days net", () => {
    const r = read([line("6310", "1,000.00", "S")], { total: "1,230.00" });
    expect(r.problems).toEqual([]);
    expect(sides(r)).toEqual(["6310 debit 100000", "1410 debit 23000", "2140 credit 123000"]);
    expect(r.entry.lines[2]).toMatchObject({
      partner: "S-1",
      dueDate: "2026-07-30",
      item: { kind: "invoice", reference: "T-88" },
    });
    expect(r.instalments[0]!.discounts).toEqual([
      { until: "2026-07-10", percent: "2", amount: 2460n },
    ]);
  });
  test("half of the tax is part of the cost; under reverse charge the buyer owes it and the supplier does not get it", () => {
    expect(sides(read([line("6310", "100.00", "HALF")]))).toEqual([
      "6310 debit 11150",
      "1410 debit 1150",
      "2140 credit 12300",
    ]);
    const reverse = read([line("6310", "100.00", "RC")]);
    expect([sides(reverse), reverse.gross]).toEqual([
      ["6310 debit 10000", "1410 debit 2300", "2210 credit 2300", "2140 credit 10000"],
      10_000n,
    ]);
  });
  test("a credit note goes to the other sides; a discount line lowers the tax too; two instalments are two items", () => {
    const r = read([line("6310", "1,000.00", "S"), line("6310", "-100.00", "S")], {
      kind: "credit note",
      terms: "half",
    });
    expect(sides(r)).toEqual([
      "6310 credit 100000",
      "6310 debit 10000",
      "1410 credit 20700",
      "2140 debit 55350",
      "2140 debit 55350",
    ]);
  });
  test("amounts that include their tax are taken apart to the cent: 123.00 at 23 % is 100.00 and 23.00, 0.99 is 0.80 and 0.19", () => {
    const r = read([line("6310", "123.00", "S"), line("6310", "0.99", "S")], { gross: true });
    expect([r.lines.map((l) => [l.net, l.tax]), r.gross]).toEqual([
      [
        [10_000n, 2_300n],
        [80n, 19n],
      ],
      12_399n,
    ]);
  });
  test("what is missing or wrong is said at its place", () => {
    expect(
      codes(
        read([line("6310", "ten", "S"), line("6310", "1.00", "X"), line("6310", "1.00", "")], {
          number: "",
          date: "31 June",
          total: "5",
        }),
      ),
    ).toEqual([
      "date:DATE_INVALID",
      "number:REQUIRED",
      "1net:AMOUNT_NOT_NUMBER",
      "2taxCode:TAX_UNKNOWN",
      "3taxCode:REQUIRED",
      "total:INVOICE_TOTAL",
    ]);
    expect(codes(read([]))).toEqual(["lines:REQUIRED"]);
  });
  test("it always balances, and what is owed is net and tax", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.bigInt(-(10n ** 8n), 10n ** 8n), fc.constantFrom("S", "HALF", "RC", "Z")),
          { minLength: 1, maxLength: 12 },
        ),
        fc.constantFrom("line", "total"),
        fc.boolean(),
        fc.constantFrom("invoice", "credit note"),
        fc.constantFrom("", "half"),
        (parts, rounding, gross, kind, terms) => {
          const r = read(
            parts.map(([n, c]) =>
              line(
                "6310",
                `${n < 0n ? "-" : ""}${(n < 0n ? -n : n) / 100n}.${String((n < 0n ? -n : n) % 100n).padStart(2, "0")}`,
                c,
              ),
            ),
            { rounding, gross, kind, terms },
          );
          const sum = (side: string): bigint =>
            r.entry.lines.reduce((t: bigint, l) => (l.side === side ? t + l.amount : t), 0n);
          expect(sum("debit")).toBe(sum("credit"));
          expect(r.gross).toBe(r.net + r.tax);
          expect(r.instalments.reduce((t: bigint, i) => t + i.amount, 0n)).toBe(r.gross as Minor);
        },
      ),
    );
  });
});

describe("numberKey", () => {
  test.each([
    ["INV-00123", "INV123"],
    ["inv 123", "INV123"],
    ["2026/007", "20267"],
    ["100", "100"],
  ])("%s is %s", (number, key) => expect(numberKey(number)).toBe(key));
});

describe("tax within the amount", () => {
  test("what is recovered is never more than what is charged, and with full recovery all of it: 100.05 at 20 % has 16.67", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20_000 }),
        fc.constantFrom("5", "19", "20", "23", "25", "7.7"),
        fc.constantFrom("100", "50", "0", "33.3"),
        fc.boolean(),
        fc.constantFrom("invoice" as const, "credit note" as const),
        (cents, percent, recoverable, gross, kind) => {
          const context = {
            functional: "EUR",
            today: "2026-10-15",
            taxCodes: new Map([
              [
                "X",
                { ...code({ code: "X", recoverable }), rates: [{ from: "2020-01-01", percent }] },
              ],
            ]),
            terms: new Map(),
            partner: { code: "A", name: "A", terms: null, blocked: false },
            control: "2140",
          };
          const net = `${Math.floor(cents / 100)}.${String(cents % 100).padStart(2, "0")}`;
          const reading = readInvoice(
            invoiceInput({
              company: "ALP",
              supplier: "A",
              number: "1",
              date: "2026-10-02",
              kind,
              gross,
              lines: [{ account: "6310", net, taxCode: "X" }],
            }),
            context,
          );
          const [tax] = reading.taxes;
          expect(tax!.recoverable >= 0n && tax!.recoverable <= tax!.tax).toBe(true);
          if (recoverable === "100") expect(tax!.recoverable).toBe(tax!.tax);
          const sum = (side: string) =>
            reading.entry.lines.reduce((t, l) => (l.side === side ? t + l.amount : t), 0n);
          expect(sum("debit")).toBe(sum("credit"));
          if (gross) expect(reading.gross).toBe(BigInt(cents));
        },
      ),
    );
  });
});
