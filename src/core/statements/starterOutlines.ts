import type { ColumnLayout, Outline, OutlineLine } from "./types";

const line = (
  code: string,
  label: string,
  from: string,
  to: string,
  positive: "debit" | "credit" = "credit",
): OutlineLine => ({
  code,
  label,
  level: 1,
  kind: "accounts",
  positive,
  ranges: [{ from, to }],
});
const total = (
  code: string,
  label: string,
  of: string[],
  positive: "debit" | "credit" = "credit",
  rule?: "single" | "double",
): OutlineLine => ({
  code,
  label,
  level: 0,
  kind: "total",
  of,
  positive,
  ...(rule ? { rule } : {}),
});
const heading = (code: string, label: string): OutlineLine => ({
  code,
  label,
  level: 0,
  kind: "heading",
  positive: "debit",
});

const incomeLines: OutlineLine[] = [
  line("fares", "Passenger fares", "4000", "4099"),
  line("freight", "Freight and vehicles", "4100", "4199"),
  line("terminal", "Terminal and berth income", "4200", "4299"),
  line("yard", "Repairs and refits", "4300", "4399"),
  line("other-sales", "Other sales", "4400", "4499"),
  total("revenue", "Revenue", ["fares", "freight", "terminal", "yard", "other-sales"]),
  line("fuel", "Fuel", "5000", "5199"),
  line("crew", "Crew", "5200", "5399"),
  line("labour", "Yard and terminal labour", "5400", "5599"),
  line("materials", "Materials and goods", "5600", "5699"),
  line("route-costs", "Harbour and route costs", "6200", "6299"),
  line("quay-maintenance", "Quay and pier maintenance", "6300", "6399"),
  line("vessel-maintenance", "Vessel maintenance", "6400", "6499"),
  total("gross-profit", "Gross profit", [
    "revenue",
    "fuel",
    "crew",
    "labour",
    "materials",
    "route-costs",
    "quay-maintenance",
    "vessel-maintenance",
  ]),
  line("other-income", "Other operating income", "4500", "4599"),
  line("insurance-energy", "Insurance and energy", "6600", "6699"),
  line("administration", "Administration", "7000", "7499"),
  total("ebitda", "EBITDA", ["gross-profit", "other-income", "insurance-energy", "administration"]),
  line("depreciation", "Depreciation and impairment", "8000", "8099"),
  total("operating-profit", "Operating profit", ["ebitda", "depreciation"]),
  line("finance", "Net finance cost", "8500", "8599"),
  total("profit-before-tax", "Profit before tax", ["operating-profit", "finance"]),
  line("tax", "Income tax", "8900", "8999"),
  total("result", "Result for the period", ["profit-before-tax", "tax"], "credit", "double"),
];

const positionLines: OutlineLine[] = [
  heading("assets", "Assets"),
  line("intangible", "Intangible assets", "1000", "1049", "debit"),
  line("tangible", "Property, vessels and equipment", "1050", "1096", "debit"),
  line("financial", "Financial assets", "1097", "1099", "debit"),
  total(
    "non-current-assets",
    "Non-current assets",
    ["intangible", "tangible", "financial"],
    "debit",
  ),
  line("stocks", "Stocks", "1200", "1299", "debit"),
  line("receivables", "Trade receivables", "1300", "1399", "debit"),
  line("other-current", "Other current assets", "1400", "1499", "debit"),
  line("cash", "Cash and banks", "1100", "1199", "debit"),
  total(
    "current-assets",
    "Current assets",
    ["stocks", "receivables", "other-current", "cash"],
    "debit",
  ),
  total(
    "total-assets",
    "Total assets",
    ["non-current-assets", "current-assets"],
    "debit",
    "double",
  ),
  heading("equity-and-liabilities", "Equity and liabilities"),
  line("capital", "Capital and reserves", "3000", "3199"),
  line("retained", "Retained earnings", "3200", "3299"),
  {
    code: "uncarried",
    label: "Results of earlier years, year end not posted",
    level: 1,
    kind: "uncarried",
    positive: "credit",
  },
  { code: "result", label: "Result of the year", level: 1, kind: "result", positive: "credit" },
  total("equity", "Equity", ["capital", "retained", "uncarried", "result"]),
  line("long-borrowing", "Borrowing", "2600", "2699"),
  line("provisions", "Provisions and deferrals", "2700", "2799"),
  total("non-current-liabilities", "Non-current liabilities", ["long-borrowing", "provisions"]),
  line("payables", "Trade payables", "2100", "2199"),
  line("taxes", "Taxes and social security", "2200", "2299"),
  line("staff", "Staff", "2300", "2399"),
  line("accruals", "Accruals and deferrals", "2400", "2499"),
  line("short-borrowing", "Short-term borrowing", "2500", "2599"),
  total("current-liabilities", "Current liabilities", [
    "payables",
    "taxes",
    "staff",
    "accruals",
    "short-borrowing",
  ]),
  total(
    "total-equity-and-liabilities",
    "Total equity and liabilities",
    ["equity", "non-current-liabilities", "current-liabilities"],
    "credit",
    "double",
  ),
];

const incomeLayout: ColumnLayout = [
  { key: "this", kind: "span", span: "this-period" },
  { key: "last", kind: "span", span: "last-period" },
  { key: "change", label: "Difference", kind: "difference", of: ["this", "last"] },
  { key: "ytd", label: "Year to date", kind: "span", span: "year-to-date" },
  { key: "prior", label: "Prior year", kind: "span", span: "prior-year" },
  { key: "change-year", label: "Difference", kind: "difference", of: ["ytd", "prior"] },
];

const positionLayout: ColumnLayout = [
  { key: "this", kind: "span", span: "this-period" },
  { key: "last", kind: "span", span: "last-period" },
  { key: "change", label: "Difference", kind: "difference", of: ["this", "last"] },
  { key: "prior", kind: "span", span: "prior-year" },
  { key: "change-year", label: "Difference", kind: "difference", of: ["this", "prior"] },
];

/** The two statements that come with the chart to start from. */
export const starterOutlines = (): Outline[] => [
  {
    code: "income-statement",
    version: 1,
    name: "Income statement",
    kind: "income",
    lines: incomeLines,
    layout: incomeLayout,
  },
  {
    code: "balance-sheet",
    version: 1,
    name: "Balance sheet",
    kind: "position",
    lines: positionLines,
    layout: positionLayout,
  },
];

/** The income statement over the months of the year, one column each. */
export const monthsLayout = (periods: readonly { no: number; label: string }[]): ColumnLayout => [
  ...periods.map((p) => ({ key: `m${p.no}`, label: p.label, kind: "month" as const, month: p.no })),
  { key: "ytd", label: "Year to date", kind: "span", span: "year-to-date" },
];
