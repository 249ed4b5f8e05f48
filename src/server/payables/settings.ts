import { object, string } from "yup";
import { GAINS_TO } from "@/core/banks";
import { fail, ok, readAmount, type Result } from "@/core/shared";
import { DISCOUNT_ON, type DiscountOn } from "@/core/trade";
import { readSetting, writeSetting } from "../db";
import { defineUseCase } from "../access";
import { discountOnSetting } from "./checkInvoice";
import { gainsSetting } from "../banks";
import { PURPOSE_COUNTRIES, purposeCountries } from "./purposeCountries";

export interface PayablesSettings {
  discountTo: (typeof GAINS_TO)[number];
  differenceTo: (typeof GAINS_TO)[number];
  /** How much a payables clerk may write off in one clean-up; a controller has no limit. */
  cleanUpLimit: string;
  /** What discounts of terms are a per cent of. */
  discountOn: DiscountOn;
  /** Countries whose banks are told what every transfer is for, separated by spaces. */
  purposeCountries: string;
}

export const payablesSettings = defineUseCase({
  name: "payablesSettings",
  kind: "read",
  rights: ["read.payables", "read.setup", "setup.rules"],
  what: "see the rules of payables",
  of: "shared",
  schema: object(),
  run: async (context): Promise<Result<PayablesSettings>> => {
    const limits = await readSetting<Record<string, string>>(context.tx, "cleanUp.limits");
    return ok({
      ...(await gainsSetting(context)),
      cleanUpLimit: limits?.payables ?? "500.00",
      discountOn: await discountOnSetting(context),
      purposeCountries: (await purposeCountries(context)).join(" "),
    });
  },
});

export const savePayablesSettings = defineUseCase({
  name: "savePayablesSettings",
  kind: "write",
  rights: ["setup.rules"],
  what: "change the rules of payables",
  of: "group",
  schema: object({
    discountTo: string().oneOf(GAINS_TO).required(),
    differenceTo: string().oneOf(GAINS_TO).required(),
    cleanUpLimit: string().trim().required("A limit is needed"),
    discountOn: string().oneOf(DISCOUNT_ON).default("invoice total"),
    purposeCountries: string()
      .trim()
      .uppercase()
      .default("")
      .matches(/^([A-Z]{2}([ ,]+|$))*$/, "Countries are codes of two letters (ISO 3166)"),
  }),
  run: async (context, input): Promise<Result<unknown>> => {
    const read = readAmount(input.cleanUpLimit, "EUR");
    if (!read.ok || read.amount < 0n)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.cleanUpLimit, field: "cleanUpLimit" });
    const keep = (key: string, value: unknown) => writeSetting(context.tx, key, value);
    await keep("payments.forAnother", {
      discountTo: input.discountTo,
      differenceTo: input.differenceTo,
    });
    await keep("discounts.on", input.discountOn);
    await keep(PURPOSE_COUNTRIES, input.purposeCountries.split(/[ ,]+/).filter(Boolean));
    await keep("cleanUp.limits", { payables: input.cleanUpLimit });
    await context.audit({
      action: "changed",
      kind: "rules of payables",
      recordId: "payables",
      after: input,
    });
    return ok({});
  },
});
