import { XMLParser } from "fast-xml-parser";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../../shared";
import { doubtsOfPaper } from "./doubts";
import { readEInvoice } from "./read";
import { writeEInvoice, type EInvoiceParty, type OutgoingInvoice } from "./write";

const m = minor;
const party = (name: string, more: Partial<EInvoiceParty> = {}): EInvoiceParty => ({
  name,
  street: "1 Quay",
  city: "Hollin",
  postcode: "D01",
  country: "IE",
  taxNumber: "IE9990017H",
  registerNumber: "",
  endpoint: null,
  ...more,
});
const berths: OutgoingInvoice = {
  kind: "invoice",
  number: "HSF-26-S00012",
  date: "2026-10-31",
  due: "2026-11-30",
  currency: "EUR",
  corrects: "",
  buyerReference: "Quay 4",
  order: "PO-9",
  note: "Berths & water",
  terms: "30 days",
  seller: party("Hollin Sound Ferries"),
  buyer: party("Isle of Skerry Council", { taxNumber: "" }),
  bank: { iban: "DE75512108001245126199", bic: "", holder: "", reference: "RF18539007547034" },
  lines: [
    {
      description: "Berth, October",
      quantity: "31",
      unit: "DAY",
      net: m(100_000n),
      category: "S",
      percent: "23",
    },
    {
      description: "Water <fresh>",
      quantity: "7.5",
      unit: "MTQ",
      net: m(2_001n),
      category: "E",
      percent: "0",
    },
  ],
  taxes: [
    { category: "S", percent: "23", base: m(100_000n), tax: m(23_000n), reason: "" },
    { category: "E", percent: "0", base: m(2_001n), tax: m(0n), reason: "Exempt, article 132" },
  ],
  prepaid: m(0n),
};
const written = (more: Partial<OutgoingInvoice> = {}): string => {
  const r = writeEInvoice({ ...berths, ...more });
  if (!r.ok) throw new Error(JSON.stringify(r.problems));
  return r.value;
};
const why = (more: Partial<OutgoingInvoice>): string => {
  const r = writeEInvoice({ ...berths, ...more });
  return r.ok ? "" : r.problems.map((p) => ("what" in p ? p.what : p.code)).join();
};
const read = (xml: string) => {
  const r = readEInvoice(xml);
  if (!r.ok) throw new Error(JSON.stringify(r.problems));
  return r.value;
};

