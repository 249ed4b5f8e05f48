import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import { waitingForMe } from "../approvals";

export interface TodayRow {
  id: number;
  number: string | null;
  title: string;
  company: string;
  date: string | null;
  amount: Minor;
  currency: string;
  by: string;
  at: string;
  kind: string;
}
export interface Today {
  mine: TodayRow[];
  /** Journals that wait for this person's approval. */
  forMe: TodayRow[];
  waiting: TodayRow[];
  latest: TodayRow[];
  /** Journals and amounts posted by day in the last five weeks. */
  days: { day: string; journals: number }[];
}

/** The desk of a person: their drafts, what waits for somebody, what was posted last. */
export const today = defineUseCase({
  name: "today",
  kind: "read",
  rights: "signed-in",
  what: "see today",
  of: "checked",
  schema: object({ company: string() }),
  run: async (context, input): Promise<Result<Today>> => {
    const { tx, masters, person, may } = context;
    const company = input.company ? masters.companyByCode.get(input.company) : undefined;
    if (input.company && !company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const visible = masters.companies.filter((c) => may("read.ledger", c.code)).map((c) => c.id);
    const list = async (
      where: ReturnType<typeof sql>,
      order: ReturnType<typeof sql>,
      limit: number,
    ): Promise<TodayRow[]> => {
      if (visible.length === 0) return [];
      const found = await rows<
        Omit<TodayRow, "id" | "amount"> & { id: bigint; amount: bigint | null }
      >(
        tx,
        sql`select d.id, d.number, coalesce((select y.reason || ': ' || d.title from payment y
          where y.document_id = d.id and y.reason <> ''), d.title) as title, c.code as company, d.date, d.amount,
          coalesce(d.currency, c.currency) as currency, p.name as by, coalesce((select j.posted_at
          from journal j where j.id = d.id), d.created_at) as at, d.kind
            from document d join company c on c.id = d.company_id
              join person p on p.id = d.created_by where d.company_id in (${sql.join(
                visible.map((v) => sql`${v}`),
                sql`, `,
              )}) and ${where} order by ${order} limit ${limit}`,
      );
      return found.map((f) => ({ ...f, id: Number(f.id), amount: minor(f.amount ?? 0n) }));
    };
    const mine = await list(
      sql`d.kind in ('journal', 'invoice', 'order', 'request') and d.status in ('draft', 'waiting',
        'held') and d.created_by = ${person.id}`,
      sql`d.id desc`,
      8,
    );
    const decides =
      may("prepare.ledger") || may("post.ledger") || may("post.payables")
        ? await waitingForMe.definition.run(context, {})
        : ok([]);
    const ids = decides.ok ? decides.value.map((d) => d.id) : [];
    const forMe =
      ids.length > 0 ? await list(sql`d.id = any(${arrayOf(ids)}::bigint[])`, sql`d.id`, 8) : [];
    const waiting = await list(
      sql`((d.kind = 'run' and d.status = 'preview') or (d.kind = 'journal'
        and d.status in ('draft', 'waiting')
        and d.created_by <> ${person.id}) ${
          may("post.payables")
            ? sql`or (d.kind = 'invoice'
        and d.status = 'held' and d.created_by <> ${person.id})
        or (d.kind = 'payment' and d.status = 'rejected' and exists (select 1 from payment_item y
          join open_item i on i.id = y.item_id and i.left_amount <> 0 where y.payment_id = d.id))`
            : sql``
        } ${
          may("post.receivables")
            ? sql`or (d.kind = 'receipt' and d.status = 'rejected' and exists (select 1
          from receipt_item y join open_item i on i.id = y.item_id and i.left_amount <> 0
          where y.receipt_id = d.id))`
            : sql``
        })
        and d.id <> all(${arrayOf(ids)}::bigint[])`,
      sql`d.id desc`,
      8,
    );
    const latest = await list(
      sql`d.kind = 'journal' and d.status in ('posted',
        'reversed') ${company ? sql`and d.company_id = ${company.id}` : sql``}`,
      sql`d.id desc`,
      12,
    );
    const days =
      company && visible.includes(company.id)
        ? await rows<{ day: string; journals: number }>(
            tx,
            sql`select to_char(date_trunc('day', posted_at), 'YYYY-MM-DD') as day,
              count(*)::int as journals from journal
              where company_id = ${company.id} and seq > (select greatest(seq - 400, 0) from chain
              where company_id = ${company.id}) group by 1 order by 1 desc limit 24`,
          )
        : [];
    return ok({ mine, forMe, waiting, latest, days: days.reverse() });
  },
});
