import { sql } from "drizzle-orm";
import { LOSS_BUCKETS, type LossHistory } from "@/core/receivables";
import { minor, type CalendarDate } from "@/core/shared";
import { rows, type Db } from "../../db";

/** Losses are looked at over so many months before the day. */
export const HISTORY_MONTHS = 36;

/** By group of customers, "" for those without: what happened at each age, in the order of buckets. */
export type LossHistories = ReadonlyMap<string, readonly LossHistory[]>;

/**
 * What of the invoices of three years ever came to each age, and what of that was written off and
 * stayed so: by group of customers, in the company's currency. One statement.
 */
export async function lossHistory(
  tx: Db,
  companyId: number,
  on: CalendarDate,
): Promise<LossHistories> {
  const ages = LOSS_BUCKETS.map((b) => Math.max(0, b.from));
  const found = await rows<{ group: string; reached: bigint[]; lost: bigint[] }>(
    tx,
    sql`with item as (select i.id, p.customer_group as "group", i.due_date, i.functional
          from open_item i join partner p on p.code = i.partner
          where i.company_id = ${companyId} and i.area = 'receivables' and i.kind = 'invoice'
            and i.amount > 0 and i.date <= ${on}
            and i.date > ${on}::date - make_interval(months => ${HISTORY_MONTHS})),
        taken as (select l.item_id as id, a.date, l.functional,
            w.journal_id is not null as lost
          from allocation_line l join item i on i.id = l.item_id
            join allocation a on a.id = l.allocation_id
            left join allocation o on o.id = a.undoes_id
            left join write_off w on w.journal_id = coalesce(o.journal_id, a.journal_id)
          where a.date <= ${on}),
        state as (select i.id, i."group", i.due_date, i.functional,
            coalesce(sum(t.functional) filter (where t.lost), 0) as lost,
            array[${sql.join(
              ages.map(
                (age) => sql`i.functional - coalesce(sum(t.functional)
                  filter (where t.date < i.due_date + ${age}::int and not t.lost), 0)`,
              ),
              sql`, `,
            )}] as unpaid
          from item i left join taken t on t.id = i.id group by i.id, i."group", i.due_date,
            i.functional)
      select s."group", array[${sql.join(
        ages.map(
          (age, n) => sql`coalesce(sum(s.unpaid[${n + 1}::int])
            filter (where s.due_date + ${age}::int <= ${on}::date), 0)::bigint`,
        ),
        sql`, `,
      )}] as reached, array[${sql.join(
        ages.map(
          (age, n) => sql`coalesce(sum(least(s.lost, s.unpaid[${n + 1}::int]))
            filter (where s.due_date + ${age}::int <= ${on}::date), 0)::bigint`,
        ),
        sql`, `,
      )}] as lost
      from state s group by s."group"`,
  );
  return new Map(
    found.map((f) => [
      f.group,
      LOSS_BUCKETS.map((_, n) => ({
        reached: minor(BigInt(f.reached[n]!)),
        lost: minor(BigInt(f.lost[n]!)),
      })),
    ]),
  );
}
