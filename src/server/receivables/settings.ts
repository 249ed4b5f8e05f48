import { number, object, string } from "yup";
import { writtenAccountProblem } from "@/core/ledger";
import { DEFERRAL_METHODS, type DeferralMethod } from "@/core/receivables";
import { fail, ok, textRecord, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { writeSetting } from "../db";
import { readTaxCodes } from "../taxes";
import { CHARGES_SETTING, readChargeAccounts, type ChargeAccounts } from "./letters/charges";
import { LOSS_DIMENSIONS, readLossDimensions } from "./losses/coding";
import { CREDIT_DAYS, CREDIT_RULES, creditDays, creditRule, type CreditRule } from "./credit";
import { DEFERRAL_SETTING, readDeferral } from "./deferral/policy";
import { PREPAYMENT_SETTING, readPrepaymentAccount } from "./prepayments";

export interface ReceivablesSettings extends ChargeAccounts {
  /** The values by dimension that losses of receivables are coded with. */
  lossDimensions: Record<string, string>;
  /** What happens to an invoice that goes over its customer's limit. */
  creditRule: CreditRule;
  /** Days of agreements that count for the limit beside what is open. */
  creditDays: number;
  /** Where revenue waits until it is earned, and how it is earned; "" where nothing is set. */
  deferralAccount: string;
  deferralMethod: DeferralMethod;
  /** Where what customers pay ahead waits; "" where nothing is set. */
  prepaymentAccount: string;
}

export const receivablesSettings = defineUseCase({
  name: "receivablesSettings",
  kind: "read",
  rights: ["read.receivables", "read.setup", "setup.rules"],
  what: "see the rules of receivables",
  of: "shared",
  schema: object(),
  run: async (context): Promise<Result<ReceivablesSettings>> => {
    const deferral = await readDeferral(context.tx);
    return ok({
      deferralAccount: deferral?.account ?? "",
      deferralMethod: deferral?.method ?? "months",
      prepaymentAccount: (await readPrepaymentAccount(context.tx)) ?? "",
      creditRule: await creditRule(context),
      creditDays: await creditDays(context.tx),
      ...(await readChargeAccounts(context.tx)),
      lossDimensions: await readLossDimensions(context.tx),
    });
  },
});

export const saveReceivablesSettings = defineUseCase({
  name: "saveReceivablesSettings",
  kind: "write",
  rights: ["setup.rules"],
  what: "change the rules of receivables",
  of: "group",
  schema: object({
    creditRule: string().oneOf(CREDIT_RULES).required(),
    creditDays: number()
      .typeError("Days are a whole number")
      .integer("Days are a whole number")
      .min(0, "Days are 0 or more")
      .max(366, "At most 366 days")
      .default(30),
    feeAccount: string().trim().max(20).default(""),
    interestAccount: string().trim().max(20).default(""),
    chargeTax: string().trim().max(40).default(""),
    lossDimensions: textRecord(),
    deferralAccount: string().trim().max(20).default(""),
    deferralMethod: string().oneOf(DEFERRAL_METHODS).default("months"),
    prepaymentAccount: string().trim().max(20).default(""),
  }),
  run: async (
    context,
    {
      creditRule: rule,
      creditDays: days,
      lossDimensions,
      deferralAccount,
      deferralMethod,
      prepaymentAccount,
      ...charges
    },
  ): Promise<Result<unknown>> => {
    const faults: Found[] = (["feeAccount", "interestAccount"] as const).flatMap(
      (field) => writtenAccountProblem(context.masters, charges[field], { field }) ?? [],
    );
    const codes = await readTaxCodes(context.tx, "sale");
    if (charges.chargeTax !== "" && !codes.some((c) => c.code === charges.chargeTax))
      faults.push({ code: "TAX_UNKNOWN", tax: charges.chargeTax, field: "chargeTax" });
    for (const [field, number] of [
      ["deferralAccount", deferralAccount],
      ["prepaymentAccount", prepaymentAccount],
    ] as const) {
      const fault = writtenAccountProblem(context.masters, number, { field });
      if (fault) faults.push(fault);
      const account = context.masters.accountByNumber.get(number);
      if (account && account.type !== "liability")
        faults.push({
          code: "INVALID",
          what: `${number} is no liability: what is invoiced ahead is still owed to customers`,
          field,
        });
    }
    if (faults.length > 0) return fail(faults[0]!, ...faults.slice(1));
    await writeSetting(context.tx, "credit.rule", rule);
    await writeSetting(context.tx, CREDIT_DAYS, days);
    await writeSetting(context.tx, CHARGES_SETTING, charges);
    await writeSetting(context.tx, DEFERRAL_SETTING, {
      account: deferralAccount,
      method: deferralMethod,
    });
    await writeSetting(context.tx, PREPAYMENT_SETTING, { account: prepaymentAccount });
    await writeSetting(
      context.tx,
      LOSS_DIMENSIONS,
      Object.fromEntries(Object.entries(lossDimensions).filter(([, value]) => value !== "")),
    );
    await context.audit({
      action: "changed",
      kind: "rules of receivables",
      recordId: "receivables",
      after: {
        creditRule: rule,
        creditDays: days,
        lossDimensions,
        deferralAccount,
        deferralMethod,
        prepaymentAccount,
        ...charges,
      },
    });
    return ok({});
  },
});
