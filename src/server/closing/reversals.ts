import { object, string } from "yup";
import { dateText, fail, ok } from "@/core/shared";
import { gather, planReversals } from "../ledger";
import { defineRunKind, upToDay } from "../runs";

const keyOf = (id: number): string => `reversal|${id}`;

export const reversalsRun = defineRunKind({
  id: "reversals",
  right: "reverse.ledger",
  schema: object({ company: string().required(), upTo: string().required() }),
  async propose(context, params, overrides) {
    const place = await upToDay(context, params);
    if (!place.ok) return place;
    const { company, yearId } = place.value;
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
      yearId,
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
