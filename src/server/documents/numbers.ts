import { sql } from "drizzle-orm";
import { arrayOf, rows, type Db } from "../db";

/**
 * What a number is taken for: a series, the company, and the year whose last two figures it
 * carries.
 */
export interface NumberWanted {
  series: string;
  company: { id: number; code: string };
  year: { id: number; name: string };
}

/**
 * Takes numbers without gaps, in the order wanted: one counter row per series, company and year,
 * locked in that order.
 */
export async function takeNumbers(
  tx: Db,
  wanted: readonly NumberWanted[],
): Promise<{ number: string; serial: number }[]> {
  const keyOf = (w: NumberWanted): string => `${w.series}|${w.company.id}|${w.year.id}`;
  const counts = new Map<string, NumberWanted & { count: number }>();
  for (const w of wanted) {
    const entry = counts.get(keyOf(w));
    if (entry) entry.count++;
    else counts.set(keyOf(w), { ...w, count: 1 });
  }
  const list = [...counts.values()].sort((a, b) =>
    a.series < b.series
      ? -1
      : a.series > b.series
        ? 1
        : a.company.id - b.company.id || a.year.id - b.year.id,
  );
  const taken = await rows<{
    series: string;
    companyId: number;
    yearId: number;
    last: number;
    prefix: string;
    digits: number;
  }>(
    tx,
    sql`with taken as (
          insert into number_counter as n (series, company_id, year_id, last)
          select * from unnest(${arrayOf(list.map((w) => w.series))}::text[],
            ${arrayOf(list.map((w) => w.company.id))}::int[],
            ${arrayOf(list.map((w) => w.year.id))}::int[],
            ${arrayOf(list.map((w) => w.count))}::int[])
          on conflict (series, company_id, year_id) do update set last = n.last + excluded.last
          returning series, company_id, year_id, last)
        select t.series, t.company_id as "companyId", t.year_id as "yearId", t.last, s.prefix,
          s.digits from taken t join number_series s on s.code = t.series`,
  );
  const next = new Map(
    taken.map((t) => {
      const key = `${t.series}|${t.companyId}|${t.yearId}`;
      return [key, { serial: t.last - counts.get(key)!.count, ...t }];
    }),
  );
  return wanted.map((w) => {
    const counter = next.get(keyOf(w))!;
    const serial = ++counter.serial;
    return {
      serial,
      number: `${w.company.code}-${w.year.name.slice(-2)}-${counter.prefix}${String(serial).padStart(counter.digits, "0")}`,
    };
  });
}

export const takeNumber = async (tx: Db, wanted: NumberWanted): Promise<string> =>
  (await takeNumbers(tx, [wanted]))[0]!.number;
