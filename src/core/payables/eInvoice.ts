import { XMLParser, XMLValidator } from "fast-xml-parser";
import { fail, isCalendarDate, ok, type Result } from "../shared";

/** A line of an invoice from a file: amounts and quantities are decimals as written. */
export interface EInvoiceLine {
  description: string;
  quantity: string;
  /** Net amount of the line. */
  net: string;
  /** UNCL 5305: S standard, AE reverse charge, Z zero, E exempt, O outside, … */
  category: string;
  percent: string;
  /** Number of the order line that it bills. */
  orderLine: string;
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
  /** Of the buyer: what its tax number says. */
  buyerTaxNumber: string;
  lines: EInvoiceLine[];
  /** What is to be paid, and the whole with tax. */
  total: string;
}

/** The largest file that is read, in characters, and the deepest nesting. */
export const MAX_E_INVOICE = 2_000_000;
const MAX_DEPTH = 40;
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
  for (const tag of xml.matchAll(/<(\/?)[A-Za-z_][^>]*?(\/?)>/g)) {
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
      ignoreDeclaration: true,
    }).parse(xml) as Node;
  } catch {
    return bad("The file cannot be read as XML");
  }
  const kind = root.Invoice ? "invoice" : root.CreditNote ? "credit note" : null;
  if (!kind) return bad("The file is no invoice and no credit note in UBL");
  const document = (root.Invoice ?? root.CreditNote) as Node;
  const supplier = at(document, "AccountingSupplierParty", "Party");
  const lines = list(document, kind === "invoice" ? "InvoiceLine" : "CreditNoteLine");
  if (lines.length === 0) return bad("The invoice has no lines");
  if (lines.length > MAX_LINES) return bad(`The invoice has more than ${MAX_LINES} lines`);
  const decimal = (written: string): boolean => /^-?\d{1,15}(\.\d{1,8})?$/.test(written);
  const read: EInvoiceLine[] = lines.map((l) => ({
    description: text(l, "Item", "Name") || text(l, "Item", "Description"),
    quantity: text(l, kind === "invoice" ? "InvoicedQuantity" : "CreditedQuantity"),
    net: text(l, "LineExtensionAmount"),
    category: text(l, "Item", "ClassifiedTaxCategory", "ID"),
    percent: text(l, "Item", "ClassifiedTaxCategory", "Percent"),
    orderLine: text(l, "OrderLineReference", "LineID"),
  }));
  for (const a of list(document, "AllowanceCharge")) {
    const charge = text(a, "ChargeIndicator") === "true";
    const amount = text(a, "Amount");
    read.push({
      description: text(a, "AllowanceChargeReason") || (charge ? "Charge" : "Allowance"),
      quantity: "",
      net: charge || amount.startsWith("-") ? amount : `-${amount}`,
      category: text(a, "TaxCategory", "ID"),
      percent: text(a, "TaxCategory", "Percent"),
      orderLine: "",
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
  const number = text(document, "ID");
  if (number === "") return bad("The invoice has no number");
  return ok({
    kind,
    number,
    date,
    dueDate: isCalendarDate(dueDate) ? dueDate : "",
    currency: text(document, "DocumentCurrencyCode"),
    order: text(document, "OrderReference", "ID"),
    note: text(document, "Note"),
    seller: {
      name:
        text(supplier, "PartyLegalEntity", "RegistrationName") ||
        text(supplier, "PartyName", "Name"),
      taxNumber: text(supplier, "PartyTaxScheme", "CompanyID"),
      iban: text(document, "PaymentMeans", "PayeeFinancialAccount", "ID"),
    },
    buyerTaxNumber: text(
      document,
      "AccountingCustomerParty",
      "Party",
      "PartyTaxScheme",
      "CompanyID",
    ),
    lines: read,
    total: text(document, "LegalMonetaryTotal", "TaxInclusiveAmount"),
  });
}
