import { sql } from "drizzle-orm";
import { dateText, type CalendarDate, type Found } from "@/core/shared";
import type { TaxDirection } from "@/core/taxes";
import { arrayOf, rows, type Db } from "../db";

/** A paper with taxes: its day, and the period that was chosen for them, "" where none was. */
export interface TaxedPaper {
  companyId: number;
  day: CalendarDate;
  period: string;
  /** Whose periods it goes by: those of receivables or, where it is not said, of payables. */
  direction?: TaxDirection;
}

/** Where the taxes of a paper are reported. */
export interface TaxDay {
  /** The chosen day; null where the first period that takes them is meant. */
  on: CalendarDate | null;
  /** What to say where that is not the period of the paper's day. */
  note: string;
  problem: Found | null;
}

interface Facts {
  n: number;
  own: string | null;
  declared: boolean;
  first: string | null;
  moved: boolean;
  start: string | null;
  end: string | null;
  chosen: string | null;
  taken: boolean;
}

function dayOf({ day, period }: TaxedPaper, f: Facts): TaxDay {
  const plain = { on: null, note: "", problem: null };
  const refuse = (what: string): TaxDay => ({
    ...plain,
    problem: { code: "INVALID", what, field: "taxPeriod" },
  });
  if (period === "") {
    if (f.declared && !f.moved)
      return refuse(`The taxes of ${f.own} are declared, and no later period takes them`);
    if (!f.moved || !f.first) return plain;
    const why = f.declared ? "whose taxes are declared" : "which is closed";
    return {
      ...plain,
      note: `Its date lies in ${f.own ?? dateText(day)}, ${why}: its tax is reported in ${f.first}.`,
    };
  }
  if (!f.chosen || !f.start || !f.end) return refuse(`There is no period ${period} for taxes`);
  if (f.taken) return refuse(`The taxes of ${f.chosen} are declared`);
  if (f.end < day)
    return refuse("A tax is reported in the period of the invoice's date, or in a later one");
  const on = f.start > day ? f.start : day;
  return { ...plain, on, note: f.start > day ? `Its tax is reported in ${f.chosen}.` : "" };
}

/**
 * Where the taxes of papers are reported: in the period of their day, while that is neither closed
 * nor declared; else in the first one after it that is neither; or in the one that was chosen,
 * unless that is declared or before their day.
 */
export async function taxDays(tx: Db, papers: readonly TaxedPaper[]): Promise<TaxDay[]> {
  if (papers.length === 0) return [];
  const column = <T extends string | number>(pick: (p: TaxedPaper, i: number) => T) =>
    arrayOf(papers.map(pick));
  const found = await rows<Facts>(
    tx,
    // Materialised: the first period is found once for each paper, not once for each period.
    sql`with paper as materialized (select x.*,
          tax_reported_on(x.company, x.day, x.direction) as first
          from unnest(${column((_, i) => i)}::int[], ${column((p) => p.companyId)}::int[],
            ${column((p) => p.day)}::date[], ${column((p) => p.period)}::text[],
            ${column((p) => p.direction ?? "purchase")}::text[]) as x(n, company, day, period, direction)),
        span as (select y.company_id as company, p.name || ' ' || y.name as name,
          y.name || '-' || lpad(p.no::text, 2, '0') as key, p.start_date as start, p.end_date as end,
          exists (select 1 from tax_declaration d where d.company_id = y.company_id
            and d.withdrawn_at is null and d.start_date <= p.end_date
            and d.end_date >= p.start_date) as declared
          from period p join fiscal_year y on y.id = p.year_id where not p.adjustment)
        select x.n, o.name as own, coalesce(o.declared, false) as declared, f.name as first,
          x.first <> x.day as moved, c.start as start, c.end as end, c.name as chosen,
          coalesce(c.declared, false) as taken
        from paper x left join span o on o.company = x.company and x.day between o.start and o.end
          left join span f on f.company = x.company and x.first between f.start and f.end
          left join span c on c.company = x.company and c.key = x.period order by x.n`,
  );
  return papers.map((p, i) => dayOf(p, found[i]!));
}
