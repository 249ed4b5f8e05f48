import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { readEInvoice } from "./read";
import { doubtsOfBuyer, doubtsOfPaper, doubtsOfTaxThere } from "./doubts";
import { quantityText, wordsOfPaper } from "./words";

const line = (more = "") =>
  `<cac:InvoiceLine><cbc:ID>1</cbc:ID><cbc:InvoicedQuantity unitCode="MTR">12</cbc:InvoicedQuantity><cbc:LineExtensionAmount currencyID="EUR">89.40</cbc:LineExtensionAmount><cac:OrderLineReference><cbc:LineID>2</cbc:LineID></cac:OrderLineReference><cac:Item><cbc:Name>Rope &amp; chain</cbc:Name><cac:ClassifiedTaxCategory><cbc:ID>S</cbc:ID><cbc:Percent>23</cbc:Percent></cac:ClassifiedTaxCategory></cac:Item>${more}</cac:InvoiceLine>`;
const ubl = (
  body = line(),
  head = "",
) => `<?xml version="1.0" encoding="UTF-8"?>${head}<Invoice xmlns="urn:oasis:names:specification:ubl:schema:xsd:Invoice-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
<cbc:ID>T-9</cbc:ID><cbc:IssueDate>2026-11-02</cbc:IssueDate><cbc:DueDate>2026-12-02</cbc:DueDate><cbc:DocumentCurrencyCode>EUR</cbc:DocumentCurrencyCode><cac:OrderReference><cbc:ID>HSF-26-O00012</cbc:ID></cac:OrderReference>
<cac:AccountingSupplierParty><cac:Party><cac:PartyTaxScheme><cbc:CompanyID>IE9002222W</cbc:CompanyID></cac:PartyTaxScheme><cac:PartyLegalEntity><cbc:RegistrationName>Tarn Rope</cbc:RegistrationName></cac:PartyLegalEntity></cac:Party></cac:AccountingSupplierParty>
<cac:PaymentMeans><cac:PayeeFinancialAccount><cbc:ID>DE75512108001245126199</cbc:ID></cac:PayeeFinancialAccount></cac:PaymentMeans><cac:AllowanceCharge><cbc:ChargeIndicator>false</cbc:ChargeIndicator><cbc:AllowanceChargeReason>Rebate</cbc:AllowanceChargeReason><cbc:Amount currencyID="EUR">5.00</cbc:Amount></cac:AllowanceCharge>
<cac:LegalMonetaryTotal><cbc:TaxInclusiveAmount currencyID="EUR">103.81</cbc:TaxInclusiveAmount></cac:LegalMonetaryTotal>${body}</Invoice>`;
const why = (xml: string) => {
  const r = readEInvoice(xml);
  return r.ok ? "" : (r.problems[0] as { what: string }).what;
};

describe("readEInvoice (UBL 2.1, EN 16931)", () => {
  test("fills everything that it says, an allowance as a line of its own", () => {
    const r = readEInvoice(ubl());
    expect(r.ok && r.value).toMatchObject({
      kind: "invoice",
      number: "T-9",
      date: "2026-11-02",
      dueDate: "2026-12-02",
      currency: "EUR",
      order: "HSF-26-O00012",
      sums: { taxInclusive: "103.81" },
      seller: { name: "Tarn Rope", taxNumber: "IE9002222W", iban: "DE75512108001245126199" },
    });
    expect(r.ok && r.value.lines).toEqual([
      {
        description: "Rope & chain",
        quantity: "12",
        unit: "MTR",
        net: "89.40",
        category: "S",
        percent: "23",
        orderLine: "2",
        ofDocument: false,
      },
      {
        description: "Rebate",
        quantity: "",
        unit: "",
        net: "-5.00",
        category: "",
        percent: "",
        orderLine: "",
        ofDocument: true,
      },
    ]);
  });
  test.each([
    [
      "an XML bomb",
      ubl(line(), `<!DOCTYPE a [<!ENTITY b "${"x".repeat(100)}"><!ENTITY c "&b;&b;&b;">]>`),
      "declares a document type",
    ],
    ["something else", "<Order/>", "no invoice and no credit note"],
    ["no XML", "number;date\n1;2", "no well-formed XML"],
    ["cut off", ubl().slice(0, 400), "no well-formed XML"],
    ["no lines", ubl(""), "no lines"],
    ["a bad date", ubl().replace("2026-11-02", "2026-02-31"), "not a date"],
    ["a bad amount", ubl().replace("89.40", "many"), "Line 1"],
    ["too deep", ubl(line("<a>".repeat(60) + "</a>".repeat(60))), "nested more deeply"],
  ])("%s is refused and says why", (_what, xml, expected) => expect(why(xml)).toContain(expected));
  test("whatever comes, it answers and never throws", () => {
    const whole = ubl();
    fc.assert(
      fc.property(fc.nat(whole.length), fc.nat(40), fc.string(), (at, length, put) => {
        readEInvoice(whole.slice(0, at) + put + whole.slice(at + length));
      }),
      { numRuns: 300 },
    );
  });
});

