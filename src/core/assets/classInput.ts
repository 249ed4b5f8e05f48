import { array, boolean, lazy, object, string, type InferType } from "yup";
import { ASSET_FACTS } from "./assetClass";
import {
  CONVENTIONS,
  DEPRECIATION_METHODS,
  hasLife,
  lifeText,
  type DepreciationRule,
} from "./rule";

const PERCENT = /^\d{1,3}(\.\d{1,4})?$/;
const percent = (text: string) => PERCENT.test(text) && Number(text) <= 100;

/** A life as people write it, in months: “5 years”, “18 months”, “60”. Null where it is none. */
export function readLife(text: string): number | null {
  const found = /^(\d{1,4})\s*(y|years?|m|months?)?$/i.exec(text.trim());
  if (!found) return null;
  const months = Number(found[1]) * (found[2]?.toLowerCase().startsWith("y") ? 12 : 1);
  return months > 0 && months <= 1_800 ? months : null;
}

/** How a book depreciates, as it is written in a form. */
export const ruleInput = object({
  method: string().oneOf(DEPRECIATION_METHODS, "There is no such method").required(),
  convention: string().oneOf(CONVENTIONS, "There is no such convention").default("full month"),
  life: string()
    .trim()
    .default("")
    .test("life", "A useful life is wanted: 5 years, or 60 months", (text, { parent }) => {
      const { method } = parent as { method: DepreciationRule["method"] };
      return !hasLife(method) || readLife(text) !== null;
    }),
  residual: string()
    .trim()
    .default("0")
    .test(
      "residual",
      "A residual value is a per cent of cost, below 100",
      (text) => text === "" || (percent(text) && Number(text) < 100),
    ),
  rate: string()
    .trim()
    .default("")
    .test("rate", "A rate is a per cent a year, above 0 and up to 100", (text, { parent }) => {
      const { method } = parent as { method: DepreciationRule["method"] };
      return method !== "declining balance" || (percent(text) && Number(text) > 0);
    }),
  switches: boolean().default(false),
  percents: string()
    .trim()
    .default("")
    .test("percents", "Per cents by year come to 100: 20; 32; 19.2; 28.8", (text, { parent }) => {
      const { method } = parent as { method: DepreciationRule["method"] };
      return method !== "by law" || comesToAll(percentsOf(text));
    }),
  units: string()
    .trim()
    .default("")
    .test("units", "Say how many units its life has", (text, { parent }) => {
      const { method } = parent as { method: DepreciationRule["method"] };
      return method !== "units of production" || /^\d{1,12}(\.\d{1,3})?$/.test(text);
    }),
});
export type RuleInput = InferType<typeof ruleInput>;

const percentsOf = (text: string): string[] =>
  text
    .split(/[;\s]+/)
    .map((p) => p.trim())
    .filter(Boolean);
function comesToAll(percents: readonly string[]): boolean {
  if (percents.length === 0 || !percents.every(percent)) return false;
  const sum = percents.reduce((t, p) => t + Math.round(Number(p) * 10_000), 0);
  return sum === 1_000_000;
}

/** A rule that has passed its schema, as it is kept. */
export const readRule = (input: RuleInput): DepreciationRule => ({
  method: input.method,
  convention: input.convention,
  life: hasLife(input.method) ? readLife(input.life)! : 0,
  residual: input.residual === "" ? "0" : input.residual,
  rate: input.method === "declining balance" ? input.rate : "",
  switches: input.method === "declining balance" && input.switches,
  percents: input.method === "by law" ? percentsOf(input.percents) : [],
  units: input.method === "units of production" ? input.units : "",
  plan: [],
});

/** A rule as a form begins with it. */
export const writtenRule = (rule: DepreciationRule): RuleInput => ({
  method: rule.method,
  convention: rule.convention,
  life: rule.life === 0 ? "" : lifeText(rule.life),
  residual: rule.residual,
  rate: rule.rate,
  switches: rule.switches,
  percents: rule.percents.join("; "),
  units: rule.units,
});

const accountNumber = (needed?: string) => {
  const number = string().trim().max(20);
  return needed ? number.required(needed) : number.default("");
};

export const assetClassInput = object({
  code: string()
    .trim()
    .uppercase()
    .required("A code is needed")
    .matches(/^[A-Z0-9-]{1,20}$/, "A code has capitals, figures and dashes"),
  name: string().trim().required("A name is needed").max(120),
  parent: string().trim().uppercase().default(""),
  cost: accountNumber("The account of its cost is needed"),
  accumulated: accountNumber(),
  charge: accountNumber(),
  clearing: accountNumber(),
  gain: accountNumber(),
  loss: accountNumber(),
  threshold: string()
    .trim()
    .default("")
    .matches(/^(\d{1,9}(\.\d{1,2})?)?$/, "An amount, or nothing"),
  needs: array().of(string().trim().max(40).required()).default([]),
  blocked: boolean().default(false),
  common: ruleInput,
  /** By book; one that is not there depreciates as all do. */
  own: lazy((value: object | undefined) =>
    object(Object.fromEntries(Object.keys(value ?? {}).map((book) => [book, ruleInput]))),
  ),
});
export type AssetClassInput = Omit<InferType<typeof assetClassInput>, "own"> & {
  own: Record<string, RuleInput>;
};

/** Facts that can be wanted, besides the dimensions. */
export const isFact = (name: string): boolean => (ASSET_FACTS as readonly string[]).includes(name);
