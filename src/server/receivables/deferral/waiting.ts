import { sql } from "drizzle-orm";
import type { DeferralMethod } from "@/core/receivables";
import type { CalendarDate } from "@/core/shared";
import { rows, type Db } from "../../db";

/** Deferred revenue of a line that is not released as a whole. */
export interface Waiting {
  id: number;
  number: string;
  customer: string;
  line: number;
  account: string;
  coding: { account: string; dimensions: Record<string, string>; description: string };
  from: CalendarDate;
  to: CalendarDate;
  method: DeferralMethod;
  amount: bigint;
  released: bigint;
}

/** By what it is reserved while a run has it. */
export const keyOf = (deferral: number): string => `deferral|${deferral}`;

/**
 * What has begun to be earned by a day and is not released as a whole: all of it, what no run in
 * preview has ("free"), or what a run has shown.
 */
export const waitingOf = (
  tx: Db,
  companyId: number,
  upTo: CalendarDate,
  of: "all" | "free" | number,
): Promise<Waiting[]> =>
  rows<Waiting>(
    tx,
    sql`select f.id::int as id, d.number, p.code || ' ' || p.name as customer, f.line, f.account,
        f.coding, f.first_day as "from", f.last_day as "to", f.method, f.amount,
        coalesce(r.released, 0)::bigint as released
      from deferral f join document d on d.id = f.document_id and d.status = 'posted'
        join sale s on s.document_id = d.id join partner p on p.id = s.partner_id
        left join lateral (select sum(x.amount) as released from deferral_release x
          where x.deferral_id = f.id) r on true
      where f.company_id = ${companyId} and f.first_day <= ${upTo}
        and d.date <= ${upTo} and f.amount <> coalesce(r.released, 0)
        and ${
          of === "all"
            ? sql`true`
            : of === "free"
              ? sql`not exists (select 1 from run_item v where v.taken_as = 'deferred-revenue'
                and v.key = 'deferral|' || f.id)`
              : sql`'deferral|' || f.id in (select v.key from run_item v where v.run_id = ${of})`
        }
      order by p.code, d.id, f.line, f.id`,
  );
