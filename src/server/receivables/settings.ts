import { object, string } from "yup";
import { writtenAccountProblem } from "@/core/ledger";
import { fail, ok, textRecord, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { writeSetting } from "../db";
import { readTaxCodes } from "../taxes";
import { CHARGES_SETTING, readChargeAccounts, type ChargeAccounts } from "./letters/charges";
import { LOSS_DIMENSIONS, readLossDimensions } from "./losses/coding";
import { CREDIT_RULES, creditRule, type CreditRule } from "./credit";

export interface ReceivablesSettings extends ChargeAccounts {
  /** The values by dimension that losses of receivables are coded with. */
  lossDimensions: Record<string, string>;
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
    ok({
      creditRule: await creditRule(context),
      ...(await readChargeAccounts(context.tx)),
      lossDimensions: await readLossDimensions(context.tx),
    }),
});

export const saveReceivablesSettings = defineUseCase({
  name: "saveReceivablesSettings",
  kind: "write",
  rights: ["setup.rules"],
  what: "change the rules of receivables",
  of: "group",
  schema: object({
    creditRule: string().oneOf(CREDIT_RULES).required(),
    feeAccount: string().trim().max(20).default(""),
    interestAccount: string().trim().max(20).default(""),
    chargeTax: string().trim().max(40).default(""),
    lossDimensions: textRecord(),
  }),
  run: async (
    context,
    { creditRule: rule, lossDimensions, ...charges },
  ): Promise<Result<unknown>> => {
    const faults: Found[] = (["feeAccount", "interestAccount"] as const).flatMap(
      (field) => writtenAccountProblem(context.masters, charges[field], { field }) ?? [],
    );
    const codes = await readTaxCodes(context.tx, "sale");
    if (charges.chargeTax !== "" && !codes.some((c) => c.code === charges.chargeTax))
      faults.push({ code: "TAX_UNKNOWN", tax: charges.chargeTax, field: "chargeTax" });
    if (faults.length > 0) return fail(faults[0]!, ...faults.slice(1));
    await writeSetting(context.tx, "credit.rule", rule);
    await writeSetting(context.tx, CHARGES_SETTING, charges);
    await writeSetting(
      context.tx,
      LOSS_DIMENSIONS,
      Object.fromEntries(Object.entries(lossDimensions).filter(([, value]) => value !== "")),
    );
    await context.audit({
      action: "changed",
      kind: "rules of receivables",
      recordId: "receivables",
      after: { creditRule: rule, lossDimensions, ...charges },
    });
    return ok({});
  },
});
