import { PAYMENT_METHODS, PURPOSE_CODES } from "@/core/banks";
import { LANGUAGE_NAMES, LETTER_LANGUAGES } from "@/core/letters";
import { BLOCKED_FOR, CREDIT_GRADES, type CreditGrade, type PartnerInput } from "@/core/partners";
import { dateText, readDate, type CalendarDate } from "@/core/shared";
import type { PartnerRow } from "@/server/partners";
import { currencyOptions } from "@/ui/form";
import type { RecordField, RecordValues } from "@/ui/RecordPage";

interface Named {
  code: string;
  name: string;
}

/** What the form of a supplier or customer is made with. */
export interface PartnerFormFacts {
  role: "supplier" | "customer";
  terms: readonly Named[];
  taxes: readonly Named[];
  /** Who may collect: sign-in names and names. */
  collectors: readonly Named[];
  groups: readonly Named[];
  companies: readonly { currency: string }[];
  dimensions: readonly Named[];
  today: CalendarDate;
}

export function partnerFields(known: PartnerFormFacts): RecordField[] {
  const { role, terms, taxes } = known;
  return [
    { key: "code", label: "Number", kind: "text", required: true, fixed: true },
    { key: "name", label: "Name", kind: "text", required: true },
    { key: "street", label: "Street", kind: "text" },
    { key: "postcode", label: "Postcode", kind: "text" },
    { key: "city", label: "City", kind: "text" },
    {
      key: "country",
      label: "Country",
      kind: "text",
      required: true,
      placeholder: "IE",
      hint: "Two letters (ISO 3166).",
    },
    { key: "taxNumber", label: "Tax number", kind: "text" },
    { key: "lei", label: "Legal entity identifier", kind: "text" },
    {
      key: "language",
      label: "Language of letters",
      kind: "select",
      options: LETTER_LANGUAGES.map((l) => ({ value: l, text: LANGUAGE_NAMES[l] })),
    },
    { key: "email", label: "E-mail", kind: "text" },
    ...(role === "customer" ? otherAddresses() : []),
    {
      key: "terms",
      label: "Terms of payment",
      kind: "select",
      options: [
        { value: "", text: "none" },
        ...terms.map((t) => ({ value: t.code, text: t.name })),
      ],
    },
    {
      key: "method",
      label: role === "supplier" ? "Paid by" : "Pays by",
      kind: "select",
      options: PAYMENT_METHODS.map((m) => ({ value: m, text: m })),
    },
    ...(role === "supplier"
      ? [
          {
            key: "purpose",
            label: "Purpose of its payments",
            kind: "select" as const,
            options: [
              { value: "", text: "Supplier payment" },
              ...Object.entries(PURPOSE_CODES).map(([value, text]) => ({
                value,
                text: `${value} ${text}`,
              })),
            ],
            hint: "As banks are told (ISO 20022).",
          },
        ]
      : []),
    {
      key: "currency",
      label: "Currency",
      kind: "select",
      options: [
        { value: "", text: "the company's" },
        ...currencyOptions(known.companies.map((c) => c.currency)),
      ],
    },
    { key: "account", label: "Usual account", kind: "text" },
    ...known.dimensions.map((d): RecordField => ({
      key: `d.${d.code}`,
      label: `Usual ${d.name.toLowerCase()}`,
      kind: "text",
    })),
    {
      key: "taxCode",
      label: "Usual tax code",
      kind: "select",
      options: [
        { value: "", text: "none" },
        ...taxes.map((t) => ({ value: t.code, text: `${t.code} ${t.name}` })),
      ],
    },
    {
      key: "shares",
      label: "Usual shares",
      kind: "text",
      hint: "Code of shares that split its invoices.",
    },
    ...(role === "customer" ? creditFields(known) : []),
    {
      key: "hold",
      label: "On hold, because",
      kind: "text",
      hint: "While a reason stands here, nothing is paid.",
    },
    { key: "customer", label: "Is a customer", kind: "check" },
    { key: "supplier", label: "Is a supplier", kind: "check" },
    { key: "blocked", label: "Blocked: takes no more postings", kind: "check" },
  ];
}

const PARTS = ["Name", "Street", "Postcode", "City", "Country"] as const;
const addressKeys = (of: "delivery" | "statement") => PARTS.map((part) => `${of}${part}`);

/** Where else its deliveries, and its statements and reminders, go. */
const otherAddresses = (): RecordField[] => [
  { key: "deliveredElsewhere", label: "Delivered to another address", kind: "check" },
  ...addressKeys("delivery").map((key, i): RecordField => ({
    key,
    label: `Delivered to: ${PARTS[i]!.toLowerCase()}`,
    kind: "text",
  })),
  { key: "statedElsewhere", label: "Statements and reminders go elsewhere", kind: "check" },
  ...addressKeys("statement").map((key, i): RecordField => ({
    key,
    label: `Statements to: ${PARTS[i]!.toLowerCase()}`,
    kind: "text",
  })),
  { key: "statementEmail", label: "Statements to: e-mail", kind: "text" },
];

/** What does not count with what is chosen: further addresses and an insurance only where said. */
const hiddenBy = (values: RecordValues): ReadonlySet<string> =>
  new Set([
    ...(values.deliveredElsewhere ? [] : addressKeys("delivery")),
    ...(values.statedElsewhere ? [] : [...addressKeys("statement"), "statementEmail"]),
    ...(values.insurer ? [] : ["insuredAmount", "insuredUntil"]),
  ]);