describe("what a paper contradicts itself in (EN 16931, BR-CO)", () => {
  const amount = (name: string, value: string, currency = "EUR") =>
    `<cbc:${name} currencyID="${currency}">${value}</cbc:${name}>`;
  const paper = (
    over: Partial<Record<string, string>> = {},
    { net = "89.40", netCurrency = "EUR", type = "380" } = {},
  ) => {
    const v = {
      tax: "19.41",
      taxable: "84.40",
      lines: "89.40",
      exclusive: "84.40",
      inclusive: "103.81",
      prepaid: "",
      rounding: "",
      payable: "103.81",
      ...over,
    };
    const totals = [
      amount("LineExtensionAmount", v.lines),
      amount("TaxExclusiveAmount", v.exclusive),
      amount("TaxInclusiveAmount", v.inclusive),
      v.prepaid && amount("PrepaidAmount", v.prepaid),
      v.rounding && amount("PayableRoundingAmount", v.rounding),
      amount("PayableAmount", v.payable),
    ].join("");
    const tax = `<cac:TaxTotal>${amount("TaxAmount", v.tax)}<cac:TaxSubtotal>${amount("TaxableAmount", v.taxable)}${amount("TaxAmount", v.tax)}<cac:TaxCategory><cbc:ID>S</cbc:ID><cbc:Percent>23</cbc:Percent></cac:TaxCategory></cac:TaxSubtotal></cac:TaxTotal>`;
    return ubl(line().replace('"EUR">89.40', `"${netCurrency}">${net}`))
      .replace(
        /<cac:LegalMonetaryTotal>.*<\/cac:LegalMonetaryTotal>/,
        `${tax}<cac:LegalMonetaryTotal>${totals}</cac:LegalMonetaryTotal>`,
      )
      .replace(
        "</cbc:DueDate>",
        `</cbc:DueDate><cbc:InvoiceTypeCode>${type}</cbc:InvoiceTypeCode>`,
      );
  };
  const doubts = (xml: string) => {
    const read = readEInvoice(xml);
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    return doubtsOfPaper(read.value).map(
      (d) => /BR-[CO0-9-]+/.exec(d)?.[0] ?? d.split(" ").slice(0, 6).join(" "),
    );
  };
  test.each([
    ["nothing", paper(), []],
    ["the payable amount", paper({ payable: "104.81" }), ["BR-CO-16"]],
    [
      "the tax of a category",
      paper({ tax: "19.51", inclusive: "103.91", payable: "103.91" }),
      ["BR-CO-17"],
    ],
    ["the sum of lines", paper({ lines: "90.40" }), ["BR-CO-10", "BR-CO-13"]],
    ["the total with tax", paper({ inclusive: "103.80", payable: "103.80" }), ["BR-CO-15"]],
    ["an amount in another currency", paper({}, { netCurrency: "USD" }), ["BR-5"]],
    [
      "what is paid already",
      paper({ prepaid: "100.00", rounding: "0.01", payable: "3.82" }),
      ["The paper says that 100.00 EUR"],
    ],
    ["a type that is none", paper({}, { type: "325" }), ["The paper is of type 325,"]],
  ])("%s", (_what, xml, expected) => expect(doubts(xml)).toEqual(expected));
  test("a credit note is one by its code, whatever its root; a charge by 1 as by true; character references are read", () => {
    const xml = paper({}, { type: "381" })
      .replace("<cbc:ChargeIndicator>false", "<cbc:ChargeIndicator>1")
      .replace("Rope &amp; chain", "Gr&#246;&#xDF;e");
    const read = readEInvoice(xml);
    expect(
      read.ok && [read.value.kind, read.value.lines.map((l) => [l.description, l.net])],
    ).toEqual([
      "credit note",
      [
        ["Größe", "89.40"],
        ["Rebate", "5.00"],
      ],
    ]);
  });
  test("a file of opening marks alone is refused at once", () => {
    const start = performance.now();
    expect(readEInvoice("<a".repeat(900_000)).ok).toBe(false);
    expect(performance.now() - start).toBeLessThan(5_000);
  });
});

