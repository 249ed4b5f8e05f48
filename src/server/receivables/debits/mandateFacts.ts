import { sql } from "drizzle-orm";
import type { DebitMandate, DebitScheme } from "@/core/receivables";
import type { CalendarDate } from "@/core/shared";
import { rows, type Db } from "../../db";

/** How often a mandate `m` was used, and when last: what was undone before it went out is no use. */
export const LAST_USE = sql`cross join lateral (select max(d.date) as last, count(d.id)::int as uses
  from direct_debit x join document d on d.id = x.receipt_id and d.status <> 'reversed'
  where x.mandate_id = m.id) u`;

/** Mandates that have ended are said to have for so many days; then their customers pay otherwise. */
const SAID_FOR = 90;

/** A mandate by which customers may be debited. */
export interface MandateFacts extends DebitMandate {
  name: string;
  reference: string;
  scheme: DebitScheme;
}

/** The mandates of a company's customers, by customer: of each the one that holds, else the last. */
export const mandatesOf = (tx: Db, companyId: number, on: CalendarDate): Promise<MandateFacts[]> =>
  rows<MandateFacts>(
    tx,
    sql`select distinct on (p.code) m.id, p.code as partner, p.name, m.reference, m.scheme, m.signed,
        m.kind, m.notice, m.ended, u.last as "lastUsed"
      from mandate m join partner p on p.id = m.partner_id ${LAST_USE}
      where m.company_id = ${companyId} and (m.ended is null or m.ended > ${on}::date - ${SAID_FOR}::int)
      order by p.code, m.ended desc nulls first, m.id desc`,
  );
