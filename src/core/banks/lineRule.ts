import { boolean, number, object, string, type InferType } from "yup";
import { textRecord } from "../shared";
import { MOVEMENT_SIDES } from "./lineState";

/** What a rule makes of the lines that it means. */
export const RULE_OUTCOMES = ["kind", "coding", "partner", "leave"] as const;
export type RuleOutcomeKind = (typeof RULE_OUTCOMES)[number];

const decimal = () =>
  string()
    .trim()
    .default("")
    .matches(/^(\d{1,3}(,\d{3})+|\d+)?(\.\d+)?$/, "This is no amount");

/** A rule of the company's own for lines of bank statements, as written. */
export const lineRuleSchema = object({
  id: number().integer(),
  version: number().integer(),
  company: string().required(),
  name: string().trim().required("A name is needed").max(80),
  /** Rules are asked in this order: the first that means a line decides. */
  place: number()
    .integer("A whole number")
    .min(1, "The first is 1")
    .max(9999)
    .typeError("A whole number")
    .required("Say in which order it is asked"),
  bank: string().trim().default(""),
  text: string().trim().max(140).default(""),
  party: string().trim().max(140).default(""),
  code: string().trim().uppercase().max(40).default(""),
  side: string().oneOf(MOVEMENT_SIDES).default("both"),
  from: decimal(),
  to: decimal(),
  outcome: string().oneOf(RULE_OUTCOMES).required("Say what it makes of them"),
  kind: string().trim().max(20).default(""),
  account: string().trim().max(20).default(""),
  dimensions: textRecord(),
  tax: string().trim().uppercase().max(20).default(""),
  shares: string().trim().uppercase().max(20).default(""),
  partner: string().trim().max(20).default(""),
  /** Whether it is asked at all, or only tried. */
  inUse: boolean().default(false),
}).test(
  "means-something",
  "Give it a condition: words, a name, a code or an amount",
  (r, context) =>
    [r.text, r.party, r.code, r.from, r.to].some((c) => c !== "")
      ? true
      : context.createError({ path: "text" }),
);
export type LineRuleInput = InferType<typeof lineRuleSchema>;
