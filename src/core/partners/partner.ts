import { array, boolean, object, string, type InferType } from "yup";
import { isPurposeCode, PAYMENT_METHODS } from "../banks";
import { LETTER_LANGUAGES } from "../letters";
import { isCalendarDate, isLei, textRecord } from "../shared";

/** A legal entity identifier (ISO 17442), or nothing. */
export const leiField = () =>
  string()
    .trim()
    .uppercase()
    .default("")
    .test(
      "lei",
      "This is no legal entity identifier: twenty letters and figures with their check digits",
      (text) => text === "" || isLei(text),
    );

/** How likely a customer pays, by our own judgement: A surely, E hardly. */
export const CREDIT_GRADES = ["A", "B", "C", "D", "E"] as const;
export type CreditGrade = (typeof CREDIT_GRADES)[number];

/** What a customer can be blocked for. */
export const BLOCKED_FOR = ["orders", "invoices", "reminders"] as const;

const countryField = () =>
  string()
    .trim()
    .uppercase()
    .matches(/^$|^[A-Z]{2}$/, "A country is a code of two letters (ISO 3166)");

const line = (most: number) => string().trim().max(most).default("");

/** The city of another address than its own: without one there is none, and nothing else of it. */
const cityOf = (address: "delivery" | "statement") =>
  line(80).test("city", "An address needs its city", (city, { parent }) => {
    const others = ["Name", "Street", "Postcode", "Country"].map((f) => parent[`${address}${f}`]);
    return Boolean(city) || others.every((text) => !text);
  });

const emailField = () =>
  string()
    .trim()
    .max(120)
    .matches(/^$|^[^\s@]+@[^\s@]+\.[^\s@]+$/, "This is no e-mail address")
    .default("");

/** A supplier, a customer, or both. */
export const partnerSchema = object({
  code: string()
    .trim()
    .required("A number is needed")
    .matches(
      /^[A-Za-z0-9][A-Za-z0-9 &.,'/-]{0,39}$/,
      "A number has up to 40 letters, figures and simple marks",
    ),
  name: string().trim().required("A name is needed").max(120),
  supplier: boolean().default(false),
  customer: boolean().default(false),
  street: line(120),
  postcode: line(20),
  city: line(80),
  country: countryField().required("A country is a code of two letters (ISO 3166)").default("IE"),
  email: emailField(),
  /** Where what we sell goes, and where statements and reminders go; empty: where it sits. */
  deliveryName: line(120),
  deliveryStreet: line(120),
  deliveryPostcode: line(20),
  deliveryCity: cityOf("delivery"),
  deliveryCountry: countryField().default(""),
  statementName: line(120),
  statementStreet: line(120),
  statementPostcode: line(20),
  statementCity: cityOf("statement"),
  statementCountry: countryField().default(""),
  statementEmail: emailField(),
  taxNumber: line(30),
  lei: leiField(),
  /** In which papers go out to it. */
  language: string().oneOf(LETTER_LANGUAGES).default("en"),
  currency: string().trim().uppercase().nullable().default(null),
  terms: string().nullable().default(null),
  method: string().oneOf(PAYMENT_METHODS).default("transfer"),
  /** What payments to it are for (ISO 20022), where "supplier payment" does not say it. */
  purpose: string()
    .trim()
    .uppercase()
    .default("")
    .test(
      "purpose",
      "This is no purpose code of ISO 20022",
      (text) => text === "" || isPurposeCode(text),
    ),
  account: string().trim().max(20).default(""),
  dimensions: textRecord(),
  taxCode: string().trim().max(20).default(""),
  /** Code of the shares by which its invoices are usually split. */
  shares: string().trim().uppercase().max(20).default(""),
  hold: line(200),
  /** What a customer may owe: a decimal in that currency; empty where nothing is set. */
  creditLimit: line(30),
  creditCurrency: string().trim().uppercase().default("EUR"),
  /** Who insures what it owes, up to what (a decimal in the limit's currency), and until when. */
  insurer: line(80),
  insuredAmount: line(30),
  insuredUntil: string()
    .trim()
    .default("")
    .test("day", "This is no date", (text) => text === "" || isCalendarDate(text)),
  grade: string()
    .oneOf(["", ...CREDIT_GRADES] as const)
    .default(""),
  /** Who collects from it, and who stands in: the names by which they sign in. */
  collector: string().trim().max(60).default(""),
  standIn: string().trim().max(60).default(""),
  customerGroup: string().trim().uppercase().max(20).default(""),
  /** Number of the partner that pays for it. */
  headOffice: string().trim().max(60).default(""),
  /** For what it is blocked, besides everything. */
  blocks: array(string().oneOf(BLOCKED_FOR).required()).default([]),
  blockReason: line(200),
  blocked: boolean().default(false),
});
export type PartnerInput = InferType<typeof partnerSchema>;

/** An address of a partner: of another one than its own, what is empty is as at its own. */
export interface PartnerAddress {
  name: string;
  street: string;
  postcode: string;
  city: string;
  country: string;
}

/**
 * Forms of value added tax identification numbers of member states, without their marks (the
 * structures that VIES publishes).
 */
const VAT_FORMS: Readonly<Record<string, RegExp>> = {
  AT: /^ATU\d{8}$/,
  BE: /^BE[01]\d{9}$/,
  BG: /^BG\d{9,10}$/,
  CY: /^CY\d{8}[A-Z]$/,
  CZ: /^CZ\d{8,10}$/,
  DE: /^DE\d{9}$/,
  DK: /^DK\d{8}$/,
  EE: /^EE\d{9}$/,
  ES: /^ES[A-Z0-9]\d{7}[A-Z0-9]$/,
  FI: /^FI\d{8}$/,
  FR: /^FR[A-HJ-NP-Z0-9]{2}\d{9}$/,
  GR: /^EL\d{9}$/,
  HR: /^HR\d{11}$/,
  HU: /^HU\d{8}$/,
  IE: /^IE(\d{7}[A-W][A-I]?|\d[A-Z+*]\d{5}[A-W])$/,
  IT: /^IT\d{11}$/,
  LT: /^LT(\d{9}|\d{12})$/,
  LU: /^LU\d{8}$/,
  LV: /^LV\d{11}$/,
  MT: /^MT\d{8}$/,
  NL: /^NL[A-Z0-9+*]{10}\d{2}$/,
  PL: /^PL\d{10}$/,
  PT: /^PT\d{9}$/,
  RO: /^RO\d{2,10}$/,
  SE: /^SE\d{12}$/,
  SI: /^SI\d{8}$/,
  SK: /^SK\d{10}$/,
  GB: /^GB(\d{9}|\d{12})$/,
};

/** A tax number without spaces and marks, in capitals. */
export const plainTaxNumber = (text: string): string => text.toUpperCase().replace(/[\s.\-/]/g, "");

/**
 * Whether a tax number has the form that its country gives it. Of countries whose form is not known
 * here, any is taken.
 */
export function taxNumberFits(text: string, country: string): boolean {
  const form = VAT_FORMS[country];
  return text.trim() === "" || !form || form.test(plainTaxNumber(text));
}
