import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { readAccounts } from "@/core/ledger";
import { listSchema, type ListPage } from "@/core/lists";
import { fail, ok, readAmount, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { documentList, queryDocuments } from "../documents";
import { column, type RowOf } from "../lists";
import { defineUseCase } from "../access";
import { READERS } from "./journalView";

/** A draft in a batch that waits for approval waits with it. */
const STANDING = sql`case when d.status = 'draft' and exists (select 1 from journal_draft x
  join document b on b.id = x.batch_id and b.status = 'waiting' where x.document_id = d.id)
  then 'waiting' else d.status end`;

/** What it came from: a run, a batch, the journal that it reverses. */
const ORIGIN = sql`coalesce((select o.number from document o where o.id = j.origin_id),
  (select 'reverses ' || r.number from journal r where r.id = j.reverses_id),
  (select b.title from document_link l join document b on b.id = l.from_id
    where l.to_id = d.id and l.kind = 'batch' limit 1), (select b.title
    from journal_draft x join document b on b.id = x.batch_id where x.document_id = d.id))`;

const JOURNAL_LIST = documentList({
  kinds: ["journal"],
  joins: sql`join person p on p.id = d.created_by left join journal j on j.id = d.id
    left join journal_type t on t.code = d.type`,
  columns: {
    number: column.maybeText(sql`d.number`),
    status: column.state(STANDING),
    date: column.day(sql`d.date`),
    type: column.text(sql`coalesce(t.name, d.type)`),
    description: column.text(sql`d.title`),
    preparedBy: column.text(sql`p.name`),
    period: column.text(sql`select concat_ws(' ', n.name, y.name) from period n
      join fiscal_year y on y.id = n.year_id where n.year_id = j.year_id and n.no = j.period_no`),
    origin: column.text(ORIGIN),
    postedAt: column.instant(sql`j.posted_at`),
    /** In the functional currency once it is posted, in that of the draft before. */
    amount: column.amount(sql`d.amount`),
    currency: column.text(sql`d.currency`),
  },
  sums: ["amount"],
  counts: sql`d.status in ('posted', 'reversed')`,
  status: STANDING,
});
export type JournalRow = RowOf<typeof JOURNAL_LIST.columns>;

export const listJournals = defineUseCase({
  name: "listJournals",
  kind: "read",
  rights: READERS,
  what: "see journals",
  company: (i) => i.company,
  schema: listSchema.shape({
    type: string(),
    preparer: string(),
    account: string().max(200),
    amountFrom: string().max(40),
    amountTo: string().max(40),
  }),
  run: async (context, input): Promise<Result<ListPage<JournalRow>>> => {
    const { masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const where = [];
    if (input.type) where.push(sql`d.type = ${input.type}`);
    if (input.preparer) where.push(sql`p.login = ${input.preparer}`);
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
    return queryDocuments(context, JOURNAL_LIST, input, where);
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
