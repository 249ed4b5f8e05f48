import { dateText, fail, isCalendarDate, ok, type CalendarDate, type Result } from "@/core/shared";
import type { Context } from "../access";
import { loadPeriods } from "../organisation";

/**
 * Where a run of what comes again stands: its company, the last day of it, and the fiscal year of
 * that.
 */
export interface RunPlaceUpTo {
  company: { id: number; code: string; name: string; currency: string };
  upTo: CalendarDate;
  yearId: number;
}

/** The place of a run that makes what is due by a day; or what is wrong with it, at its field. */
export async function runPlaceUpTo(
  { tx, masters }: Context,
  params: { company: string; upTo: string },
): Promise<Result<RunPlaceUpTo>> {
  const company = masters.companyByCode.get(params.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
  const { upTo } = params;
  if (!isCalendarDate(upTo)) return fail({ code: "DATE_INVALID", text: upTo, field: "upTo" });
  const period = (await loadPeriods(tx, [company.id])).find(
    (p) => !p.adjustment && p.start <= upTo && upTo <= p.end,
  );
  return period
    ? ok({ company, upTo, yearId: period.yearId })
    : fail({
        code: "PERIOD_MISSING",
        date: dateText(upTo),
        company: company.name,
        field: "upTo",
      });
}