describe("writeEInvoice (UBL 2.1, EN 16931)", () => {
  test("what it says is read back, and contradicts itself in nothing", () => {
    const paper = read(written());
    expect(doubtsOfPaper(paper)).toEqual([]);
    expect(paper).toMatchObject({
      kind: "invoice",
      number: "HSF-26-S00012",
      dueDate: "2026-11-30",
      order: "PO-9",
      note: "Berths & water",
      terms: "30 days",
      seller: { name: "Hollin Sound Ferries", taxNumber: "IE9990017H" },
      buyer: { name: "Isle of Skerry Council", reference: "Quay 4" },
      sums: { lines: "1020.01", tax: "230.00", taxInclusive: "1250.01", payable: "1250.01" },
      typeCode: "380",
    });
    expect(paper.lines.map((l) => [l.description, l.quantity, l.unit, l.net])).toEqual([
      ["Berth, October", "31", "DAY", "1000.00"],
      ["Water <fresh>", "7.5", "MTQ", "20.01"],
    ]);
  });
  test("a line that is supplied over a time names its first and last day (BG-26), never the wrong way round", () => {
    const over = { from: "2026-11-01", to: "2027-10-31" } as const;
    const [berth, water] = berths.lines;
    const text = written({ lines: [{ ...berth!, over }, water!] });
    const lines = text.split("<cac:InvoiceLine>").slice(1);
    expect(lines[0]).toMatch(
      /LineExtensionAmount>\s*<cac:InvoicePeriod>\s*<cbc:StartDate>2026-11-01<\/cbc:StartDate>\s*<cbc:EndDate>2027-10-31</,
    );
    expect(lines[1]).not.toContain("InvoicePeriod");
    const backwards = { from: over.to, to: over.from };
    expect(() => written({ lines: [{ ...berth!, over: backwards }, water!] })).toThrow(/BR-30/);
  });

  test("what goes to another member state says when and into which country (BR-IC-11, BR-IC-12), and to whom by number", () => {
    const [berth] = berths.lines;
    const abroad = {
      buyer: party("Fennick", { country: "DE", taxNumber: "DE123456789" }),
      lines: [{ ...berth!, category: "K" as const, percent: "0" }],
      taxes: [
        {
          category: "K" as const,
          percent: "0",
          base: m(100_000n),
          tax: m(0n),
          reason: "Article 138",
        },
      ],
    };
    const usual = written(abroad);
    expect(usual).toMatch(
      /<\/cac:AccountingCustomerParty>\s*<cac:Delivery>\s*<cbc:ActualDeliveryDate>2026-10-31</,
    );
    expect(usual.split("<cac:Delivery>")[1]).toMatch(/^[^]*?IdentificationCode>DE</);
    const to = { name: "Depot", street: "2 Dock", city: "Gdynia", postcode: "81", country: "PL" };
    const elsewhere = written({ ...abroad, delivery: { date: "2026-10-28", to } });
    expect(elsewhere).toMatch(
      /ActualDeliveryDate>2026-10-28<[^]*<cbc:CityName>Gdynia<[^]*Code>PL<[^]*<cac:DeliveryParty>[^]*Depot</,
    );
    expect(read(elsewhere)).toMatchObject({ number: berths.number });
    expect(written()).not.toContain("cac:Delivery>");
    expect(
      why({ ...abroad, delivery: { date: "2026-10-28", to: { ...to, country: "" } } }),
    ).toMatch(/BR-57/);
    expect(why({ ...abroad, buyer: party("Fennick", { taxNumber: "" }) })).toMatch(/BR-IC-02/);
  });

  test("a credit note names what it corrects, and has its due day with the means of payment", () => {
    const paper = read(written({ kind: "credit note", corrects: "HSF-26-S00009" }));
    expect(paper).toMatchObject({
      kind: "credit note",
      typeCode: "381",
      corrects: "HSF-26-S00009",
      dueDate: "2026-11-30",
    });
  });
  // The sequences of the UBL 2.1 schemas, as far as they are written.
  test.each([
    [
      "Invoice",
      "CustomizationID ID IssueDate DueDate InvoiceTypeCode Note DocumentCurrencyCode BuyerReference OrderReference AccountingSupplierParty AccountingCustomerParty PaymentMeans PaymentTerms TaxTotal LegalMonetaryTotal InvoiceLine",
    ],
    [
      "CreditNote",
      "CustomizationID ID IssueDate CreditNoteTypeCode Note DocumentCurrencyCode BuyerReference OrderReference BillingReference AccountingSupplierParty AccountingCustomerParty PaymentMeans PaymentTerms TaxTotal LegalMonetaryTotal CreditNoteLine",
    ],
  ])("the elements of %s stand in the order of its schema", (root, order) => {
    const xml = written(
      root === "Invoice" ? {} : { kind: "credit note", corrects: "HSF-26-S00009" },
    );
    const parsed = new XMLParser({ removeNSPrefix: true }).parse(xml) as Record<string, object>;
    expect(Object.keys(parsed[root]!).join(" ")).toBe(order);
  });
  test.each([
    [
      "tax rounded line by line",
      { taxes: [{ ...berths.taxes[0]!, tax: m(23_001n) }, berths.taxes[1]!] },
      "BR-CO-17",
    ],
    [
      "no reason for no tax",
      { taxes: [berths.taxes[0]!, { ...berths.taxes[1]!, reason: "" }] },
      "BR-E-10",
    ],
    ["a category that nothing is said of", { taxes: [berths.taxes[0]!] }, "category E"],
    ["a base that is not its lines", { lines: [berths.lines[1]!] }, "BR-S-08"],
    ["no tax number", { seller: party("Hollin", { taxNumber: "" }) }, "BR-S-02"],
    ["a buyer from nowhere", { buyer: party("Isle", { country: "" }) }, "The buyer's country"],
  ])("refused: %s", (_what, more, expected) => expect(why(more)).toContain(expected));
  test("for any lines, amounts and currency the paper adds up, prices meet their lines, and it is read back whole", () => {
    const line = fc.record({
      net: fc.bigInt(-(10n ** 9n), 10n ** 9n),
      quantity: fc.integer({ min: 1, max: 999_999 }).map((n) => String(n / 1000)),
      percent: fc.constantFrom("5", "7.7", "19", "23"),
    });
    fc.assert(
      fc.property(
        fc.array(line, { minLength: 1, maxLength: 8 }),
        fc.constantFrom("EUR", "JPY", "KWD"),
        fc.constantFrom("invoice" as const, "credit note" as const),
        (given, currency, kind) => {
          const percents = [...new Set(given.map((g) => g.percent))];
          const taxes = percents.map((percent) => {
            const base = given.filter((g) => g.percent === percent).reduce((t, g) => t + g.net, 0n);
            const tenths = base * BigInt(Math.round(Number(percent) * 10));
            const size = ((tenths < 0n ? -tenths : tenths) + 500n) / 1000n;
            const tax = m(base < 0n ? -size : size);
            return { category: "S" as const, percent, base: m(base), tax, reason: "" };
          });
          const paper = read(
            written({
              kind,
              currency,
              taxes,
              lines: given.map((g) => ({
                ...g,
                net: m(g.net),
                category: "S" as const,
                description: "x",
                unit: "C62",
              })),
            }),
          );
          // The rule for the tax of a category counts in hundredths: other currencies are left out.
          const doubts = doubtsOfPaper(paper);
          if (currency === "EUR") expect(doubts).toEqual([]);
          expect(doubts.filter((d) => !d.includes("BR-CO-17"))).toEqual([]);
          expect(paper.lines.length).toBe(given.length);
        },
      ),
    );
  });
});
