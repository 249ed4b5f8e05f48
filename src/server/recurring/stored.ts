import { sql, type SQL } from "drizzle-orm";
import { datesOf, type CalendarDate } from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";
import { recurringKey, type Recurring, type RecurringKind } from "./kind";

type Row<C> = Omit<Recurring<C>, "id" | "taken"> & { id: bigint; taken: string[] | null };

/**
 * Documents that come again, in the order of their names. `run` is a run that is computed anew:
 * what it has taken itself is not taken for it.
 */
export async function readRecurring<C>(
  { tx }: Context,
  kind: RecurringKind<C>,
  where: SQL,
  { lock = false, run = 0 }: { lock?: boolean; run?: number } = {},
): Promise<Recurring<C>[]> {
  const found = await rows<Row<C>>(
    tx,
    sql`select d.id, d.title as name, d.status, c.code as company, d.currency, r.content, r.rhythm,
        r.skipped, r.version, p.name as by, r.updated_by as "updatedBy",
        u.name as "updatedByName", r.updated_at as "updatedAt",
        taken.keys as taken, taken.last
      from document d join recurring_document r on r.document_id = d.id
        join company c on c.id = d.company_id join person p on p.id = d.created_by
        join person u on u.id = r.updated_by
        left join lateral (
          select jsonb_agg(v.key) as keys,
            max(split_part(v.key, '|', 3)) filter (where made.status = 'posted') as last
          from run_item v join document made on made.id = v.run_id
          where v.taken_as = ${kind.id} and v.key like ${kind.id} || '|' || d.id || '|%'
            and v.run_id <> ${run}
        ) taken on true
      where d.kind = ${kind.id} and ${where}
      order by d.title, d.id ${lock ? sql`for update of d` : sql``}`,
  );
  return found.map((f) => ({ ...f, id: Number(f.id), taken: new Set(f.taken ?? []) }));
}

/** What is due by a day: each date that is not passed over, with what no run has taken of it. */
export function dueOf<C>(
  kind: RecurringKind<C>,
  r: Recurring<C>,
  upTo: CalendarDate,
): { date: CalendarDate; part: string; key: string }[] {
  if (r.status !== "active") return [];
  return datesOf(r.rhythm, upTo)
    .filter((date) => !(date in r.skipped))
    .flatMap((date) => leftOn(kind, r, date));
}

/** What no run has taken of a date. */
export const leftOn = <C>(kind: RecurringKind<C>, r: Recurring<C>, date: CalendarDate) =>
  kind
    .partsOf(r.content)
    .map((part) => ({ date, part, key: recurringKey(kind, r.id, date, part) }))
    .filter(({ key }) => !r.taken.has(key));
