import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { LineState } from "@/core/banks";
import { listSchema, type ListPage } from "@/core/lists";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { likeText, rows } from "../../db";
import { column, queryList, type List, type ListColumns, type RowOf } from "../../lists";

const LINES = {
  from: sql`statement_line l join bank_statement s on s.id = l.statement_id
    join bank_account b on b.id = l.bank_account_id
    left join journal j on j.id = l.journal_id
    left join partner p on p.code = l.outcome ->> 'partner'
    left join movement_kind k on k.code = coalesce(l.outcome ->> 'kind', '')`,
  id: sql`l.id`,
  currency: sql`s.currency::text`,
  columns: {
    bank: column.text(sql`b.code`),
    statement: column.text(sql`s.number`),
    booked: column.day(sql`l.booked`),
    party: column.text(sql`l.party_name`),
    text: column.text(sql`l.text`),
    state: column.text<LineState>(sql`l.state`),
    /** Why it is not certain, or what it is posted as; and what was said about it. */
    note: column.text(sql`concat_ws(', ', nullif(case l.state when 'to decide' then l.but
      when 'posted' then coalesce(j.number, '') when 'unexplained' then ''
      else coalesce(p.name, k.name, '') end, ''),
      (select case count(*) when 1 then '1 remark' else count(*) || ' remarks' end
        from remark r where r.statement_line_id = l.id having count(*) > 0))`),
    journal: column.text(sql`j.number`),
    currency: column.text(sql`s.currency::text`),
    amount: column.amount(sql`l.amount`),
  },
  sums: ["amount"] as const,
  counts: sql`true`,
  order: {
    parts: [
      { of: sql`l.booked`, type: "date" as const },
      { of: sql`l.id`, type: "bigint" as const },
    ],
    down: false,
  },
} satisfies List<ListColumns>;
/** A line of a statement as a list shows it. */
export type StatementLineRow = RowOf<typeof LINES.columns>;

/** Lines of the statements of a company; by state, by bank account, by text. */
export const listStatementLines = defineUseCase({
  name: "listStatementLines",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  company: (i) => i.company,
  schema: listSchema.shape({
    bank: string().trim().max(20).default(""),
    statement: string().trim().max(20).default(""),
  }),
  run: async (context, asked): Promise<Result<ListPage<StatementLineRow>>> => {
    const company = context.masters.companyByCode.get(asked.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: asked.company, field: "company" });
    const like = `%${likeText(asked.text)}%`;
    return queryList(
      context.tx,
      LINES,
      [
        sql`l.company_id = ${company.id}`,
        ...(asked.bank ? [sql`b.code = ${asked.bank}`] : []),
        ...(asked.statement ? [sql`s.id::text = ${asked.statement}`] : []),
        ...(asked.status === "all"
          ? []
          : asked.status === "open"
            ? [sql`l.state <> 'posted'`]
            : [sql`l.state = ${asked.status}`]),
        ...(asked.text
          ? [
              sql`(l.text ilike ${like} or l.party_name ilike ${like} or l.end_to_end ilike ${like})`,
            ]
          : []),
      ],
      asked,
      company.currency,
    );
  },
});

/** How many lines stand in a state, and what they come to in a currency: minor units, in less out. */
export interface LineTotal {
  state: LineState;
  currency: string;
  lines: number;
  amount: Minor;
}

/** What stands in each state, of all bank accounts of a company or of one. */
export const lineTotals = defineUseCase({
  name: "lineTotals",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    bank: string().trim().max(20).default(""),
  }),
  run: async ({ tx, masters }, { company, bank }): Promise<Result<LineTotal[]>> => {
    const own = masters.companyByCode.get(company);
    if (!own) return fail({ code: "COMPANY_UNKNOWN", company, field: "company" });
    const found = await rows<{
      state: LineState;
      currency: string;
      lines: number;
      amount: bigint;
    }>(
      tx,
      sql`select l.state, b.currency::text as currency, count(*)::int as lines,
          sum(l.amount)::bigint as amount
        from statement_line l join bank_account b on b.id = l.bank_account_id
        where l.company_id = ${own.id} and ${bank} in ('', b.code)
        group by l.state, b.currency order by l.state, b.currency`,
    );
    return ok(found.map((f) => ({ ...f, amount: minor(f.amount) })));
  },
});
