import { dateText, fail, isCalendarDate, ok, type Result } from "@/core/shared";
import type { Company } from "@/core/organisation";
import type { Context } from "../access";
import { loadPeriods } from "../organisation";

/** Of a run that takes what there is up to a day: its company, and the year of that day. */
export async function upToDay(
  { tx, masters }: Context,
  params: { company: string; upTo: string },
): Promise<Result<{ company: Company; yearId: number }>> {
  const company = masters.companyByCode.get(params.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
  if (!isCalendarDate(params.upTo))
    return fail({ code: "DATE_INVALID", text: params.upTo, field: "upTo" });
  const period = (await loadPeriods(tx, [company.id])).find(
    (p) => !p.adjustment && p.start <= params.upTo && params.upTo <= p.end,
  );
  return period
    ? ok({ company, yearId: period.yearId })
    : fail({
        code: "PERIOD_MISSING",
        date: dateText(params.upTo),
        company: company.name,
        field: "upTo",
      });
}