describe("what a paper says beside its figures", () => {
  const pdf = Buffer.from("%PDF-1.4 made up").toString("base64");
  const read = (more: string) => {
    const r = readEInvoice(ubl(line(), "").replace("<cac:AccountingSupplierParty>", `${more}$&`));
    if (!r.ok) throw new Error("unread");
    return r.value;
  };
  const rich = read(
    `<cbc:TaxCurrencyCode>GBP</cbc:TaxCurrencyCode><cbc:BuyerReference>Quay 4</cbc:BuyerReference>
     <cac:ContractDocumentReference><cbc:ID>C-77</cbc:ID></cac:ContractDocumentReference>
     <cac:AdditionalDocumentReference><cbc:ID>1</cbc:ID><cac:Attachment><cbc:EmbeddedDocumentBinaryObject mimeCode="application/pdf" filename="T-9.pdf">${pdf}</cbc:EmbeddedDocumentBinaryObject></cac:Attachment></cac:AdditionalDocumentReference>
     <cac:AccountingCustomerParty><cac:Party><cac:PartyTaxScheme><cbc:CompanyID>IE 9990017H</cbc:CompanyID></cac:PartyTaxScheme><cac:PartyLegalEntity><cbc:RegistrationName>Hollin Sound Ferries Ltd</cbc:RegistrationName></cac:PartyLegalEntity></cac:Party></cac:AccountingCustomerParty>
     <cac:PaymentTerms><cbc:Note>2 % within ten days</cbc:Note></cac:PaymentTerms>
     <cac:TaxTotal><cbc:TaxAmount currencyID="EUR">19.41</cbc:TaxAmount></cac:TaxTotal><cac:TaxTotal><cbc:TaxAmount currencyID="GBP">16.50</cbc:TaxAmount></cac:TaxTotal>`,
  );
  test("references, contract, terms in words, tax in the tax office's currency, units, a PDF within it", () => {
    expect(wordsOfPaper(rich)).toEqual([
      "Your reference: Quay 4",
      "Order: HSF-26-O00012",
      "Contract: C-77",
      "Terms: 2 % within ten days",
      "Tax in GBP: 16.50",
    ]);
    expect(rich.embedded).toEqual([{ name: "T-9.pdf", type: "application/pdf", base64: pdf }]);
    expect(rich.sums.tax).toBe("19.41");
    expect([quantityText("12", "MTR"), quantityText("3", "ZZ9"), quantityText("", "MTR")]).toEqual([
      "12 m",
      "3 ZZ9",
      "",
    ]);
  });
  const us = { name: "Hollin Sound Ferries", taxNumber: "IE9990017H", country: "IE" };
  test.each([
    ["ours, whatever its marks", us, 0],
    ["ours without the country before it", { ...us, taxNumber: "9990017H" }, 0],
    ["another's number", { ...us, taxNumber: "IE1111111A" }, 1],
    ["no number of ours, the same name", { ...us, taxNumber: "" }, 0],
    ["no number of ours, another name", { ...us, taxNumber: "", name: "Merrow Boatyard" }, 1],
  ])("whose invoice it is: %s", (_what, company, doubts) =>
    expect(doubtsOfBuyer(rich, company)).toHaveLength(doubts),
  );
  test.each([
    ["16.50", 0],
    ["16.65", 0],
    ["16.80", 1],
    [null, 0],
  ])("tax there against %s by our rate", (ours, doubts) =>
    expect(doubtsOfTaxThere(rich, ours)).toHaveLength(doubts),
  );
  test("a currency of tax without the tax in it is said (BR-53)", () =>
    expect(
      doubtsOfTaxThere({ ...rich, taxThere: { currency: "GBP", amount: "" } }, "16.50")[0],
    ).toMatch("BR-53"));
});
