import { XMLParser, XMLValidator } from "fast-xml-parser";
import { MAX_E_INVOICE } from "./words";
import { fail, isCalendarDate, ok, type Result } from "../../shared";

/** A line of an invoice from a file: amounts and quantities are decimals as written. */
export interface EInvoiceLine {
  description: string;
  quantity: string;
  /** UNECE recommendation 20: MTR metre, KGM kilogram, H87 piece, … */
  unit: string;
  /** Net amount of the line. */
  net: string;
  /** UNCL 5305: S standard, AE reverse charge, Z zero, E exempt, O outside, … */
  category: string;
  percent: string;
  /** Number of the order line that it bills. */
  orderLine: string;
  /** An allowance or a charge of the whole document. */
  ofDocument: boolean;
}

/** Totals of the paper, as written; empty where it leaves them out. */
export interface EInvoiceSums {
  lines: string;
  taxExclusive: string;
  tax: string;
  taxInclusive: string;
  prepaid: string;
  rounding: string;
  payable: string;
}

/** What an invoice in UBL 2.1 by EN 16931 says, as far as a ledger needs it. */
export interface EInvoice {
  kind: "invoice" | "credit note";
  number: string;
  date: string;
  dueDate: string;
  currency: string;
  order: string;
  note: string;
  seller: { name: string; taxNumber: string; iban: string };
  /** Whom it is addressed to. */
  buyer: { name: string; taxNumber: string; reference: string };
  contract: string;
  /** Terms of payment in words. */
  terms: string;
  /** Tax in the currency of the tax office, where that is another (BT-111). */
  taxThere: { currency: string; amount: string } | null;
  /** Papers within the file, in base 64. */
  embedded: { name: string; type: string; base64: string }[];
  lines: EInvoiceLine[];
  sums: EInvoiceSums;
  /** Tax by category. */
  subtotals: { category: string; percent: string; taxable: string; tax: string }[];
  /** UNCL 1001: 380 invoice, 381 credit note, …; and whether it is one of them. */
  typeCode: string;
  knownType: boolean;
  /** Number of the invoice that a credit note corrects. */
  corrects: string;
  /** Currencies of amounts other than the document's own. */
  otherCurrencies: string[];
}

/** UNCL 1001 by which a document is a credit note, or an invoice, whatever its root says. */
const CREDIT_TYPES: ReadonlySet<string> = new Set(["381", "396", "532", "81", "83"]);
const INVOICE_TYPES: ReadonlySet<string> = new Set([
  "380",
  "384",
  "386",
  "389",
  "751",
  "82",
  "80",
  "393",
]);

/** The deepest nesting, and the most lines. */
const MAX_DEPTH = 40;
/** Characters that an element may have between its marks. */
const MAX_TAG = 4_000;
const MAX_LINES = 2000;

type Node = Record<string, unknown>;
const at = (node: unknown, ...path: string[]): unknown =>
  path.reduce<unknown>(
    (n, key) =>
      Array.isArray(n) ? (n[0] as Node | undefined)?.[key] : (n as Node | undefined)?.[key],
    node,
  );
const text = (node: unknown, ...path: string[]): string => {
  const found = path.length === 0 ? node : at(node, ...path);
  const one = Array.isArray(found) ? (found as unknown[])[0] : found;
  const value = typeof one === "object" && one !== null ? (one as Node)["#text"] : one;
  return typeof value === "string" ? value.trim().slice(0, 1000) : "";
};
const list = (node: unknown, key: string): unknown[] => {
  const found = at(node, key);
  return found === undefined ? [] : Array.isArray(found) ? (found as unknown[]) : [found];
};

/**
 * Reads an invoice or credit note in UBL 2.1 (EN 16931). Entities and document types are refused
 * unread, size and nesting are limited; element prefixes may be any.
 * Charges and allowances of the whole document become lines of their own. Errors: INVALID with a
 * sentence that says what is wrong.
 */
