import { array, boolean, object, string } from "yup";
import { TAX_CATEGORIES, TAX_DIRECTIONS, TAX_KINDS } from "./taxCode";

const percent = (what: string) =>
  string()
    .default("0")
    .matches(/^\d{1,3}(\.\d{1,4})?$/, `${what} is a per cent like 23 or 13.5`);

export const taxCodeSchema = object({
  code: string()
    .trim()
    .uppercase()
    .required("A code is needed")
    .matches(/^[A-Z0-9-]{1,20}$/, "A code has capitals, figures and dashes"),
  name: string().trim().required("A name is needed").max(80),
  direction: string().oneOf(TAX_DIRECTIONS).default("purchase"),
  kind: string().oneOf(TAX_KINDS).required(),
  account: string().trim().default(""),
  owedAccount: string().trim().default(""),
  recoverable: percent("The recoverable part").default("100"),
  returnLine: string().trim().max(20).default(""),
  category: string()
    .oneOf(["", ...TAX_CATEGORIES] as const)
    .default(""),
  reason: string().trim().max(200).default(""),
  blocked: boolean().default(false),
  rates: array(object({ from: string().required(), percent: percent("A rate") }))
    .min(1, "A rate is needed")
    .max(100)
    .required(),
});
