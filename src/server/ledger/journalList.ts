import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { readAccounts } from "@/core/ledger";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type Minor,
  type Result,
  dayField,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import { READERS } from "./journalView";

export interface JournalRow {
  id: number;
  number: string | null;
  date: string | null;
  type: string;
  description: string;
  /** In the functional currency once it is posted, in that of the draft before. */
  amount: Minor;
  currency: string;
  status: string;
  preparedBy: string;
  postedAt: string | null;
  /** What it came from: a run, a batch, the journal that it reverses. */
  origin: string;
}

/** A draft in a batch that waits for approval waits with it. */
const STANDING = sql`case when d.status = 'draft' and exists (select 1 from journal_draft x
  join document b on b.id = x.batch_id and b.status = 'waiting' where x.document_id = d.id)
  then 'waiting' else d.status end`;

export const listJournals = defineUseCase({
  name: "listJournals",
  kind: "read",
  rights: READERS,
  what: "see journals",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: dayField(),
    to: dayField(),
    status: string().oneOf(["draft", "waiting", "posted", "reversed", "all"]).default("all"),
    type: string(),
    text: string().max(200),
    preparer: string(),
    account: string().max(200),
    amountFrom: string().max(40),
    amountTo: string().max(40),
    limit: number().integer().min(1).max(1000).default(500),
    after: number().integer().default(0),
  }),
  run: async (
    { tx, masters },
    input,
  ): Promise<Result<{ items: JournalRow[]; next: number | null; count: number; total: Minor }>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const where = [sql`d.company_id = ${company.id}`, sql`d.kind = 'journal'`];
    if (input.from && isCalendarDate(input.from))
      where.push(sql`(d.date >= ${input.from} or d.date is null)`);
    if (input.to && isCalendarDate(input.to))
      where.push(sql`(d.date <= ${input.to} or d.date is null)`);
    if (input.status !== "all") where.push(sql`${STANDING} = ${input.status}`);
    if (input.type) where.push(sql`d.type = ${input.type}`);
    if (input.preparer) where.push(sql`p.login = ${input.preparer}`);
    if (input.text?.trim())
      where.push(
        sql`d.search like ${`%${input.text
          .trim()
          .toLowerCase()
          .replace(/[%_\\]/g, "\\$&")}%`}`,
      );
    for (const [field, sign] of [
      ["amountFrom", sql`>=`],
      ["amountTo", sql`<=`],
    ] as const) {
      if (!input[field]?.trim()) continue;
      const reading = readAmount(input[field], company.currency);
      if (!reading.ok) return fail({ code: "AMOUNT_NOT_NUMBER", text: input[field], field });
      where.push(sql`d.amount ${sign} ${reading.amount}`);
    }
    if (input.account?.trim()) {
      const accounts = readAccounts(input.account, masters);
      if (!accounts)
        return fail({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
      where.push(sql`(exists (select 1 from journal_line l
        where l.journal_id = d.id
        and l.account_id = any(${arrayOf(accounts.map((a) => a.id))}::int[]))
        or exists (select 1 from journal_draft x, jsonb_array_elements(x.content->'lines') e
          where x.document_id = d.id
          and e->>'account' = any(${arrayOf(accounts.map((a) => a.number))}::text[])))`);
    }
    const condition = sql.join(where, sql` and `);
    const [sums] = await rows<{ count: number; total: bigint }>(
      tx,
      sql`select count(*)::int as count, coalesce(sum(d.amount)
        filter (where d.status in ('posted', 'reversed')), 0)::bigint as total from document d
        join person p on p.id = d.created_by where ${condition}`,
    );
    const found = await rows<{
      id: bigint;
      number: string | null;
      date: string | null;
      type: string;
      title: string;
      amount: bigint | null;
      currency: string | null;
      status: string;
      preparedBy: string;
      postedAt: string | null;
      origin: string | null;
    }>(
      tx,
      sql`select d.id, d.number, d.date, d.type, d.title, d.amount, d.currency,
        ${STANDING} as status, p.name as "preparedBy", j.posted_at as "postedAt",
            coalesce((select o.number from document o where o.id = j.origin_id),
              (select 'reverses ' || r.number from journal r where r.id = j.reverses_id),
              (select b.title from document_link l join document b on b.id = l.from_id
                where l.to_id = d.id and l.kind = 'batch' limit 1), (select b.title
                from journal_draft x join document b on b.id = x.batch_id
                where x.document_id = d.id)) as origin
          from document d join person p on p.id = d.created_by left join journal j on j.id = d.id
            where ${condition} order by (d.status in ('draft', 'waiting')) desc,
            d.date desc nulls first, d.id desc limit ${input.limit + 1} offset ${input.after}`,
    );
    const items = found.slice(0, input.limit).map((f): JournalRow => ({
      id: Number(f.id),
      number: f.number,
      date: f.date,
      type: masters.typeByCode.get(f.type)?.name ?? f.type,
      description: f.title,
      amount: minor(f.amount ?? 0n),
      currency: f.currency ?? company.currency,
      status: f.status,
      preparedBy: f.preparedBy,
      postedAt: f.postedAt,
      origin: f.origin ?? "",
    }));
    return ok({
      items,
      next: found.length > input.limit ? input.after + input.limit : null,
      count: sums!.count,
      total: minor(sums!.total),
    });
  },
});

/** The people who have prepared journals of a company. */
export const preparers = defineUseCase({
  name: "preparers",
  kind: "read",
  rights: READERS,
  what: "see journals",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<{ login: string; name: string }[]>> =>
    ok(
      await rows<{ login: string; name: string }>(
        tx,
        sql`select p.login, p.name from person p where exists (select 1 from document d
          where d.kind = 'journal'
          and d.company_id = ${masters.companyByCode.get(input.company)?.id ?? 0}
          and d.created_by = p.id) order by p.name`,
      ),
    ),
});
