import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { isCreditorReference, creditorReference } from "../banks/bankText";
import { termsSchema } from "../openItems";
import { decimalText, minor } from "../shared";
import type { TaxCode } from "../taxes";
import {
  paymentCode,
  readSale,
  saleInput,
  type SaleContext,
  type SaleInput,
  type SaleLineInput,
} from "./index";

const code = (more: Partial<TaxCode> & { code: string }): TaxCode => ({
  direction: "sale",
  name: more.code,
  kind: "standard",
  account: "",
  owedAccount: "2210",
  recoverable: "100",
  returnLine: "S1",
  category: "",
  reason: "",
  blocked: false,
  rates: [{ from: "2020-01-01", percent: "23" }],
  ...more,
});
const none = { kind: "none" as const, rates: [{ from: "2020-01-01", percent: "0" }] };
const CODES = [
  code({ code: "S23" }),
  code({ code: "AE", kind: "reverse" }),
  code({ code: "K", ...none, category: "K" }),
  code({ code: "G", ...none, category: "G" }),
  code({ code: "E", ...none }),
];
const context = (more: Partial<SaleContext> = {}): SaleContext => ({
  company: "HSF",
  functional: "EUR",
  today: "2026-11-05",
  control: "1310",
  partner: { code: "C-204", name: "Fennick Freight", terms: null, blocked: false },
  taxCodes: new Map(CODES.map((c) => [c.code, c])),
  terms: new Map(),
  deferral: null,
  prepaymentAccount: "2430",
  prepayments: new Map(),
  taxNumber: "DE123456789",
  country: "DE",
  ownCountry: "IE",
  shares: new Map(),
  items: new Map(),
  ...more,
});
const onDelivery = termsSchema.cast({
  instalments: [
    { percent: "90", days: 0, fromDelivery: true },
    { percent: "10", days: 0, fromDelivery: true, months: 12 },
  ],
});
type Lines = readonly Partial<SaleLineInput>[];
const read = (lines: Lines, head: Partial<SaleInput> = {}, more: Partial<SaleContext> = {}) =>
  readSale(
    saleInput({ company: "HSF", customer: "C-204", date: "2026-11-03", ...head, lines }),
    context(more),
    "HSF-26-S00001",
  );
const berth = { account: "4130", taxCode: "S23" };
const said = (r: ReturnType<typeof read>) =>
  r.problems.map((p) => [p.field, "what" in p ? p.what : p.code]);

describe("what is paid on delivery", () => {
  const terms = new Map([["D", onDelivery]]);
  const sold = (head: Partial<SaleInput>) =>
    read([{ ...berth, net: "100.00" }], { terms: "D", ...head }, { terms });
  test("falls due when it was supplied; a part is kept for a year", () => {
    const r = sold({ deliveredOn: "20 Nov 2026" });
    expect(r.problems).toEqual([]);
    expect(r.instalments.map((i) => [i.due, i.amount])).toEqual([
      ["2026-11-20", 11_070n],
      ["2027-11-20", 1_230n],
    ]);
  });
  test("has to say when, unless it names its own due date; what can't be read is said once", () => {
    expect(said(sold({}))).toEqual([
      ["deliveredOn", "Its terms count from the delivery: say when it was supplied"],
    ]);
    expect(sold({ dueDate: "30 Nov 2026" }).problems).toEqual([]);
    expect(sold({ kind: "credit note" }).instalments[0]!.due).toBe("2026-11-03");
    expect(said(sold({ prepayment: true }))).toEqual([]);
    expect(said(sold({ deliveredOn: "soon" }))).toEqual([["deliveredOn", "DATE_INVALID"]]);
  });
});

