import {
  CONVENTION_WORDS,
  CONVENTIONS,
  DEPRECIATION_METHODS,
  hasLife,
  type DepreciationMethod,
  type RuleInput,
} from "@/core/assets";
import type { RecordField, RecordValues } from "@/ui/form";

const KEYS = ["method", "convention", "life", "residual", "rate", "switches", "percents", "units"];
/** Methods that people choose in a form; a plan of its own comes with the asset. */
const METHODS = DEPRECIATION_METHODS.filter((m) => m !== "by plan");
const METHOD_WORDS: Readonly<Partial<Record<DepreciationMethod, string>>> = {
  "at once": "expensed at once",
  "by law": "by law, per cent by fiscal year",
  none: "not depreciated",
};

/** The fields of a rule, under a name; `none` is what no rule of its own is called. */
export function ruleFields(name: string, of: string, none?: string): RecordField[] {
  const at = (key: string) => `${name}.${key}`;
  return [
    {
      key: at("method"),
      label: `How ${of} depreciate`,
      kind: "select",
      options: [
        ...(none ? [{ value: "", text: none }] : []),
        ...METHODS.map((m) => ({ value: m, text: METHOD_WORDS[m] ?? m })),
      ],
    },
    {
      key: at("life"),
      label: "Useful life",
      kind: "text",
      required: true,
      placeholder: "5 years, or 60 months",
    },
    {
      key: at("convention"),
      label: "Charged",
      kind: "select",
      options: CONVENTIONS.map((c) => ({ value: c, text: CONVENTION_WORDS[c] })),
    },
    { key: at("rate"), label: "Rate, per cent a year", kind: "figure", required: true },
    {
      key: at("switches"),
      label: "Goes over to straight line once that is more",
      kind: "check",
    },
    {
      key: at("percents"),
      label: "Per cent of each fiscal year",
      kind: "figure",
      required: true,
      placeholder: "20; 32; 19.2; 28.8",
    },
    { key: at("units"), label: "Units in its life", kind: "figure", required: true },
    { key: at("residual"), label: "Residual value, per cent of cost", kind: "figure" },
  ];
}

/** Which of them count with the method that is chosen. */
export function shownOf(name: string, values: RecordValues): string[] {
  const method = String(values[`${name}.method`] ?? "") as DepreciationMethod | "";
  const shown = ["method"];
  if (method === "") return [`${name}.method`];
  if (hasLife(method)) shown.push("life", "convention", "residual");
  if (method === "declining balance") shown.push("rate", "switches");
  if (method === "by law") shown.push("percents");
  if (method === "units of production") shown.push("units", "residual");
  return shown.map((key) => `${name}.${key}`);
}

/** A rule out of the values of a form; undefined where none of its own is chosen. */
export function ruleIn(name: string, values: RecordValues): RuleInput | undefined {
  if (!values[`${name}.method`]) return undefined;
  return Object.fromEntries(KEYS.map((k) => [k, values[`${name}.${k}`]])) as unknown as RuleInput;
}

/** The values of a form for a rule; empty where there is none. */
export const valuesOfRule = (name: string, rule: RuleInput | null): RecordValues =>
  Object.fromEntries(
    KEYS.map((key) => [
      `${name}.${key}`,
      rule
        ? rule[key as keyof RuleInput]
        : key === "switches"
          ? false
          : key === "convention"
            ? "full month"
            : key === "residual"
              ? "0"
              : "",
    ]),
  );
