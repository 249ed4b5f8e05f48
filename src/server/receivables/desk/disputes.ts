import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { DISPUTE_OUTCOMES, disputeSchema, type DisputeInput } from "@/core/receivables";
import { amountText, fail, minor, ok, readAmount, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";

/** Notes that a customer disputes an item or part of it: reminders and promises leave that out. */
export const openDispute = defineUseCase({
  name: "openDispute",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "note disputes",
  of: "checked",
  schema: disputeSchema,
  run: noteDispute,
});

/** Notes a dispute within what else a person does. */
export async function noteDispute(
  context: Context,
  input: DisputeInput,
): Promise<Result<{ id: number }>> {
  const { tx, masters, person, now, today } = context;
  // One at a time: whoever comes second finds the dispute of the first.
  await tx.execute(sql`select 1 from open_item where id = ${input.item}::bigint for update`);
  const [item] = await rows<{
    company: string;
    partner: string;
    reference: string;
    currency: string;
    left: bigint;
    disputed: boolean;
  }>(
    tx,
    sql`select c.code as company, i.partner, i.reference, i.currency, i.left_amount as "left",
        exists (select 1 from dispute d where d.item_id = i.id and d.outcome is null) as disputed
        from open_item i join company c on c.id = i.company_id
        where i.id = ${input.item}::bigint and i.area = 'receivables'`,
  );
  if (!item) return fail({ code: "NOT_FOUND", what: "such item of a customer", field: "item" });
  const { company, partner, reference, currency, left } = item;
  if (!context.may("prepare.receivables", company))
    return fail({ code: "FORBIDDEN", what: `note disputes of ${company}` });
  if (item.disputed)
    return fail({ code: "IN_USE", what: `${reference} is in dispute already`, field: "item" });
  if (left <= 0n)
    return fail({ code: "INVALID", what: `Nothing is open of ${reference}`, field: "item" });
  const read = input.amount === "" ? null : readAmount(input.amount, currency);
  if (read && !read.ok)
    return fail({ code: "AMOUNT_NOT_NUMBER", text: input.amount, field: "amount" });
  const amount = read?.ok ? read.amount : minor(left);
  if (amount <= 0n || amount > left)
    return fail({
      code: "INVALID",
      what: `A dispute is over more than nothing and no more than ${amountText(minor(left), currency)} ${currency}`,
      field: "amount",
    });
  if (input.by && input.by < today)
    return fail({ code: "INVALID", what: "That day has gone by", field: "by" });
  const owner = await ownerOf(tx, input.owner);
  if (owner === undefined)
    return fail({ code: "NOT_FOUND", what: `such person as ${input.owner}`, field: "owner" });
  const { id: companyId } = masters.companyByCode.get(company)!;
  const [made] = await rows<{ id: number }>(
    tx,
    sql`insert into dispute (company_id, partner, item_id, amount, reason, note, owner_id, "by",
        opened_by, opened_on, opened_at) values (${companyId}, ${partner}, ${input.item}, ${amount},
        ${input.reason}, ${input.note}, ${owner}, ${input.by ?? null}::date, ${person.id}, ${today},
        ${now.toISOString()}) returning id`,
  );
  await context.audit({
    action: "disputed",
    kind: "dispute",
    recordId: made!.id,
    label: `${reference}, ${input.reason}`,
    companyId,
    after: input,
  });
  return ok({ id: made!.id });
}

/** Nobody where nobody is named; undefined where there is nobody of that name. */
async function ownerOf(
  tx: Parameters<typeof rows>[0],
  login: string,
): Promise<number | null | undefined> {
  if (login === "") return null;
  const [person] = await rows<{ id: number }>(
    tx,
    sql`select id from person where login = ${login} and active`,
  );
  return person?.id;
}

/** Closes a dispute with its outcome: what was disputed is collected again, or credited. */
export const closeDispute = defineUseCase({
  name: "closeDispute",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "note disputes",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    outcome: string().oneOf(DISPUTE_OUTCOMES).required("Say what came of it"),
    note: string().trim().max(500).default(""),
  }),
  run: async (context, { id, outcome, note }): Promise<Result<object>> => {
    const { tx, person, now, today, masters } = context;
    const [found] = await rows<{ company: string; outcome: string | null; reference: string }>(
      tx,
      sql`select c.code as company, d.outcome, i.reference from dispute d
        join company c on c.id = d.company_id join open_item i on i.id = d.item_id
        where d.id = ${id}::bigint for update of d`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such dispute" });
    if (!context.may("prepare.receivables", found.company))
      return fail({ code: "FORBIDDEN", what: `note disputes of ${found.company}` });
    if (found.outcome !== null)
      return fail({ code: "IN_USE", what: `The dispute of ${found.reference} is closed already` });
    await tx.execute(
      sql`update dispute set outcome = ${outcome}, closed_note = ${note}, closed_by = ${person.id},
        closed_on = ${today}, closed_at = ${now.toISOString()} where id = ${id}`,
    );
    await context.audit({
      action: "closed",
      kind: "dispute",
      recordId: id,
      label: `${found.reference}, ${outcome}`,
      companyId: masters.companyByCode.get(found.company)!.id,
      after: { outcome, note },
    });
    return ok({});
  },
});
