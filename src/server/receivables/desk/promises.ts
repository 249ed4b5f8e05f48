import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { promiseSchema } from "@/core/receivables";
import {
  amountText,
  dateText,
  fail,
  minor,
  ok,
  readAmount,
  type Found,
  type Result,
} from "@/core/shared";
import { defineUseCase } from "../../access";
import { arrayOf, rows } from "../../db";

interface Item {
  id: bigint;
  reference: string;
  currency: string;
  left: bigint;
  disputed: bigint;
}

/**
 * Notes that a customer promises to pay: what is promised is not collected until its day. A new
 * promise of an item takes the place of those of it that are open.
 */
export const makePromise = defineUseCase({
  name: "makePromise",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "note promises",
  company: (i) => i.company,
  schema: promiseSchema,
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, person, now, today } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (input.due! < today)
      return fail({
        code: "INVALID",
        what: `A promise is for today or later; ${dateText(input.due!)} has gone by`,
        field: "due",
      });
    const ids = input.items.map((i) => i.id);
    const found = await rows<Item>(
      tx,
      sql`select i.id, i.reference, i.currency, i.left_amount as "left", coalesce((select d.amount
          from dispute d where d.item_id = i.id and d.outcome is null), 0)::bigint as disputed
        from open_item i where i.id = any(${arrayOf(ids)}::bigint[])
          and i.company_id = ${company.id} and i.partner = ${input.partner}
          and i.area = 'receivables' order by i.id for update of i`,
    );
    const byId = new Map(found.map((i) => [Number(i.id), i]));
    const problems: Found[] = [];
    const promised = input.items.flatMap(({ id, amount }, n) => {
      const read = amountOf(byId.get(id), amount);
      if (typeof read === "bigint") return [{ id, currency: byId.get(id)!.currency, amount: read }];
      problems.push({ ...read, field: `items[${n}].amount` });
      return [];
    });
    if (problems.length > 0) return fail(problems[0]!, ...problems.slice(1));
    if (new Set(ids).size < ids.length)
      return fail({ code: "INVALID", what: "An item is promised once", field: "items" });
    if (new Set(promised.map((p) => p.currency)).size > 1)
      return fail({
        code: "INVALID",
        what: "A promise is in one currency; note one for each",
        field: "items",
      });
    // What was promised of these items before is promised anew.
    await tx.execute(
      sql`update promise set withdrawn_by = ${person.id}, withdrawn_at = ${now.toISOString()}
        where company_id = ${company.id} and withdrawn_at is null and due >= ${today}
          and id in (select q.promise_id from promise_item q group by q.promise_id
            having bool_and(q.item_id = any(${arrayOf(ids)}::bigint[])))`,
    );
    const [made] = await rows<{ id: number }>(
      tx,
      sql`insert into promise (company_id, partner, made_on, due, how, promised_by, made_by, made_at,
        after) values (${company.id}, ${input.partner}, ${today}, ${input.due!}, ${input.how},
        ${input.by}, ${person.id}, ${now.toISOString()},
        (select coalesce(max(id), 0) from allocation)) returning id`,
    );
    await tx.execute(
      sql`insert into promise_item (promise_id, item_id, currency, amount)
        select ${made!.id}, x.* from unnest(${arrayOf(promised.map((p) => p.id))}::bigint[],
          ${arrayOf(promised.map((p) => p.currency))}::text[],
          ${arrayOf(promised.map((p) => p.amount))}::bigint[]) as x`,
    );
    await context.audit({
      action: "promised",
      kind: "promise",
      recordId: made!.id,
      label: `${input.partner}, for ${dateText(input.due!)}`.slice(0, 200),
      companyId: company.id,
      after: input,
    });
    return ok({ id: made!.id });
  },
});

/** What is promised of an item, or why it can't be. */
function amountOf(item: Item | undefined, written: string): bigint | Found {
  const refuse = (what: string): Found => ({ code: "INVALID", what });
  if (!item) return refuse("This item is not open with this customer");
  const { reference, currency, left, disputed } = item;
  const free = left - disputed;
  if (left <= 0n) return refuse(`${reference} is settled, or is in the customer's favour`);
  if (free <= 0n) return refuse(`All of ${reference} is in dispute`);
  if (written === "") return free;
  const read = readAmount(written, currency);
  if (!read.ok) return { code: "AMOUNT_NOT_NUMBER", text: written };
  if (read.amount <= 0n) return refuse("More than nothing is promised");
  return read.amount <= free
    ? read.amount
    : refuse(
        `${amountText(minor(free), currency)} ${currency} is left of ${reference}${disputed > 0n ? " beside the dispute" : ""}`,
      );
}

/** Takes back a promise that was noted by mistake, or that the customer has taken back. */
export const withdrawPromise = defineUseCase({
  name: "withdrawPromise",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "note promises",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, { id }): Promise<Result<object>> => {
    const { tx, person, now, masters } = context;
    const [promise] = await rows<{ company: string; partner: string; gone: boolean }>(
      tx,
      sql`select c.code as company, p.partner, p.withdrawn_at is not null as gone from promise p
        join company c on c.id = p.company_id where p.id = ${id}::bigint for update of p`,
    );
    if (!promise) return fail({ code: "NOT_FOUND", what: "such promise" });
    if (!context.may("prepare.receivables", promise.company))
      return fail({ code: "FORBIDDEN", what: `note promises of ${promise.company}` });
    if (promise.gone) return fail({ code: "IN_USE", what: "It is withdrawn already" });
    await tx.execute(
      sql`update promise set withdrawn_by = ${person.id}, withdrawn_at = ${now.toISOString()}
        where id = ${id}`,
    );
    await context.audit({
      action: "withdrawn",
      kind: "promise",
      recordId: id,
      label: promise.partner,
      companyId: masters.companyByCode.get(promise.company)!.id,
    });
    return ok({});
  },
});
