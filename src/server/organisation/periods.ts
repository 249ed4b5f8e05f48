import { sql } from "drizzle-orm";
import type { Area } from "@/core/access";
import type { Masters } from "@/core/ledger";
import type { FiscalYear, Period, PeriodState } from "@/core/organisation";
import type { CalendarDate } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";

const YEAR_COLUMNS = sql`y.id, y.company_id as "companyId", y.name, y.description,
  y.start_date as start, y.end_date as end`;

export const loadYears = (tx: Db, companyIds: readonly number[]): Promise<FiscalYear[]> =>
  rows<FiscalYear>(
    tx,
    sql`select ${YEAR_COLUMNS} from fiscal_year y
      where y.company_id = any(${arrayOf(companyIds)}::int[]) order by y.company_id, y.start_date`,
  );

export interface PeriodFilter {
  /** Only these areas' states; all when left out. */
  areas?: readonly Area[];
  /** Only the periods that hold one of these dates; all when left out. */
  dates?: readonly CalendarDate[];
  yearId?: number;
}

interface Calendar {
  years: FiscalYear[];
  periods: Period[];
}
/**
 * Calendars live as long as the copy of the master data they belong to: the same revision counter
 * tells both old.
 */
const calendars = new WeakMap<Masters, Map<number, Calendar>>();

/**
 * Years and periods of a company for reports, read once per revision. Posting and switching read
 * anew, under their lock.
 */
export async function calendarOf(tx: Db, masters: Masters, companyId: number): Promise<Calendar> {
  const known = calendars.get(masters) ?? new Map<number, Calendar>();
  calendars.set(masters, known);
  const found = known.get(companyId) ?? {
    years: await loadYears(tx, [companyId]),
    periods: await loadPeriods(tx, [companyId]),
  };
  known.set(companyId, found);
  return found;
}

/** Periods with their states, in the order of the calendar. */
export async function loadPeriods(
  tx: Db,
  companyIds: readonly number[],
  filter: PeriodFilter = {},
): Promise<Period[]> {
  const found = await rows<
    Omit<Period, "states"> & { states: { b: number; a: Area; s: PeriodState }[] | null }
  >(
    tx,
    sql`select p.year_id as "yearId", y.name as "yearName", y.company_id as "companyId", p.no,
      p.name, p.start_date as start, p.end_date as end, p.adjustment,
          jsonb_agg(jsonb_build_object('b', s.book_id, 'a', s.area, 's',
            s.state)) filter (where s.book_id is not null) as states
        from period p join fiscal_year y on y.id = p.year_id left
          join period_state s on s.year_id = p.year_id
          and s.no = p.no ${
            filter.areas
              ? sql`and s.area =
          any(${arrayOf(filter.areas)}::text[])`
              : sql``
          }
        where y.company_id = any(${arrayOf(companyIds)}::int[])
          ${filter.yearId ? sql`and y.id = ${filter.yearId}` : sql``}
          ${
            filter.dates
              ? sql`and exists (select 1
            from unnest(${arrayOf(filter.dates)}::date[]) as d
            where d between p.start_date and p.end_date)`
              : sql``
          }
        group by p.year_id, p.no, y.name, y.company_id order by y.company_id, p.start_date, p.no`,
  );
  return found.map(({ states, ...period }) => {
    const byBook: Record<number, Partial<Record<Area, PeriodState>>> = {};
    for (const { b, a, s } of states ?? []) (byBook[b] ??= {})[a] = s;
    return { ...period, states: byBook };
  });
}