describe("what a sale comes to", () => {
  test("quantity times price less the line's discount, and the document's off each line", () => {
    const r = read(
      [
        { ...berth, quantity: "3", price: "33.335", discount: "10" },
        { ...berth, net: "100.00" },
      ],
      { discount: "5" },
    );
    expect(r.problems).toEqual([]);
    // 3 × 33.335 × 0.9 = 90.0045; 5 % of 90.00 and of 100.00.
    expect(r.values).toMatchObject([
      { value: 9_000n, allowance: 450n, price: "33.335" },
      { value: 10_000n, allowance: 500n, price: "" },
    ]);
    expect(r.net).toBe(18_050n);
    expect(r.tax).toBe(4_152n);
    expect(r.entry.lines.map((l) => `${l.account} ${l.side} ${l.amount}`)).toEqual([
      "4130 credit 8550",
      "4130 credit 9500",
      "2210 credit 4152",
      "1310 debit 22202",
    ]);
    expect(r.entry.reference).toBe("HSF-26-S00001");
  });
  test("tax is rounded once for all lines, as e-invoices ask for", () =>
    expect(read(Array.from({ length: 3 }, () => ({ ...berth, net: "0.02" }))).tax).toBe(1n));
  test("an amount beside a price has to be what they come to", () =>
    expect(said(read([{ ...berth, quantity: "2", price: "5", net: "9.00" }]))).toEqual([
      ["net", "Quantity and price come to 10.00, not 9.00"],
    ]));
  test("what can't be read is said at its cell, and once", () => {
    expect(said(read([{ ...berth, price: "a" }]))[0]![0]).toBe("price");
    expect(read([{ ...berth, price: "a" }]).problems).toHaveLength(1);
    expect(said(read([{ ...berth, price: "1", quantity: "0" }]))).toEqual([
      ["quantity", "QUANTITY_INVALID"],
    ]);
    expect(said(read([{ ...berth, price: "1", discount: "101" }]))[0]![0]).toBe("discount");
    expect(said(read([{ ...berth, net: "1.00" }], { discount: "-5" }))[0]![0]).toBe("discount");
    expect(said(read([berth]))).toEqual([["net", "NO_AMOUNT"]]);
  });
});

describe("what the paper rests on", () => {
  test("whoever owes the tax itself is named by its tax number", () => {
    const line = [{ ...berth, taxCode: "AE", net: "10.00" }];
    expect(said(read(line, {}, { taxNumber: "" }))[0]![1]).toContain("names its tax number");
    expect(read(line).problems).toEqual([]);
  });
  test("a supply within the community leaves the country and not the community; an export does", () => {
    const line = (taxCode: string) => [{ ...berth, taxCode, net: "10.00" }];
    expect(read(line("K")).problems).toEqual([]);
    expect(said(read(line("K"), {}, { country: "IE" }))).toHaveLength(1);
    expect(said(read(line("K"), {}, { country: "GB" }))).toHaveLength(1);
    expect(said(read(line("G")))).toHaveLength(1);
    expect(read(line("G"), {}, { country: "GB" }).problems).toEqual([]);
  });
  test("why a customer is blocked is said", () => {
    const partner = { ...context().partner!, blocked: true, why: "insolvent" };
    expect(said(read([{ ...berth, net: "1.00" }], {}, { partner }))).toEqual([
      ["customer", "Fennick Freight is blocked: insolvent"],
    ]);
  });
});

test("for any lines and discounts the journal balances, and net is what the lines say", () => {
  const cents = (most: number) =>
    fc.integer({ min: 1, max: most }).map((n) => decimalText(minor(BigInt(n)), "EUR"));
  const line = fc.record({
    account: fc.constantFrom("4130", "4140"),
    taxCode: fc.constantFrom("S23", "E", "AE"),
    quantity: fc.integer({ min: 1, max: 99_999 }).map((n) => (n / 1000).toString()),
    price: cents(999_999),
    discount: fc.constantFrom("", "3", "12.5", "100"),
  });
  fc.assert(
    fc.property(
      fc.array(line, { minLength: 1, maxLength: 6 }),
      fc.constantFrom("", "2.5", "33"),
      fc.constantFrom("invoice" as const, "credit note" as const),
      fc.boolean(),
      (lines, discount, kind, gross) => {
        const r = read(lines, { discount, kind, gross });
        expect(r.problems).toEqual([]);
        const sum = (side: string) =>
          r.entry.lines.reduce((t, l) => (l.side === side ? t + l.amount : t), 0n);
        expect(sum("debit")).toBe(sum("credit"));
        const amounts = r.values.reduce((t, v) => t + v.value - v.allowance, 0n);
        const own = r.taxes.reduce((t, x) => (x.reverse ? t : t + x.tax), 0n);
        expect(gross ? r.net + own : r.net).toBe(amounts);
      },
    ),
  );
});

