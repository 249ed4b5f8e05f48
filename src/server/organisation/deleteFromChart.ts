import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { rows } from "../db";

/** What rests on an account, in words; null while nothing does. */
async function restingOn(
  { tx }: Context,
  { id, number }: { id: number; number: string },
): Promise<string | null> {
  const [found] = await rows<{ what: string }>(
    tx,
    sql`select what from (
          select 1 as n, 'it has postings' as what
            where exists (select 1 from account_balance where account_id = ${id})
              or exists (select 1 from journal_line where account_id = ${id})
          union all select 2, 'the posting account of ' || substr(key, 9) || ' is set to it'
            from setting where key like 'account.%' and value #>> '{}' = ${number}
          union all select 3, 'tax code ' || code || ' posts on it' from tax_code
            where ${number} in (account, owed_account)
          union all select 4, 'bank account ' || code || ' stands on it' from bank_account
            where ${number} in (account, under_way_account, cheque_account)
          union all select 5, 'partner ' || code || ' is coded to it' from partner
            where account = ${number}
          union all select 6, 'dimension ' || code || ' is balanced over it' from dimension
            where balancing_account = ${number}
          union all select 7, 'what is ' || side || ' as ' || code || ' is coded to it' from trade_item
            where account = ${number}
          union all select 8, 'the draft ' || coalesce(d.title, '') || ' is coded to it'
            from journal_draft j join document d on d.id = j.document_id
            where j.content->'lines' @> jsonb_build_array(jsonb_build_object('account',
              ${number}::text))
          union all select 9, 'the invoice ' || coalesce(d.title, '') || ' is coded to it'
            from invoice i join document d on d.id = i.document_id
            where i.content->'lines' @> jsonb_build_array(jsonb_build_object('account',
              ${number}::text))
          union all select 10, 'the order ' || coalesce(d.title, '') || ' is coded to it'
            from purchase_order o join document d on d.id = o.document_id
            where o.content->'lines' @> jsonb_build_array(jsonb_build_object('account',
              ${number}::text))
          union all select 11, 'the recurring journal ' || d.title || ' is coded to it'
            from recurring_document r join document d on d.id = r.document_id
            where r.content->'lines' @> jsonb_build_array(jsonb_build_object('account',
              ${number}::text))
          union all select 12, 'the recurring invoice ' || d.title || ' is coded to it'
            from recurring_document r join document d on d.id = r.document_id
            where r.content->'invoice'->'lines' @> jsonb_build_array(jsonb_build_object('account',
              ${number}::text))
          union all select 13, 'the template ' || t.name || ' is coded to it'
            from journal_template t where t.content->'lines' @>
              jsonb_build_array(jsonb_build_object('account', ${number}::text))
          union all select 14, 'the shortcut @' || s.name || ' is coded to it' from shortcut s
            where s.account = ${number}) x
        order by n limit 1`,
  );
  return found?.what ?? null;
}

/** Takes an account off the chart while nothing rests on it; later it can only be blocked. */
export const deleteAccount = defineUseCase({
  name: "deleteAccount",
  kind: "write",
  rights: ["setup.organisation"],
  what: "change the chart of accounts",
  of: "group",
  schema: object({ number: string().required().max(40) }),
  run: async (context, { number }): Promise<Result<object>> => {
    const { tx, masters, audit } = context;
    const account = masters.accountByNumber.get(number);
    if (!account) return fail({ code: "ACCOUNT_UNKNOWN", account: number, field: "number" });
    const rests = await restingOn(context, account);
    if (rests)
      return fail({
        code: "IN_USE",
        what: `Account ${number} stays, as ${rests}; it can be blocked`,
        field: "number",
      });
    await tx.execute(sql`delete from account_dimension where account_id = ${account.id}`);
    await tx.execute(sql`delete from account where id = ${account.id}`);
    await audit({
      action: "deleted",
      kind: "account",
      recordId: account.id,
      label: number,
      before: account,
    });
    return ok({});
  },
});

/** Takes a heading off the chart that nothing stands under. */
export const deleteHeading = defineUseCase({
  name: "deleteHeading",
  kind: "write",
  rights: ["setup.organisation"],
  what: "change the chart of accounts",
  of: "group",
  schema: object({ code: string().required().max(40) }),
  run: async ({ tx, masters, audit }, { code }): Promise<Result<object>> => {
    const heading = masters.headings.find((h) => h.code === code);
    if (!heading) return fail({ code: "NOT_FOUND", what: `heading ${code}`, field: "code" });
    const [below] = await rows<{ what: string }>(
      tx,
      sql`select 'account ' || number as what from account where heading_id = ${heading.id}
        union all select 'heading ' || code from heading where parent_id = ${heading.id} limit 1`,
    );
    if (below)
      return fail({
        code: "IN_USE",
        what: `Heading ${code} stays, as ${below.what} stands under it`,
        field: "code",
      });
    await tx.execute(sql`delete from heading where id = ${heading.id}`);
    await audit({
      action: "deleted",
      kind: "heading",
      recordId: heading.id,
      label: code,
      before: heading,
    });
    return ok({});
  },
});