export const partnerShows =
  (known: PartnerFormFacts) =>
  (values: RecordValues): string[] => {
    const hidden = hiddenBy(values);
    return partnerFields(known).flatMap((f) => (hidden.has(f.key) ? [] : [f.key]));
  };

/** How much it may owe, who looks after that, and what it is blocked for. */
function creditFields({ collectors, companies, groups }: PartnerFormFacts): RecordField[] {
  const people = [
    { value: "", text: "nobody" },
    ...collectors.map((c) => ({ value: c.code, text: c.name })),
  ];
  return [
    {
      key: "creditLimit",
      label: "Credit limit",
      kind: "figure",
      hint: "Empty: none is set. A higher one is asked for under Limits.",
    },
    {
      key: "creditCurrency",
      label: "Currency of the limit",
      kind: "select",
      options: currencyOptions(companies.map((c) => c.currency)),
    },
    { key: "insurer", label: "Insured by", kind: "text", hint: "Empty: not insured." },
    { key: "insuredAmount", label: "Insured up to", kind: "figure" },
    { key: "insuredUntil", label: "Insured until", kind: "date" },
    {
      key: "grade",
      label: "Credit grade",
      kind: "select",
      options: [
        { value: "", text: "none" },
        ...CREDIT_GRADES.map((g) => ({ value: g, text: GRADES[g] })),
      ],
    },
    {
      key: "customerGroup",
      label: "Group of customers",
      kind: "select",
      options: [
        { value: "", text: "none" },
        ...groups.map((g) => ({ value: g.code, text: g.name })),
      ],
    },
    { key: "collector", label: "Collector", kind: "select", options: people },
    { key: "standIn", label: "Stand-in", kind: "select", options: people },
    {
      key: "headOffice",
      label: "Head office that pays",
      kind: "text",
      hint: "Number of the customer that pays for this branch.",
    },
    {
      key: "blocks",
      label: "Blocked for",
      kind: "checks",
      options: BLOCKED_FOR.map((b) => ({ value: b, text: b })),
    },
    { key: "blockReason", label: "Blocked because", kind: "text" },
  ];
}
const GRADES: Record<CreditGrade, string> = {
  A: "A: pays surely",
  B: "B: pays well",
  C: "C: pays late",
  D: "D: doubtful",
  E: "E: hardly pays",
};

export const partnerValues = (
  p: PartnerRow | null,
  { role, dimensions }: PartnerFormFacts,
): RecordValues => ({
  code: p?.code ?? "",
  name: p?.name ?? "",
  street: p?.street ?? "",
  postcode: p?.postcode ?? "",
  city: p?.city ?? "",
  country: p?.country ?? "IE",
  taxNumber: p?.taxNumber ?? "",
  lei: p?.lei ?? "",
  language: p?.language ?? "en",
  email: p?.email ?? "",
  deliveredElsewhere: Boolean(p?.deliveryCity),
  deliveryName: p?.deliveryName ?? "",
  deliveryStreet: p?.deliveryStreet ?? "",
  deliveryPostcode: p?.deliveryPostcode ?? "",
  deliveryCity: p?.deliveryCity ?? "",
  deliveryCountry: p?.deliveryCountry ?? "",
  statedElsewhere: Boolean(p?.statementCity || p?.statementEmail),
  statementName: p?.statementName ?? "",
  statementStreet: p?.statementStreet ?? "",
  statementPostcode: p?.statementPostcode ?? "",
  statementCity: p?.statementCity ?? "",
  statementCountry: p?.statementCountry ?? "",
  statementEmail: p?.statementEmail ?? "",
  terms: p?.terms ?? "",
  method: p?.method ?? "transfer",
  purpose: p?.purpose ?? "",
  currency: p?.currency ?? "",
  account: p?.account ?? "",
  ...Object.fromEntries(dimensions.map((d) => [`d.${d.code}`, p?.dimensions[d.code] ?? ""])),
  taxCode: p?.taxCode ?? "",
  shares: p?.shares ?? "",
  hold: p?.hold ?? "",
  customer: p?.customer ?? role === "customer",
  supplier: p?.supplier ?? role === "supplier",
  creditLimit: p?.creditLimit ?? "",
  creditCurrency: p?.creditCurrency ?? "EUR",
  insurer: p?.insurer ?? "",
  insuredAmount: p?.insuredAmount ?? "",
  insuredUntil: p?.insuredUntil ? dateText(p.insuredUntil) : "",
  grade: p?.grade ?? "",
  collector: p?.collector ?? "",
  standIn: p?.standIn ?? "",
  customerGroup: p?.customerGroup ?? "",
  headOffice: p?.headOffice ?? "",
  blocks: p?.blocks ?? [],
  blockReason: p?.blockReason ?? "",
  blocked: p?.blocked ?? false,
});

/** What does not show any more counts no more. */
const cleared = (v: RecordValues): Record<string, string> =>
  Object.fromEntries([...hiddenBy(v)].map((key) => [key, ""]));

export const partnerInput = (
  v: RecordValues,
  { dimensions, today }: PartnerFormFacts,
): Partial<PartnerInput> => ({
  ...(v as unknown as PartnerInput),
  insuredUntil: readDate(String(v.insuredUntil), today) ?? String(v.insuredUntil),
  ...cleared(v),
  terms: String(v.terms) || null,
  currency: String(v.currency) || null,
  taxCode: String(v.taxCode ?? ""),
  dimensions: Object.fromEntries(
    dimensions.flatMap((d) => (v[`d.${d.code}`] ? [[d.code, String(v[`d.${d.code}`])]] : [])),
  ),
});
