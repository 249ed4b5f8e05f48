import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { type InvoiceInput } from "@/core/payables";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context, companiesOf } from "../access";
import { askApproval } from "../approvals";
import { writersOf, setStatus } from "../documents";
import { ruleFor, whyOf } from "../ledger";
import { type AfterGoodsReceipt } from "../purchasing";
import { paperToApprove } from "../trade";
import { prepare, readStored } from "./checkInvoice";
import { type PostedInvoice, post } from "./invoices";

/**
 * Holds an invoice back that does not fit to what was ordered and received: it stays as it is, and
 * says why.
 */
export async function hold(
  context: Context,
  id: number,
  content: InvoiceInput,
  holds: string[],
): Promise<PostedInvoice> {
  await setStatus(context.tx, [id], "held");
  await context.tx.execute(
    sql`update invoice set holds = ${JSON.stringify(holds)}::jsonb where document_id = ${id}`,
  );
  await context.audit({
    action: "held",
    kind: "invoice",
    recordId: id,
    label: content.number,
    companyId: context.masters.companyByCode.get(content.company)!.id,
    after: { holds },
  });
  return { id, number: "", journal: "", held: holds, note: `Held: ${holds.join(" ")}` };
}

/**
 * Lets what does not fit pass, by somebody other than who entered the invoice, and posts it; or
 * sends it for approval where a rule asks for that.
 */
export const releaseInvoice = defineUseCase({
  name: "releaseInvoice",
  kind: "write",
  rights: ["post.payables"],
  what: "release invoices",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<PostedInvoice>> => {
    const stored = await readStored(context, input.id);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    if (!context.may("post.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `release invoices of ${stored.company}` });
    if (stored.status !== "held") return fail({ code: "RUN_STATE", state: stored.status });
    const [own] = await rows(
      context.tx,
      sql`select 1 from ${writersOf(sql`${input.id}::bigint`)} z
        where z.person_id = ${context.person.id}`,
    );
    if (own || stored.createdBy === context.person.id)
      return fail({
        code: "FORBIDDEN",
        what: "release an invoice that you entered or changed; a second person has to",
      });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const released = { by: context.person.id, reason: input.reason, holds: stored.holds };
    await context.tx.execute(
      sql`update invoice set released = ${JSON.stringify(released)}::jsonb, holds = '[]'::jsonb
        where document_id = ${input.id}`,
    );
    await setStatus(context.tx, [input.id], "draft");
    await context.audit({
      action: "released",
      kind: "invoice",
      recordId: input.id,
      label: stored.content.number,
      companyId: context.masters.companyByCode.get(stored.company)!.id,
      after: released,
    });
    const posted = await post(context, stored.content, input.id, false, stored.holds);
    const needed = posted.ok
      ? undefined
      : posted.problems.find((p) => p.code === "APPROVAL_NEEDED");
    if (!needed || needed.code !== "APPROVAL_NEEDED") return posted;
    const ready = await prepare(context, stored.content, input.id);
    const [rule] = ready.ok ? await ruleFor(context, [paperToApprove(ready.value.reading)]) : [];
    await askApproval(context, input.id, {
      role: rule!.role,
      why: whyOf(rule!),
      version: stored.version,
    });
    return ok({
      id: input.id,
      number: "",
      journal: "",
      note: `Released; it waits for approval: ${whyOf(rule!)}.`,
    });
  },
});

// What is held for something that comes after all goes back to whoever entered it, ready to be
// posted.
export const releaseFitting: AfterGoodsReceipt = async (context, orderId) => {
  const waiting = await rows<{ id: bigint }>(
    context.tx,
    sql`select i.document_id as id from invoice i join document d on d.id = i.document_id
      join document o on o.id = ${orderId} where d.status = 'held' and d.company_id = o.company_id
      and exists (select 1 from jsonb_array_elements(i.content->'lines') l
      where upper(l->>'order') like o.number || '/%')`,
  );
  for (const { id } of waiting) {
    const stored = await readStored(context, Number(id));
    const ready = await prepare(context, stored!.content, Number(id));
    if (!ready.ok || ready.value.reading.holds.length > 0 || ready.value.problems.length > 0)
      continue;
    await setStatus(context.tx, [Number(id)], "draft");
    await context.tx.execute(sql`update invoice set holds = '[]'::jsonb where document_id = ${id}`);
    await context.audit({
      action: "released by itself: what it was held for has come",
      kind: "invoice",
      recordId: Number(id),
      label: stored!.content.number,
      companyId: context.masters.companyByCode.get(stored!.company)!.id,
    });
  }
  return ok({});
};
