import { isValidIBAN } from "ibantools";
import type { PartnerInput } from "@/core/partners";
import { CUSTOMERS, SMALL_CUSTOMERS, SUPPLIERS } from "./structure";

interface DemoPartner extends Partial<PartnerInput> {
  code: string;
  name: string;
  country: string;
  iban?: string;
}

/**
 * An account number at a made-up bank: the first from `number` on that passes the checks of its
 * country and of ISO 13616.
 */
export function iban(country: string, bank: string, number: number, digits: number): string {
  for (let n = number; ; n++) {
    const body = `${bank}${String(n).padStart(digits, "0")}`;
    const plain = `${body}${country}00`.replace(/[A-Z]/g, (c) => String(c.charCodeAt(0) - 55));
    const made = `${country}${String(98n - (BigInt(plain) % 97n)).padStart(2, "0")}${body}`;
    if (isValidIBAN(made)) return made;
    if (n > number + 1000) throw new Error(`no account in ${country} after ${number}`);
  }
}

const PLACES = ["Ostry", "Kestle", "Innish", "Port Harrow", "Sandwick", "Merrowmouth"];
const supplierTerms: Record<string, string> = {
  fuel: "21",
  shipyard: "45",
  insurance: "0",
  audit: "14",
  electricity: "14",
  engines: "2-10-30",
  steel: "2-10-30",
  paint: "2-10-30",
};

const USUAL: Record<string, readonly [account: string, costCentre: string]> = {
  rope: ["6310", "HARB"],
  print: ["7430", "A-SALES"],
  software: ["7220", "A-OFF"],
  stevedores: ["6240", "R-OST"],
  audit: ["7410", "A-FIN"],
  electricity: ["6630", "T-NORTH"],
};

/** The suppliers of the scenario, with what is usual for each. */
export const demoSuppliers: readonly DemoPartner[] = Object.entries(SUPPLIERS).map(
  ([key, name], i): DemoPartner => ({
    code: `S-${String(i + 101)}`,
    name,
    supplier: true,
    country: key === "fuel" ? "NL" : key === "engines" ? "DE" : "IE",
    language: key === "engines" ? ("de" as const) : ("en" as const),
    street: `${3 + i * 7} Harbour Road`,
    postcode: `${1000 + i * 37}`,
    city: PLACES[i % PLACES.length]!,
    email: `accounts@${name.toLowerCase().replace(/[^a-z]+/g, "-")}.example`,
    taxNumber:
      key === "fuel"
        ? "NL000099998B57"
        : key === "engines"
          ? "DE999999999"
          : `IE${String(9000000 + i * 1111)}W`,
    terms: supplierTerms[key] ?? "30",
    method: ["rope", "print", "cleaning"].includes(key) ? "cheque" : "transfer",
    iban:
      key === "engines"
        ? iban("DE", "99990001", 1_000_000_000 + i * 137, 10)
        : key === "fuel"
          ? iban("NL", "ZZZZ", 100_000_000 + i * 99, 10)
          : iban("IE", "ZZZZ999999", 10_000_000 + i * 137, 8),
    taxCode: key === "fuel" || key === "engines" ? "RC23" : "S23",
    ...(USUAL[key] ? { account: USUAL[key][0], dimensions: { costCentre: USUAL[key][1] } } : {}),
    ...(key === "stevedores" ? { hold: "Disputed: hours of August" } : {}),
  }),
);

export const demoCustomers: readonly DemoPartner[] = [
  ...Object.values(CUSTOMERS),
  ...SMALL_CUSTOMERS,
].map((name, i): DemoPartner => ({
  code: `C-${String(i + 201)}`,
  name,
  customer: true,
  country: "IE",
  street: `${11 + i * 5} Quay Street`,
  postcode: `${2000 + i * 41}`,
  city: PLACES[(i + 2) % PLACES.length]!,
  email: `finance@${name.toLowerCase().replace(/[^a-z]+/g, "-")}.example`,
  terms: "30",
}));

export const demoTerms: readonly {
  code: string;
  name: string;
  terms: {
    instalments: {
      percent: string;
      days: number;
      endOfMonth?: boolean;
      fromDelivery?: boolean;
      months?: number;
    }[];
    discounts?: { percent: string; days: number }[];
  };
}[] = [
  { code: "0", name: "at once", terms: { instalments: [{ percent: "100", days: 0 }] } },
  {
    code: "D",
    name: "on delivery",
    terms: { instalments: [{ percent: "100", days: 0, fromDelivery: true }] },
  },
  {
    code: "D-90-10",
    name: "90 % on delivery, 10 % kept for 12 months",
    terms: {
      instalments: [
        { percent: "90", days: 0, fromDelivery: true },
        { percent: "10", days: 0, fromDelivery: true, months: 12 },
      ],
    },
  },
  { code: "14", name: "14 days net", terms: { instalments: [{ percent: "100", days: 14 }] } },
  { code: "21", name: "21 days net", terms: { instalments: [{ percent: "100", days: 21 }] } },
  { code: "30", name: "30 days net", terms: { instalments: [{ percent: "100", days: 30 }] } },
  {
    code: "45",
    name: "45 days from the end of the month",
    terms: { instalments: [{ percent: "100", days: 45, endOfMonth: true }] },
  },
  {
    code: "2-10-30",
    name: "2 % within 10 days, 30 days net",
    terms: { instalments: [{ percent: "100", days: 30 }], discounts: [{ percent: "2", days: 10 }] },
  },
  {
    code: "keep-10",
    name: "30 days net, 10 % kept back for a year",
    terms: {
      instalments: [
        { percent: "90", days: 30 },
        { percent: "10", days: 365 },
      ],
    },
  },
  {
    code: "thirds",
    name: "three instalments of a third",
    terms: {
      instalments: [
        { percent: "33.33", days: 10 },
        { percent: "33.33", days: 40 },
        { percent: "33.34", days: 70 },
      ],
    },
  },
];

const codes = new Map([...demoSuppliers, ...demoCustomers].map((p) => [p.name, p.code]));
/** The number of a partner in the scenario by its name. */
export const partnerCode = (name: string): string => codes.get(name)!;
