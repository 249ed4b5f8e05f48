import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { dateText, datesOf, fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { setStatus } from "../documents";
import { type Recurring, type RecurringKind } from "./kind";
import { leftOn, readRecurring } from "./stored";

/** Ends a document that comes again, or takes it up again. What it has made stays. */
export const defineEnd = <C>(name: string, kind: RecurringKind<C>) =>
  defineUseCase({
    name,
    kind: "write",
    rights: [kind.prepare],
    what: `end ${kind.plural}`,
    of: "checked",
    schema: object({
      id: number().integer().required(),
      to: string()
        .oneOf(["ended", "active"] as const)
        .required(),
    }),
    run: async (context, input): Promise<Result<unknown>> => {
      const found = await own(context, kind, input.id);
      if (!found.ok) return found;
      await setStatus(context.tx, [input.id], input.to);
      await note(context, kind, found.value, {
        action: input.to === "ended" ? "ended" : "taken up again",
        label: found.value.name,
      });
      return ok({});
    },
  });

/** Passes over one date for good, with a reason; without a reason it is due again. */
export const defineSkip = <C>(name: string, kind: RecurringKind<C>) =>
  defineUseCase({
    name,
    kind: "write",
    rights: [kind.prepare],
    what: `pass over ${kind.plural}`,
    of: "checked",
    schema: object({
      id: number().integer().required(),
      date: string().required(),
      reason: string().trim().default("").max(200),
    }),
    run: async (context, input): Promise<Result<unknown>> => {
      const read = await own(context, kind, input.id);
      if (!read.ok) return read;
      const found = read.value;
      const { date, reason } = input;
      if (!datesOf(found.rhythm, date).includes(date))
        return fail({
          code: "INVALID",
          what: `${dateText(date)} is none of its dates`,
          field: "date",
        });
      const isSkipped = date in found.skipped;
      if (!isSkipped && leftOn(kind, found, date).length === 0)
        return fail({
          code: "IN_USE",
          what: `${dateText(date)} is posted or in a preview already`,
        });
      if (reason === "" ? !isSkipped : reason.length < 5)
        return fail({ code: "REASON_REQUIRED", field: "reason" });
      const { [date]: _gone, ...others } = found.skipped;
      const skipped = reason === "" ? others : { ...others, [date]: reason };
      await context.tx.execute(
        sql`update recurring_document set skipped = ${JSON.stringify(skipped)}::jsonb
          where document_id = ${input.id}`,
      );
      await note(context, kind, found, {
        action: reason === "" ? "due again" : "passed over",
        label: `${found.name}, ${dateText(date)}`,
        after: { reason },
      });
      return ok({});
    },
  });

/** One that the person may change, held for this transaction. */
async function own<C>(
  context: Context,
  kind: RecurringKind<C>,
  id: number,
): Promise<Result<Recurring<C>>> {
  const [found] = await readRecurring(context, kind, sql`d.id = ${id}`, { lock: true });
  if (!found) return fail({ code: "NOT_FOUND", what: `such ${kind.noun}` });
  return context.may(kind.prepare, found.company)
    ? ok(found)
    : fail({ code: "FORBIDDEN", what: `prepare ${kind.plural} of ${found.company}` });
}

const note = <C>(
  context: Context,
  kind: RecurringKind<C>,
  { id, company }: Recurring<C>,
  what: { action: string; label: string; after?: unknown },
): Promise<void> =>
  context.audit({
    ...what,
    kind: kind.noun,
    recordId: id,
    companyId: context.masters.companyByCode.get(company)!.id,
  });
