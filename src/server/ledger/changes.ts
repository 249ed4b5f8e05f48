import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { findPlace, placeSchema, seqAt } from "./trialBalance";

export interface ChangeRow {
  id: number;
  number: string;
  type: string;
  date: string;
  period: string;
  description: string;
  total: Minor;
  /** What it did to the result of its period, profit positive. */
  result: Minor;
  by: string;
  at: string;
}

/** As many as one looks at; beyond that the newest are shown. */
const SHOWN = 500;

/**
 * The journals posted after a moment that reach the periods up to the one in view, in the order of
 * posting: what changed since. `more`: older ones are left out.
 */
export const changesSince = defineUseCase({
  name: "changesSince",
  kind: "read",
  rights: ["read.ledger", "read.statements"],
  what: "see what changed",
  company: (i) => i.company,
  schema: object({ ...placeSchema, since: string().required() }),
  run: async (
    context,
    input,
  ): Promise<Result<{ since: string; rows: ChangeRow[]; more: boolean }>> => {
    const found = await findPlace(context, input);
    if (!found.ok) return found;
    const since = new Date(/Z$|[+-]\d\d:\d\d$/.test(input.since) ? input.since : `${input.since}Z`);
    if (Number.isNaN(since.getTime()))
      return fail({ code: "DATE_INVALID", text: input.since, field: "since" });
    const { company, book, to } = found.value;
    const seq = await seqAt(context.tx, company.id, since);
    const list = await rows<
      Omit<ChangeRow, "id" | "total" | "result"> & { id: bigint; total: bigint; result: bigint }
    >(
      context.tx,
      sql`select j.id, j.number, t.name as type, j.date, y.name || '-' || lpad(j.period_no::text, 2,
        '0') as period, j.description, j.total, p.name as by, j.posted_at as at,
            coalesce((select sum(case when l.side = 'C' then l.amount else -l.amount end)
              from journal_line l where l.journal_id = j.id and l.account_id = any(array(select id
              from account where type in ('income', 'expense')))), 0)::bigint as result
          from journal j join journal_type t on t.id = j.type_id join person p on p.id = j.posted_by
            join fiscal_year y on y.id = j.year_id
          where j.company_id = ${company.id} and j.seq > ${seq} and j.book_id in (0, ${book.id})
            and j.date <= ${to.end} order by j.seq desc limit ${SHOWN + 1}`,
    );
    return ok({
      since: since.toISOString(),
      more: list.length > SHOWN,
      rows: list
        .slice(0, SHOWN)
        .reverse()
        .map((l) => ({ ...l, id: Number(l.id), total: minor(l.total), result: minor(l.result) })),
    });
  },
});