export function readEInvoice(xml: string): Result<EInvoice> {
  const bad = (what: string) => fail({ code: "INVALID", what });
  if (xml.length > MAX_E_INVOICE)
    return bad(`The file is larger than ${MAX_E_INVOICE / 1_000_000} million characters`);
  if (/<!\s*(DOCTYPE|ENTITY)/i.test(xml))
    return bad(
      "The file declares a document type or entities. An e-invoice has none; such a file is not read",
    );
  // Counted before anything is built of it.
  let depth = 0;
  for (const tag of xml.matchAll(/<(\/?)[A-Za-z_][^<>]*?(\/?)>/g)) {
    if (tag[0].length > MAX_TAG)
      return bad("An element of the file has more attributes than one of an invoice has");
    if (tag[1] === "/") depth--;
    else if (tag[2] !== "/") depth++;
    if (depth > MAX_DEPTH) return bad("The file is nested more deeply than an invoice is");
  }
  const valid = XMLValidator.validate(xml);
  if (valid !== true)
    return bad(
      `The file is no well-formed XML: ${valid.err.msg.slice(0, 120)} (line ${valid.err.line})`,
    );
  let root: Node;
  try {
    root = new XMLParser({
      ignoreAttributes: false,
      removeNSPrefix: true,
      parseTagValue: false,
      parseAttributeValue: false,
      processEntities: true,
      // Numeric references such as &#246; too; declared entities were refused above.
      htmlEntities: true,
      ignoreDeclaration: true,
    }).parse(xml) as Node;
  } catch {
    return bad("The file cannot be read as XML");
  }
  const form = root.Invoice ? "invoice" : root.CreditNote ? "credit note" : null;
  if (!form) return bad("The file is no invoice and no credit note in UBL");
  const document = (root.Invoice ?? root.CreditNote) as Node;
  const typeCode = text(document, form === "invoice" ? "InvoiceTypeCode" : "CreditNoteTypeCode");
  const kind = form === "invoice" && CREDIT_TYPES.has(typeCode) ? "credit note" : form;
  const supplier = at(document, "AccountingSupplierParty", "Party");
  const buyer = at(document, "AccountingCustomerParty", "Party");
  const lines = list(document, form === "invoice" ? "InvoiceLine" : "CreditNoteLine");
  if (lines.length === 0) return bad("The invoice has no lines");
  if (lines.length > MAX_LINES) return bad(`The invoice has more than ${MAX_LINES} lines`);
  const decimal = (written: string): boolean => /^-?\d{1,15}(\.\d{1,8})?$/.test(written);
  const read: EInvoiceLine[] = lines.map((l) => ({
    description: text(l, "Item", "Name") || text(l, "Item", "Description"),
    quantity: text(l, form === "invoice" ? "InvoicedQuantity" : "CreditedQuantity"),
    unit: unitOf(at(l, form === "invoice" ? "InvoicedQuantity" : "CreditedQuantity")),
    net: text(l, "LineExtensionAmount"),
    category: text(l, "Item", "ClassifiedTaxCategory", "ID"),
    percent: text(l, "Item", "ClassifiedTaxCategory", "Percent"),
    orderLine: text(l, "OrderLineReference", "LineID"),
    ofDocument: false,
  }));
  for (const a of list(document, "AllowanceCharge")) {
    const charge = ["true", "1"].includes(text(a, "ChargeIndicator"));
    const amount = text(a, "Amount");
    read.push({
      description: text(a, "AllowanceChargeReason") || (charge ? "Charge" : "Allowance"),
      quantity: "",
      unit: "",
      net: charge || amount.startsWith("-") ? amount : `-${amount}`,
      category: text(a, "TaxCategory", "ID"),
      percent: text(a, "TaxCategory", "Percent"),
      orderLine: "",
      ofDocument: true,
    });
  }
  const wrong = read.findIndex(
    (l) => !decimal(l.net) || (l.quantity !== "" && !decimal(l.quantity)),
  );
  if (wrong >= 0) return bad(`Line ${wrong + 1}: its amount or quantity is no number`);
  const [date, dueDate] = [
    text(document, "IssueDate"),
    text(document, "DueDate") || text(document, "PaymentMeans", "PaymentDueDate"),
  ];
  if (!isCalendarDate(date)) return bad(`“${date}” is not a date that exists`);
  const currency = text(document, "DocumentCurrencyCode");
  const taxCurrency = text(document, "TaxCurrencyCode");
  const taxTotals = list(document, "TaxTotal");
  // Beside the tax in the document's currency stands one in the currency of the tax office.
  const taxTotal =
    taxTotals.find((t) => (at(t, "TaxAmount") as Node)?.["@_currencyID"] === currency) ??
    taxTotals[0];
  const there = taxTotals.find(
    (t) => taxCurrency !== "" && (at(t, "TaxAmount") as Node)?.["@_currencyID"] === taxCurrency,
  );
  const strange = currenciesIn(document);
  strange.delete(currency);
  strange.delete(taxCurrency);
  const number = text(document, "ID");
  if (number === "") return bad("The invoice has no number");
  return ok({
    kind,
    number,
    date,
    dueDate: isCalendarDate(dueDate) ? dueDate : "",
    currency,
    order: text(document, "OrderReference", "ID"),
    note: text(document, "Note"),
    seller: {
      name:
        text(supplier, "PartyLegalEntity", "RegistrationName") ||
        text(supplier, "PartyName", "Name"),
      taxNumber: text(supplier, "PartyTaxScheme", "CompanyID"),
      iban: text(document, "PaymentMeans", "PayeeFinancialAccount", "ID"),
    },
    buyer: {
      name: text(buyer, "PartyLegalEntity", "RegistrationName") || text(buyer, "PartyName", "Name"),
      taxNumber: text(buyer, "PartyTaxScheme", "CompanyID"),
      reference: text(document, "BuyerReference"),
    },
    contract: text(document, "ContractDocumentReference", "ID"),
    terms: text(document, "PaymentTerms", "Note"),
    taxThere:
      there && taxCurrency !== currency
        ? { currency: taxCurrency, amount: text(there, "TaxAmount") }
        : null,
    embedded: list(document, "AdditionalDocumentReference").flatMap((d) => embeddedIn(d)),
    lines: read,
    sums: {
      lines: text(document, "LegalMonetaryTotal", "LineExtensionAmount"),
      taxExclusive: text(document, "LegalMonetaryTotal", "TaxExclusiveAmount"),
      tax: text(taxTotal, "TaxAmount"),
      taxInclusive: text(document, "LegalMonetaryTotal", "TaxInclusiveAmount"),
      prepaid: text(document, "LegalMonetaryTotal", "PrepaidAmount"),
      rounding: text(document, "LegalMonetaryTotal", "PayableRoundingAmount"),
      payable: text(document, "LegalMonetaryTotal", "PayableAmount"),
    },
    subtotals: list(taxTotal, "TaxSubtotal").map((s) => ({
      category: text(s, "TaxCategory", "ID"),
      percent: text(s, "TaxCategory", "Percent"),
      taxable: text(s, "TaxableAmount"),
      tax: text(s, "TaxAmount"),
    })),
    typeCode,
    knownType: CREDIT_TYPES.has(typeCode) || INVOICE_TYPES.has(typeCode),
    corrects: text(document, "BillingReference", "InvoiceDocumentReference", "ID"),
    otherCurrencies: [...strange].sort(),
  });
}

