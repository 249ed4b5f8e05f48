import { array, boolean, number, object, string, type InferType } from "yup";

/** Where reasons are offered to whoever takes something back, with what people call it. */
export const REASON_PLACES = {
  payments: "Payments undone",
  cheques: "Cheques cancelled",
  deposits: "Deposits cancelled, cheques returned",
  invoices: "Invoices, goods receipts, batches cancelled",
  runs: "Runs reversed",
  statements: "Files of statements taken back",
  writeOffs: "Differences written off",
} as const;
export type ReasonPlace = keyof typeof REASON_PLACES;
export const isReasonPlace = (text: string): text is ReasonPlace =>
  Object.hasOwn(REASON_PLACES, text);

/** Whether a reason is wanted: in any words, one of those that are offered, or none. */
export const REASON_RULES = ["any", "listed", "optional"] as const;
export type ReasonRule = (typeof REASON_RULES)[number];
export const REASON_RULE_NAMES: Readonly<Record<ReasonRule, string>> = {
  any: "in any words",
  listed: "one of the list",
  optional: "not required",
};
/** The fewest characters that say why. */
const SHORTEST = 5;

/** Whether a reason is enough where a rule holds. `offered` are those of the list for its place. */
export function reasonIsEnough(
  rule: ReasonRule,
  text: string,
  offered: readonly string[],
): boolean {
  const said = text.trim();
  if (said === "") return rule === "optional";
  if (rule !== "listed") return said.length >= SHORTEST;
  return offered.some((o) => o.toLowerCase() === said.toLowerCase());
}

/** A reason for taking something back, as written: one list for all areas. */
export const reasonSchema = object({
  id: number().integer(),
  version: number().integer(),
  text: string()
    .trim()
    .required("Say the reason")
    .min(5, "A reason has five letters at least")
    .max(200),
  places: array(
    string()
      .oneOf(Object.keys(REASON_PLACES) as ReasonPlace[])
      .required(),
  )
    .min(1, "Say where it is offered")
    .default([]),
  /** Not offered any more; what was undone with it keeps it. */
  blocked: boolean().default(false),
});
export type ReasonInput = InferType<typeof reasonSchema>;
