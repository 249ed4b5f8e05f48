import { array, number, object, string } from "yup";
import { dateText, fail, ok } from "@/core/shared";
import { planRecurring } from "../ledger";
import { documentLinks } from "../documents";
import { defineRunKind, upToDay } from "../runs";

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
    const place = await upToDay(context, params);
    if (!place.ok) return place;
    const { company, yearId } = place.value;
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
      yearId,
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
