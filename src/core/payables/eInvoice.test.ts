import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { readEInvoice } from "./eInvoice";

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
      total: "103.81",
      seller: { name: "Tarn Rope", taxNumber: "IE9002222W", iban: "DE75512108001245126199" },
    });
    expect(r.ok && r.value.lines).toEqual([
      {
        description: "Rope & chain",
        quantity: "12",
        net: "89.40",
        category: "S",
        percent: "23",
        orderLine: "2",
      },
      {
        description: "Rebate",
        quantity: "",
        net: "-5.00",
        category: "",
        percent: "",
        orderLine: "",
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
