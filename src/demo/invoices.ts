import { invoiceInput, type InvoiceInput } from "@/core/payables";
import { invoiceOfComputers } from "./assets";

/** Tax codes of the scenario; its countries and rates are made up to be simple. */
export const demoTaxCodes = [
  {
    code: "S23",
    name: "Purchases, standard rate",
    kind: "standard",
    account: "1410",
    returnLine: "T2",
    rates: [{ from: "2020-01-01", percent: "23" }],
  },
  {
    code: "R13",
    name: "Purchases, reduced rate",
    kind: "standard",
    account: "1410",
    returnLine: "T2",
    rates: [{ from: "2020-01-01", percent: "13.5" }],
  },
  {
    code: "P23",
    name: "Cars, half recoverable",
    kind: "standard",
    account: "1410",
    returnLine: "T2",
    recoverable: "50",
    rates: [{ from: "2020-01-01", percent: "23" }],
  },
  {
    code: "RC23",
    name: "From abroad, reverse charge",
    kind: "reverse",
    account: "1410",
    owedAccount: "2210",
    returnLine: "T1",
    rates: [{ from: "2020-01-01", percent: "23" }],
  },
  ...[
    ["V13", "Sales, reduced rate", "13.5"],
    ["V23", "Sales, standard rate", "23"],
    ["V20", "Sales in the United Kingdom", "20"],
  ].map(([code, name, percent]) => ({
    code: code!,
    name: name!,
    direction: "sale",
    kind: "standard",
    owedAccount: "2210",
    returnLine: "T1",
    rates: [{ from: "2020-01-01", percent: percent! }],
  })),
  ...[
    ["VZ", "Sales, zero rated", "Z", ""],
    ["VE", "Sales, exempt", "E", "Exempt: article 132 of Directive 2006/112/EC"],
    ["VK", "Supplies within the community", "K", "Intra-community supply: article 138"],
    ["VG", "Exports", "G", "Export: article 146 of Directive 2006/112/EC"],
  ].map(([code, name, category, reason]) => ({
    code: code!,
    name: name!,
    direction: "sale",
    kind: "none",
    category: category!,
    reason: reason!,
    returnLine: "E1",
    rates: [{ from: "2020-01-01", percent: "0" }],
  })),
  {
    code: "VRC",
    name: "Sales abroad, reverse charge",
    direction: "sale",
    kind: "reverse",
    category: "AE",
    reason: "Reverse charge: article 196 of Directive 2006/112/EC",
    returnLine: "E2",
    rates: [{ from: "2020-01-01", percent: "23" }],
  },
  { code: "Z0", name: "No tax", kind: "none", rates: [{ from: "2020-01-01", percent: "0" }] },
];

const line = (
  account: string,
  costCentre: string,
  description: string,
  net: string,
  taxCode: string,
) => ({ account, dimensions: { costCentre }, description, net, taxCode });
const paper = (
  more: Partial<Omit<InvoiceInput, "lines">> & { lines: ReturnType<typeof line>[] },
): InvoiceInput => invoiceInput({ company: "HSF", ...more });

/** What the clerk has posted in the first days of November. */
export const postedInvoices: readonly InvoiceInput[] = [
  paper({
    supplier: "S-103",
    number: "TR-4471",
    date: "2 Nov 2026",
    total: "2,816.70",
    description: "Mooring lines",
    lines: [
      line("6310", "HARB", "Mooring lines, 12", "1,840.00", "S23"),
      line("6430", "V-TER", "Fenders, 4", "450.00", "S23"),
    ],
  }),
  paper({
    supplier: "S-112",
    number: "OE-26-1093",
    date: "1 Nov 2026",
    total: "14,350.00",
    description: "Injectors",
    lines: [line("6430", "V-LAN", "Injectors, set", "14,350.00", "RC23")],
  }),
  paper({
    supplier: "S-115",
    number: "2026/338",
    date: "3 Nov 2026",
    kind: "credit note",
    total: "615.00",
    description: "Misprinted timetables",
    lines: [line("7430", "A-SALES", "Timetables returned", "500.00", "S23")],
  }),
  invoiceOfComputers("S-108"),
];

/** Being entered: the paper does not agree yet, and one that waits for the controller. */
export const openInvoice: InvoiceInput = paper({
  supplier: "S-107",
  number: "SC-2291",
  date: "4 Nov 2026",
  total: "6,150.00",
  description: "Cleaning, October",
  lines: [
    line("6260", "V-LAN", "MV Lantern", "2,900.00", "S23"),
    line("6260", "V-CUR", "MV Curlew", "1,900.00", "S23"),
  ],
});
export const waitingInvoice: InvoiceInput = paper({
  supplier: "S-101",
  number: "CS-77120",
  date: "4 Nov 2026",
  total: "38,376.00",
  description: "Rudder repair, MV Curlew",
  lines: [line("6410", "V-CUR", "Rudder stock and bearings", "31,200.00", "S23")],
});
