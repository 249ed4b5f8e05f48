import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { termsSchema } from "../openItems";
import { minor } from "../shared";
import type { TaxCode } from "../taxes";
import { BUYING, readPaper, SELLING, type PaperContext, type PaperInput } from "./index";
import type { PaperLine, PaperPlug, TradeSide } from "./index";

const code = (more: Partial<TaxCode> & { code: string }): TaxCode => ({
  direction: "sale",
  name: `Tax ${more.code}`,
  kind: "standard",
  account: "1410",
  owedAccount: "2210",
  recoverable: "100",
  returnLine: "10",
  category: "",
  reason: "",
  blocked: false,
  rates: [{ from: "2020-01-01", percent: "23" }],
  ...more,
});
const contextOf = (direction: TaxCode["direction"], more: Partial<TaxCode> = {}): PaperContext => ({
  functional: "EUR",
  today: "2026-11-05",
  control: direction === "sale" ? "1200" : "2140",
  partner: { code: "P-1", name: "Isle of Skerry Council", terms: "2-10-30", blocked: false },
  taxCodes: new Map(
    (["standard", "reverse", "none", "withheld"] as const).map((kind) => [
      kind.toUpperCase(),
      code({
        code: kind.toUpperCase(),
        kind,
        direction,
        ...more,
      }),
    ]),
  ),
  terms: new Map([["2-10-30", termsSchema.cast({ discounts: [{ days: 10, percent: "2" }] })]]),
});
/** Lines become what they are: nothing is shared out or compared. */
const plain: PaperPlug<PaperLine> = {
  isBlank: (l) => l.account === "" && l.net === "",
  addLines: (to, written, { sign }) => {
    for (const w of written)
      to.add(
        { written: true, account: w.input.account, dimensions: {}, description: "" },
        sign * (w.net + w.tax - w.recoverable),
        w.line,
      );
    return [];
  },
};
const paper = (
  lines: { account: string; net: string; taxCode: string }[],
  more: Partial<PaperInput<PaperLine>> = {},
): PaperInput<PaperLine> => ({
  company: "HSF",
  partner: "P-1",
  number: "",
  kind: "invoice",
  date: "2026-10-31",
  postingDate: "",
  terms: "",
  dueDate: "",
  currency: null,
  rateKind: "spot",
  rate: "",
  description: "",
  total: "",
  rounding: "line",
  taxPeriod: "",
  controlAccount: "",
  withholding: "",
  gross: false,
  ...more,
  lines: lines.map((l) => ({ dimensions: {}, description: "", company: "", ...l })),
});
const sell = (
  lines: Parameters<typeof paper>[0],
  more: Parameters<typeof paper>[1] = {},
  tax: Partial<TaxCode> = {},
) => readPaper(paper(lines, more), contextOf("sale", tax), SELLING, plain);
const sides = (r: ReturnType<typeof sell>) =>
  r.entry.lines.map((l) => `${l.account} ${l.side} ${l.amount}`);
const berth = { account: "4210", net: "1,000.00", taxCode: "STANDARD" };

describe("what is sold", () => {
  test("revenue, output tax, and the customer by the terms, with the discount that we grant", () => {
    const r = sell([berth]);
    expect(r.problems).toEqual([]);
    expect(sides(r)).toEqual(["4210 credit 100000", "2210 credit 23000", "1200 debit 123000"]);
    expect(r.entry).toMatchObject({ type: "sales", date: "2026-10-31" });
    expect(r.entry.lines[2]).toMatchObject({
      partner: "P-1",
      dueDate: "2026-11-30",
      item: { kind: "invoice", discounts: [{ until: "2026-11-10", percent: "2", amount: 2460n }] },
    });
  });
  test("a credit note stands on the other sides and grants no discount", () => {
    const r = sell([berth], { kind: "credit note" });
    expect(sides(r)).toEqual(["4210 debit 100000", "2210 debit 23000", "1200 credit 123000"]);
    expect(r.entry.lines[2]!.item).toEqual({ kind: "credit note", reference: "" });
  });
  test("under reverse charge the customer owes the tax to the office: it is computed and booked nowhere", () => {
    const r = sell([{ ...berth, taxCode: "REVERSE" }]);
    expect(sides(r)).toEqual(["4210 credit 100000", "1200 debit 100000"]);
    expect(r.taxes).toMatchObject([{ base: 100_000n, tax: 23_000n, reverse: true }]);
  });
  test("what the customer keeps back is what the office owes us", () =>
    expect(sides(sell([{ ...berth, taxCode: "NONE" }], { withholding: "withheld" }))).toEqual([
      "4210 credit 100000",
      "1410 debit 23000",
      "1200 debit 77000",
    ]));
  test("all tax is passed on, whatever a code says can be recovered", () =>
    expect(sides(sell([berth], {}, { recoverable: "40" }))).toEqual(sides(sell([berth]))));
  test("what stands against it is said in words of selling, at the fields of selling", () => {
    const r = readPaper(
      paper([], { controlAccount: "2140" }),
      { ...contextOf("sale"), partner: null },
      SELLING,
      plain,
    );
    expect(r.problems).toMatchObject([
      { code: "PARTNER_UNKNOWN", field: "customer" },
      { code: "REQUIRED", field: "lines" },
      { what: "Account 2140 is no control account of customers", field: "controlAccount" },
    ]);
  });
});

test("for any lines, codes, rounding and kind both sides balance, and what is sold is what is bought with every side turned", () => {
  const line = fc.record({
    account: fc.constantFrom("4210", "4220"),
    net: fc.integer({ min: 1, max: 9_999_999 }).map((n) => (n / 100).toFixed(2)),
    taxCode: fc.constantFrom("STANDARD", "NONE"),
  });
  fc.assert(
    fc.property(
      fc.array(line, { minLength: 1, maxLength: 6 }),
      fc.constantFrom("invoice" as const, "credit note" as const),
      fc.constantFrom("line" as const, "total" as const),
      fc.boolean(),
      fc.constantFrom("5", "7.7", "19", "23"),
      (lines, kind, rounding, gross, percent) => {
        const read = (side: TradeSide) =>
          readPaper(
            paper(lines, { kind, rounding, gross, number: "N" }),
            contextOf(side.direction, { rates: [{ from: "2020-01-01", percent }] }),
            side,
            plain,
          );
        const [bought, sold] = [read(BUYING), read(SELLING)];
        const sum = (side: string) =>
          sold.entry.lines.reduce((t, l) => (l.side === side ? t + l.amount : t), 0n);
        expect(sum("debit")).toBe(sum("credit"));
        expect([sold.net, sold.tax, sold.gross]).toEqual([bought.net, bought.tax, bought.gross]);
        const other = { debit: "credit", credit: "debit" } as const;
        const account = { "2210": "1410", "1200": "2140" } as Record<string, string>;
        expect(
          sold.entry.lines.map((l) => [account[l.account] ?? l.account, other[l.side], l.amount]),
        ).toEqual(bought.entry.lines.map((l) => [l.account, l.side, l.amount]));
        if (gross && lines.every((l) => l.taxCode === "STANDARD"))
          expect(sold.gross).toBe(
            lines.reduce((t, l) => t + minor(BigInt(l.net.replace(".", ""))), 0n),
          );
      },
    ),
  );
});
