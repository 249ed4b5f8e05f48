import { array, number, object, string } from "yup";
import { dateText, fail, isCalendarDate, ok } from "@/core/shared";
import { loadPeriods } from "../organisation";
import { planRecurring } from "../ledger";
import { documentLinks } from "../documents";
import { defineRunKind } from "../runs";

export const recurringRun = defineRunKind({
  id: "recurring",
  right: "post.ledger",
  approved: "by rules",
  schema: object({
    company: string().required(),
    upTo: string().required(),
    only: array(number().integer().required()).default([]),
  }),
  async propose(context, params, overrides, run) {
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
    const plan = await planRecurring(context, company, params.upTo, params.only, overrides, run);
    if (plan.items.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `recurring journal of ${company.name} that is due by ${dateText(params.upTo)}`,
        field: "upTo",
      });
    const total = plan.items.reduce(
      (sum, i) => (overrides.dropped.includes(i.key) ? sum : sum + i.amount),
      0n,
    );
    return ok({
      company: company.code,
      yearId: period.yearId,
      date: params.upTo,
      title: `Recurring journals by ${dateText(params.upTo)}, ${company.name}`,
      ...plan,
      warnings: [],
      figures: [{ label: "Together", amount: total }],
    });
  },
  // Each journal is linked to what it was made from, so that both know of each other.
  async posted(context, { proposal, journals }) {
    await documentLinks(
      context.tx,
      "made",
      proposal.items.flatMap((i) =>
        (i.drafts ?? []).map(
          (place) => [Number(i.key.split("|")[1]), journals[place]!.id] as const,
        ),
      ),
    );
    return ok({});
  },
});
