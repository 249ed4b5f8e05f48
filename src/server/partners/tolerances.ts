import { object, string } from "yup";
import { paymentToleranceSchema, usualTolerance, type PaymentTolerance } from "@/core/openItems";
import { ok } from "@/core/shared";
import { defineUseCase } from "../access";
import { groupRules, type GroupRule } from "./groupRules";

/** What is let pass when customers pay, by their group. */
export const TOLERANCES = groupRules<PaymentTolerance>({
  column: "tolerance",
  kind: "payment tolerance",
  others: "tolerance.others",
  cast: (kept) => paymentToleranceSchema.cast(kept),
  usual: usualTolerance,
});
export type GroupTolerance = GroupRule<PaymentTolerance>;

export const paymentTolerances = defineUseCase({
  name: "paymentTolerances",
  kind: "read",
  rights: ["read.receivables", "read.setup", "setup.rules"],
  what: "see payment tolerances",
  of: "shared",
  schema: object(),
  run: async ({ tx }) => ok(await TOLERANCES.all(tx)),
});

/** What is let pass of a group from now on; `tolerance` null: as of everybody else. */
export const savePaymentTolerance = defineUseCase({
  name: "savePaymentTolerance",
  kind: "write",
  rights: ["setup.rules"],
  what: "set up payment tolerances",
  of: "group",
  schema: object({
    code: string().trim().uppercase().max(20).default(""),
    tolerance: paymentToleranceSchema.nullable().default(null),
  }),
  run: (context, { code, tolerance }) => TOLERANCES.save(context, code, tolerance),
});