describe("prepayments (IFRS 15.106: owed in services until they are)", () => {
  const asked = (left: bigint) =>
    new Map([
      [
        "HSF-26-S00001",
        {
          id: 7,
          number: "HSF-26-S00001",
          currency: "EUR",
          byTax: new Map([["S23", { asked: minor(100_000n), left: minor(left) }]]),
        },
      ],
    ]);
  const off = (net: string, more: Partial<SaleLineInput> = {}) => ({
    net,
    taxCode: "S23",
    setsOff: "hsf-26-s00001",
    ...more,
  });
  const posted = (r: ReturnType<typeof read>) =>
    r.entry.lines.map((l) => [l.account, l.side, l.amount]);

  test("what is asked for waits, with its tax; the last invoice earns the whole and takes it off", () => {
    const first = read([{ ...berth, net: "1,000.00" }], { prepayment: true });
    expect(first.problems).toEqual([]);
    expect(posted(first)).toEqual([
      ["2430", "credit", 100_000n],
      ["2210", "credit", 23_000n],
      ["1310", "debit", 123_000n],
    ]);
    expect(first.prepaid).toEqual([{ line: 1, of: null, taxCode: "S23", amount: 100_000n }]);
    const last = read(
      [{ ...berth, net: "2,500.00" }, off("-1,000.00")],
      {},
      { prepayments: asked(100_000n) },
    );
    expect(last.problems).toEqual([]);
    expect(posted(last)).toEqual([
      ["4130", "credit", 250_000n],
      ["2430", "debit", 100_000n],
      ["2210", "credit", 34_500n],
      ["1310", "debit", 184_500n],
    ]);
    expect(last.prepaid).toEqual([{ line: 2, of: 7, taxCode: "S23", amount: -100_000n }]);
  });

  test("no more is set off than is left under its tax, by lines together; only below nothing, only where it is known", () => {
    const set = (lines: Lines, left = 60_000n, head: Partial<SaleInput> = {}) =>
      said(read([{ ...berth, net: "5,000.00" }, ...lines], head, { prepayments: asked(left) }));
    expect(set([off("-600.00")])).toEqual([]);
    expect(set([off("-400.00"), off("-200.01")])).toHaveLength(1);
    expect(set([off("600.00")])).toHaveLength(1);
    expect(set([off("-1.00", { taxCode: "E" })])).toHaveLength(1);
    expect(set([off("-1.00", { setsOff: "HSF-26-S00009" })])).toHaveLength(1);
    expect(set([off("-1.00")], 60_000n, { discount: "2" })).toHaveLength(1);
    expect(set([off("-1.00")], 60_000n, { currency: "USD", rate: "1.1" })).not.toEqual([]);
    expect(
      said(read([{ ...berth, net: "9.00" }], { prepayment: true }, { prepaymentAccount: null })),
    ).toHaveLength(1);
  });

  test("a credit note takes back either, and no more than that", () => {
    const note = (lines: Lines, left: bigint, head: Partial<SaleInput> = {}) =>
      read(
        lines,
        { kind: "credit note", corrects: "HSF-26-S00001", ...head },
        { prepayments: asked(left) },
      );
    const own = { ...berth, net: "400.00" };
    expect(note([own], 60_000n, { prepayment: true }).prepaid).toEqual([
      { line: 1, of: 7, taxCode: "S23", amount: -40_000n },
    ]);
    expect(said(note([own], 30_000n, { prepayment: true }))).toHaveLength(1);
    expect(said(note([own], 60_000n))).toHaveLength(1);
    const last = { corrects: "HSF-26-S00005" };
    expect(note([{ ...berth, net: "500.00" }, off("-400.00")], 60_000n, last).prepaid).toEqual([
      { line: 2, of: 7, taxCode: "S23", amount: 40_000n },
    ]);
    expect(said(note([{ ...berth, net: "500.00" }, off("-400.01")], 60_000n, last))).toHaveLength(
      1,
    );
  });
});

describe("paying by the paper", () => {
  test("the creditor reference of any number has the check digits of the standard", () =>
    fc.assert(
      fc.property(fc.stringMatching(/^[A-Z0-9-]{1,21}$/), (number) => {
        const made = creditorReference(number);
        if (/[A-Z0-9]/.test(number)) expect(isCreditorReference(made)).toBe(true);
        else expect(made).toBe("");
      }),
    ));
  test("a known one of the standard", () =>
    expect(creditorReference("539007547034")).toBe("RF18539007547034"));
  test("the square says holder, account, amount and reference in the lines of EPC 069-12", () => {
    const paid = {
      holder: "Hollin Sound Ferries",
      iban: "IE29 AIBK 9311 5212 3456 78",
      bic: "",
      amount: minor(22_202n),
      reference: "RF18539007547034",
    };
    expect(paymentCode(paid).split("\n")).toEqual(
      ["BCD", "002", "1", "SCT", "", paid.holder, "IE29AIBK93115212345678"].concat([
        "EUR222.02",
        "",
        "RF18539007547034",
      ]),
    );
    expect(paymentCode({ ...paid, amount: minor(-1n) })).toBe("");
    expect(paymentCode({ ...paid, iban: "" })).toBe("");
  });
});