const unitOf = (quantity: unknown): string => {
  const one = (Array.isArray(quantity) ? quantity[0] : quantity) as Node | string | undefined;
  const code = typeof one === "object" ? one["@_unitCode"] : "";
  return typeof code === "string" ? code.trim().slice(0, 10) : "";
};

/** A paper that the file carries within it. */
function embeddedIn(reference: unknown): EInvoice["embedded"] {
  const found = at(reference, "Attachment", "EmbeddedDocumentBinaryObject") as Node | undefined;
  const base64 = found?.["#text"];
  if (typeof base64 !== "string") return [];
  const attribute = (name: string): string => {
    const value = found![`@_${name}`];
    return typeof value === "string" ? value.slice(0, 200) : "";
  };
  return [
    { name: attribute("filename") || text(reference, "ID"), type: attribute("mimeCode"), base64 },
  ];
}

/** The currencies that amounts name, in whatever place they stand. */
function currenciesIn(node: unknown, found = new Set<string>()): Set<string> {
  if (Array.isArray(node)) for (const n of node) currenciesIn(n, found);
  else if (typeof node === "object" && node !== null)
    for (const [key, value] of Object.entries(node as Node)) {
      if (key === "@_currencyID" && typeof value === "string") found.add(value.slice(0, 10));
      else currenciesIn(value, found);
    }
  return found;
}
