import { sql } from "drizzle-orm";
import type { Masters } from "@/core/ledger";
import type { Rate } from "@/core/rates";
import { isCalendarDate, isCurrency } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";

/**
 * The rates that converting these journals could need: for each kind and pair the newest on or before each of their dates. None where all
 * are in the functional currencies of their companies.
 */
export async function ratesFor(tx: Db, masters: Masters, journals: readonly { companies: readonly string[]; currency: string | undefined; date: string }[]): Promise<Rate[]> {
  const foreign = journals.filter((j) => j.currency && isCurrency(j.currency) && isCalendarDate(j.date) && j.companies.some((c) => masters.companyByCode.get(c)?.currency !== j.currency));
  if (foreign.length === 0) return [];
  const dates = [...new Set(foreign.map((j) => j.date))];
  return rows<Rate>(
    tx,
    sql`select distinct r.kind, r.base, r.quote, r.date, r.rate::text as rate from unnest(${arrayOf(dates)}::date[]) as x(day)
        cross join lateral (select distinct on (kind, base, quote) kind, base, quote, date, rate from rate where date <= x.day order by kind, base, quote, date desc) r`,
  );
}
