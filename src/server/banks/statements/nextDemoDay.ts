import { object, string } from "yup";
import { nextBankDay } from "@/core/banks";
import { addDays, fail, ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { writeSetting } from "../../db";
import { isDemo } from "../../organisation";

/**
 * Moves the demo's day on to the next one on which its banks work, for everybody: what was promised
 * and scheduled for it comes about. Only where the demo runs, whose day is set.
 */
export const nextDemoDay = defineUseCase({
  name: "nextDemoDay",
  kind: "write",
  rights: ["prepare.banks"],
  what: "move the demo's day on",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async (context, input): Promise<Result<{ day: CalendarDate }>> => {
    const { tx, masters, today, audit } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!(await isDemo(tx))) return fail({ code: "NOT_FOUND", what: "simulated bank here" });
    const day = nextBankDay(addDays(today, 1), company.currency);
    await writeSetting(tx, "working-date", day);
    await audit({
      action: "moved on",
      kind: "day of the demo",
      recordId: day,
      companyId: company.id,
      before: today,
      after: day,
    });
    return ok({ day });
  },
});
