import Decimal from "decimal.js";
import { XMLBuilder } from "fast-xml-parser";
import { CATEGORIES_WITH_REASON as UNTAXED, type TaxCategory } from "../../taxes";
import {
  decimalText,
  exponentOf,
  fail,
  ok,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "../../shared";

/** A party of an invoice, as it stands in registers. Empty where nothing is known. */
export interface EInvoiceParty {
  name: string;
  street: string;
  city: string;
  postcode: string;
  /** ISO 3166, two letters. */
  country: string;
  /** Number for value added tax, with its country. */
  taxNumber: string;
  /** Number in the register of companies. */
  registerNumber: string;
  /** Where e-invoices reach it: the scheme (EAS list) and the address. */
  endpoint: { scheme: string; id: string } | null;
}

/** Where something was delivered; the name of who took it, where that is another. */
export type DeliverTo = Pick<EInvoiceParty, "name" | "street" | "city" | "postcode" | "country">;

/** What a line is taxed by; per cent as a decimal. */
export interface CategoryRate {
  category: TaxCategory;
  percent: string;
}

/** An invoice that goes out. Amounts in minor units of its currency, positive as on the paper. */
export interface OutgoingInvoice {
  kind: "invoice" | "credit note";
  /** Whether it asks for a prepayment (UNCL 1001: 386). */
  prepayment?: boolean;
  number: string;
  date: CalendarDate;
  due: CalendarDate;
  currency: string;
  /** Number of the invoice that a credit note corrects. */
  corrects: string;
  /** What the buyer asked to be named by, and its order. */
  buyerReference: string;
  order: string;
  note: string;
  /** Terms of payment in words. */
  terms: string;
  seller: EInvoiceParty;
  buyer: EInvoiceParty;
  /** When and where it was supplied (BG-13); only what is another day or place needs saying. */
  delivery?: { date: CalendarDate; to: DeliverTo | null } | null;
  bank: { iban: string; bic: string; holder: string; reference: string };
  lines: readonly (CategoryRate & {
    description: string;
    /** What the seller calls it (BT-155). */
    item?: string;
    /** A decimal, and its unit by UNECE recommendation 20. */
    quantity: string;
    unit: string;
    net: Minor;
    /** The time over which it is supplied (BG-26). */
    over?: { from: CalendarDate; to: CalendarDate } | null;
  })[];
  taxes: readonly (CategoryRate & { base: Minor; tax: Minor; reason: string })[];
  prepaid: Minor;
}

const Exact = Decimal.clone({ precision: 40 });
const CUSTOMISATION = "urn:cen.eu:en16931:2017";

type Element = Record<string, unknown>;
/** An element of plain text; nothing where there is no text. */
const of = (name: string, text: string, attributes: Element = {}): Element =>
  text === "" ? {} : { [name]: { "#text": text, ...attributes } };

/**
 * Writes an invoice or credit note in UBL 2.1 by EN 16931, elements in the order of its schema.
 * Units: amounts as decimals with the currency's decimals; prices exactly as far as eight decimals.
 * Errors, each a sentence: sums that contradict each other (BR-CO-10 to 17), taxes that were rounded
 * line by line, a category without its reason (BR-E-10 and its like), parties without what the
 * standard asks of them.
 */
export function writeEInvoice(invoice: OutgoingInvoice): Result<string> {
  const problems = problemsOf(invoice);
  if (problems.length > 0) return fail(problems[0]!, ...problems.slice(1));
  const { kind, currency } = invoice;
  const isInvoice = kind === "invoice";
  const root = isInvoice ? "Invoice" : "CreditNote";
  const schema = "urn:oasis:names:specification:ubl:schema:xsd";
  const document = {
    "@_xmlns": `${schema}:${root}-2`,
    "@_xmlns:cac": `${schema}:CommonAggregateComponents-2`,
    "@_xmlns:cbc": `${schema}:CommonBasicComponents-2`,
    ...of("cbc:CustomizationID", CUSTOMISATION),
    ...of("cbc:ID", invoice.number),
    ...of("cbc:IssueDate", invoice.date),
    ...(isInvoice ? of("cbc:DueDate", invoice.due) : {}),
    ...of(`cbc:${root}TypeCode`, isInvoice ? (invoice.prepayment ? "386" : "380") : "381"),
    ...of("cbc:Note", invoice.note),
    ...of("cbc:DocumentCurrencyCode", currency),
    ...of("cbc:BuyerReference", invoice.buyerReference),
    ...(invoice.order === "" ? {} : { "cac:OrderReference": of("cbc:ID", invoice.order) }),
    ...(invoice.corrects === ""
      ? {}
      : {
          "cac:BillingReference": {
            "cac:InvoiceDocumentReference": of("cbc:ID", invoice.corrects),
          },
        }),
    "cac:AccountingSupplierParty": { "cac:Party": party(invoice.seller) },
    "cac:AccountingCustomerParty": { "cac:Party": party(invoice.buyer) },
    ...deliveryOf(invoice),
    ...paymentMeans(invoice),
    ...(invoice.terms === "" ? {} : { "cac:PaymentTerms": of("cbc:Note", invoice.terms) }),
    "cac:TaxTotal": taxTotal(invoice),
    "cac:LegalMonetaryTotal": monetaryTotal(invoice),
    [`cac:${root}Line`]: invoice.lines.map((l, i) => line(l, i, invoice)),
  };
  const builder = new XMLBuilder({ ignoreAttributes: false, format: true });
  return ok(`<?xml version="1.0" encoding="UTF-8"?>\n${builder.build({ [root]: document })}`);
}

const money = (name: string, amount: bigint, currency: string): Element =>
  of(`cbc:${name}`, decimalText(amount, currency), { "@_currencyID": currency });

function party(p: EInvoiceParty): Element {
  return {
    ...(p.endpoint ? of("cbc:EndpointID", p.endpoint.id, { "@_schemeID": p.endpoint.scheme }) : {}),
    "cac:PostalAddress": address(p),
    ...(p.taxNumber === ""
      ? {}
      : {
          "cac:PartyTaxScheme": {
            ...of("cbc:CompanyID", p.taxNumber),
            "cac:TaxScheme": of("cbc:ID", "VAT"),
          },
        }),
    "cac:PartyLegalEntity": {
      ...of("cbc:RegistrationName", p.name),
      ...of("cbc:CompanyID", p.registerNumber),
    },
  };
}

const address = (p: DeliverTo): Element => ({
  ...of("cbc:StreetName", p.street),
  ...of("cbc:CityName", p.city),
  ...of("cbc:PostalZone", p.postcode),
  "cac:Country": of("cbc:IdentificationCode", p.country),
});

/**
 * What goes to another member state says when it went and into which country, always (BR-IC-11 and
 * BR-IC-12): where nothing else is said, on the day of the invoice and to the buyer.
 */
function deliveryOf({ delivery, taxes, date, buyer }: OutgoingInvoice): Element {
  const abroad = taxes.some((t) => t.category === "K");
  if (!delivery && !abroad) return {};
  const to = delivery?.to ?? (abroad ? { ...buyer, name: "" } : null);
  return {
    "cac:Delivery": {
      ...of("cbc:ActualDeliveryDate", delivery?.date ?? date),
      ...(to ? { "cac:DeliveryLocation": { "cac:Address": address(to) } } : {}),
      ...(to && to.name !== ""
        ? { "cac:DeliveryParty": { "cac:PartyName": of("cbc:Name", to.name) } }
        : {}),
    },
  };
}

/** UNCL 4461: 58 SEPA transfer to an IBAN in euro, 30 any other transfer. */
function paymentMeans({ bank, currency, kind, due }: OutgoingInvoice): Element {
  if (bank.iban === "") return {};
  return {
    "cac:PaymentMeans": {
      ...of("cbc:PaymentMeansCode", currency === "EUR" ? "58" : "30"),
      // A credit note has its due day here: its head has no place for one.
      ...(kind === "credit note" ? of("cbc:PaymentDueDate", due) : {}),
      ...of("cbc:PaymentID", bank.reference),
      "cac:PayeeFinancialAccount": {
        ...of("cbc:ID", bank.iban),
        ...of("cbc:Name", bank.holder),
        ...(bank.bic === "" ? {} : { "cac:FinancialInstitutionBranch": of("cbc:ID", bank.bic) }),
      },
    },
  };
}

/** Outside the scope of the tax there is no rate at all. */
const rate = ({ category, percent }: CategoryRate): Element => ({
  ...of("cbc:ID", category),
  ...(category === "O" ? {} : of("cbc:Percent", percent)),
});
const SCHEME = { "cac:TaxScheme": of("cbc:ID", "VAT") };

const taxTotal = ({ taxes, currency }: OutgoingInvoice): Element => ({
  ...money("TaxAmount", sum(taxes.map((t) => t.tax)), currency),
  "cac:TaxSubtotal": taxes.map((t) => ({
    ...money("TaxableAmount", t.base, currency),
    ...money("TaxAmount", t.tax, currency),
    "cac:TaxCategory": {
      ...rate(t),
      ...of("cbc:TaxExemptionReason", UNTAXED.has(t.category) ? t.reason : ""),
      ...SCHEME,
    },
  })),
});

function monetaryTotal({ lines, taxes, prepaid, currency }: OutgoingInvoice): Element {
  const net = sum(lines.map((l) => l.net));
  const gross = net + sum(taxes.map((t) => t.tax));
  return {
    ...money("LineExtensionAmount", net, currency),
    ...money("TaxExclusiveAmount", net, currency),
    ...money("TaxInclusiveAmount", gross, currency),
    ...(prepaid === 0n ? {} : money("PrepaidAmount", prepaid, currency)),
    ...money("PayableAmount", gross - prepaid, currency),
  };
}

function line(
  l: OutgoingInvoice["lines"][number],
  place: number,
  { kind, currency }: OutgoingInvoice,
): Element {
  const price = new Exact(decimalText(l.net, currency)).div(l.quantity);
  return {
    ...of("cbc:ID", String(place + 1)),
    ...of(`cbc:${kind === "invoice" ? "Invoiced" : "Credited"}Quantity`, signed(l, l.quantity), {
      "@_unitCode": l.unit,
    }),
    ...money("LineExtensionAmount", l.net, currency),
    ...(l.over
      ? {
          "cac:InvoicePeriod": {
            ...of("cbc:StartDate", l.over.from),
            ...of("cbc:EndDate", l.over.to),
          },
        }
      : {}),
    "cac:Item": {
      ...of("cbc:Name", l.description),
      ...(l.item ? { "cac:SellersItemIdentification": of("cbc:ID", l.item) } : {}),
      "cac:ClassifiedTaxCategory": { ...rate(l), ...SCHEME },
    },
    "cac:Price": of("cbc:PriceAmount", price.abs().toDecimalPlaces(8).toFixed(), {
      "@_currencyID": currency,
    }),
  };
}

/** What is taken off has a quantity below nothing, for a price may not be (BR-27). */
const signed = ({ net }: { net: Minor }, quantity: string): string =>
  new Exact(quantity)
    .abs()
    .mul(net < 0n ? -1 : 1)
    .toFixed();

const sum = (amounts: readonly bigint[]): bigint => amounts.reduce((t, a) => t + a, 0n);

function problemsOf(invoice: OutgoingInvoice): Found[] {
  const { lines, taxes, currency } = invoice;
  const problems: Found[] = [];
  const bad = (what: string) => problems.push({ code: "INVALID", what });
  const need = (value: string, what: string) =>
    value.trim() === "" && problems.push({ code: "REQUIRED", what });
  need(invoice.number, "The number of the invoice");
  need(invoice.seller.name, "The seller's name");
  need(invoice.seller.country, "The seller's country");
  need(invoice.buyer.name, "The buyer's name");
  need(invoice.buyer.country, "The buyer's country");
  if (invoice.seller.taxNumber === "" && taxes.some((t) => t.category !== "O"))
    bad("The seller has no tax number, which an invoice with tax names (BR-S-02 of EN 16931)");
  for (const [category, rule] of [
    ["K", "BR-IC-02"],
    ["AE", "BR-AE-02"],
  ])
    if (invoice.buyer.taxNumber === "" && taxes.some((t) => t.category === category))
      bad(`The buyer has no tax number, which category ${category} asks for (${rule} of EN 16931)`);
  if (invoice.delivery?.to && invoice.delivery.to.country === "")
    bad("It is not said into which country it is delivered (BR-57 of EN 16931)");
  for (const { over, description } of invoice.lines)
    if (over && over.to < over.from)
      bad(`${description} ends before it begins (BR-30 of EN 16931)`);
  if (lines.length === 0) problems.push({ code: "REQUIRED", what: "A line" });
  for (const [i, l] of lines.entries())
    if (!/^-?\d{1,15}(\.\d{1,8})?$/.test(l.quantity) || new Exact(l.quantity).isZero())
      problems.push({ code: "QUANTITY_INVALID", text: l.quantity, line: i + 1 });
  const key = (r: CategoryRate) => `${r.category} ${new Exact(r.percent).toFixed()}`;
  for (const t of taxes) {
    const base = sum(lines.filter((l) => key(l) === key(t)).map((l) => l.net));
    if (base !== t.base)
      bad(`Lines of category ${key(t)} % do not come to what is taxed (BR-S-08 of EN 16931)`);
    if (UNTAXED.has(t.category) ? t.tax !== 0n : t.tax !== taxOn(t, currency))
      bad(
        `The tax of category ${key(t)} % is not that of its sum: on an e-invoice it is rounded once for all lines (BR-CO-17 of EN 16931)`,
      );
    if (UNTAXED.has(t.category) && t.reason === "")
      bad(
        `It is not said why no tax is charged under category ${t.category} (BR-E-10 of EN 16931)`,
      );
  }
  const taxed = new Set(taxes.map(key));
  for (const l of lines)
    if (!taxed.has(key(l))) bad(`Nothing is said of the tax of category ${key(l)} %`);
  return problems;
}

/** The tax of a category: half away from zero to the currency's unit. */
const taxOn = ({ base, percent }: { base: Minor; percent: string }, currency: string): bigint =>
  BigInt(
    new Exact(decimalText(base, currency))
      .mul(percent)
      .div(100)
      .toDecimalPlaces(exponentOf(currency), Decimal.ROUND_HALF_UP)
      .mul(new Exact(10).pow(exponentOf(currency)))
      .toFixed(0),
  );
