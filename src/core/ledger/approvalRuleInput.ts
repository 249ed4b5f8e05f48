import { number, object, string } from "yup";
import { ROLES } from "../access";

export const approvalRuleSchema = object({
  id: number().integer(),
  type: string().nullable().default(null),
  company: string().nullable().default(null),
  accountFrom: string().nullable().default(null),
  accountTo: string().nullable().default(null),
  minimum: string().default("0"),
  currency: string().required(),
  role: string().oneOf(ROLES).required(),
});
