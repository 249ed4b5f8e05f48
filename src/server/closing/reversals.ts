import { object, string } from "yup";
import { dateText, fail, isCalendarDate, ok } from "@/core/shared";
import { loadPeriods } from "../organisation";
import { gather, planReversals } from "../ledger";
import { defineRunKind } from "../runs";

const keyOf = (id: number): string => `reversal|${id}`;

export const reversalsRun = defineRunKind({
  id: "reversals",
  right: "reverse.ledger",
  schema: object({ company: string().required(), upTo: string().required() }),
  async propose(context, params, overrides) {
    const company = context.masters.companyByCode.get(params.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
    if (!isCalendarDate(params.upTo))
      return fail({ code: "DATE_INVALID", text: params.upTo, field: "upTo" });
    const period = (await loadPeriods(context.tx, [company.id])).find(
      (p) => !p.adjustment && p.start <= params.upTo && params.upTo <= p.end,
    );
    if (!period)
      return fail({
        code: "PERIOD_MISSING",
        date: dateText(params.upTo),
        company: company.name,
        field: "upTo",
      });
    const plan = await planReversals(context, company, params.upTo);
    if (plan.due.length + plan.stuck.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `journal of ${company.name} to be reversed by ${dateText(params.upTo)}`,
        field: "upTo",
      });
    const kept = plan.due.filter((d) => !overrides.dropped.includes(keyOf(d.id)));
    return ok({
      company: company.code,
      yearId: period.yearId,
      date: params.upTo,
      title: `Reversals due by ${dateText(params.upTo)}, ${company.name}`,
      items: plan.due.map((d) => ({
        key: keyOf(d.id),
        label: `${d.number} ${d.description}`,
        group: d.type,
        amount: d.total,
        why: `to be reversed on ${dateText(d.reverseOn)}`,
        droppable: true,
        explanation: {
          title: d.number,
          steps: [
            { label: "Posted on", text: dateText(d.date) },
            { label: "Says that it is reversed on", text: dateText(d.reverseOn) },
            { label: "Its total", amount: d.total, total: true },
          ],
        },
      })),
      ...gather(kept),
      warnings: plan.stuck.map(
        (d) =>
          `${d.number} is due on ${dateText(d.reverseOn)}, and no open day lies on or after that.`,
      ),
      figures: [{ label: "Reversed", amount: kept.reduce((sum, d) => sum + d.total, 0n) }],
    });
  },
});
