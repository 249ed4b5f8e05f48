import type { CalendarDate } from "../shared";

/** How a cost becomes expense over the time of its use (IAS 16.62). */
export const DEPRECIATION_METHODS = [
  "straight line",
  "declining balance",
  "sum of digits",
  "units of production",
  "by law",
  "by plan",
  "at once",
  "none",
] as const;
export type DepreciationMethod = (typeof DEPRECIATION_METHODS)[number];

/** From when on the time of use counts, and by what it is measured. */
export const CONVENTIONS = [
  "full month",
  "next month",
  "half month",
  "mid-month",
  "half year",
  "mid-quarter",
  "actual days",
  "actual/365",
  "actual/actual",
  "30/360",
] as const;
export type Convention = (typeof CONVENTIONS)[number];

export const CONVENTION_WORDS: Readonly<Record<Convention, string>> = {
  "full month": "from the month of use on",
  "next month": "from the month after",
  "half month": "that month up to its 15th, else from the month after",
  "mid-month": "from the middle of that month on",
  "half year": "from the middle of that fiscal year on",
  "mid-quarter": "from the middle of that quarter on",
  "actual days": "by days, of all days of its life",
  "actual/365": "by days, 365 to a year",
  "actual/actual": "by days, of the days of each calendar year",
  "30/360": "by days, 30 to a month",
};

/**
 * How one book depreciates: what a class proposes and an asset keeps. All is text, as it is kept
 * and typed in the standard way.
 */
export interface DepreciationRule {
  method: DepreciationMethod;
  convention: Convention;
  /** Useful life in months; 0 where the method knows none. */
  life: number;
  /** What is left at the end, per cent of cost: "10". */
  residual: string;
  /** Declining balance: per cent a year of what is left at the year's beginning. */
  rate: string;
  /** Declining balance: goes over to straight line in the first year in which that is more. */
  switches: boolean;
  /** By law: per cent of cost for each fiscal year of use, the first one's as a whole. */
  percents: readonly string[];
  /** Units of production: how many units its life has. */
  units: string;
  /** By plan: what is charged in each month, minor units, as a measure of what falls on it. */
  plan: readonly { month: string; amount: string }[];
}

export const EMPTY_RULE: DepreciationRule = {
  method: "straight line",
  convention: "full month",
  life: 0,
  residual: "0",
  rate: "",
  switches: false,
  percents: [],
  units: "",
  plan: [],
};

/** Whether the method spreads a cost over a life in months. */
export const hasLife = (method: DepreciationMethod): boolean =>
  method === "straight line" || method === "declining balance" || method === "sum of digits";

/** A time in which nothing is charged, in whole months; the life is longer by it. */
export interface Pause {
  from: CalendarDate;
  to: CalendarDate;
}

/** A rule in a few words: “straight line, 60 months, from the month of use on”. */
export function ruleText(rule: DepreciationRule): string {
  const { method, life, convention, rate, switches, units } = rule;
  if (method === "none") return "not depreciated";
  if (method === "at once") return "expensed at once";
  if (method === "by law") return `by law, over ${rule.percents.length} fiscal years`;
  if (method === "by plan") return "by a plan of its own";
  if (method === "units of production") return `by units of production, ${units} in all`;
  const how =
    method === "declining balance"
      ? `declining balance, ${rate} % a year${switches ? ", then straight line" : ""}`
      : method;
  return `${how}, ${lifeText(life)}, ${CONVENTION_WORDS[convention]}`;
}

/** A life in months as people say it: “5 years”, “18 months”. */
export function lifeText(months: number): string {
  if (months === 0 || months % 12 !== 0) return `${months} ${months === 1 ? "month" : "months"}`;
  const years = months / 12;
  return years === 1 ? "1 year" : `${years} years`;
}
