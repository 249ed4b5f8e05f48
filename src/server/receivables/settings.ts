import { object, string } from "yup";
import { ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { writeSetting } from "../db";
import { CREDIT_RULES, creditRule, type CreditRule } from "./credit";

export interface ReceivablesSettings {
  /** What happens to an invoice that goes over its customer's limit. */
  creditRule: CreditRule;
}

export const receivablesSettings = defineUseCase({
  name: "receivablesSettings",
  kind: "read",
  rights: ["read.receivables", "read.setup", "setup.rules"],
  what: "see the rules of receivables",
  of: "shared",
  schema: object(),
  run: async (context): Promise<Result<ReceivablesSettings>> =>
    ok({ creditRule: await creditRule(context) }),
});

export const saveReceivablesSettings = defineUseCase({
  name: "saveReceivablesSettings",
  kind: "write",
  rights: ["setup.rules"],
  what: "change the rules of receivables",
  of: "group",
  schema: object({ creditRule: string().oneOf(CREDIT_RULES).required() }),
  run: async (context, input): Promise<Result<unknown>> => {
    await writeSetting(context.tx, "credit.rule", input.creditRule);
    await context.audit({
      action: "changed",
      kind: "rules of receivables",
      recordId: "receivables",
      after: input,
    });
    return ok({});
  },
});
