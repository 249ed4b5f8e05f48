import { sql } from "drizzle-orm";
import { agreementSale, type SaleInput, type SaleReading } from "@/core/receivables";
import { conversionOn, convertBy } from "@/core/rates";
import { addDays, minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf } from "../../db";
import { ratesFor } from "../../rates";
import { dueOf } from "../../recurring";
import { AGREEMENTS, moveOf, readAgreements } from "./readAgreements";

/** Whose agreements are asked about, and after which day. */
export interface AskedAhead {
  company: string;
  customer: string;
  after: CalendarDate;
}

/** What sales come to, read as they would be invoiced. */
export type ReadSales = (
  sales: readonly SaleInput[],
) => Promise<Pick<SaleReading, "gross" | "currency">[]>;

/**
 * What agreements bring with tax in so many days after a day, in each company's currency at today's
 * rate; what no rate is known of does not count. In a number of queries that does not depend on how
 * many are asked about.
 */
export async function agreedAhead(
  context: Context,
  asked: readonly AskedAhead[],
  days: number,
  read: ReadSales,
): Promise<Minor[]> {
  if (days === 0 || asked.length === 0) return asked.map(() => minor(0n));
  const { tx, masters, today } = context;
  const companies = [...new Set(asked.map((a) => masters.companyByCode.get(a.company)!.id))];
  const customers = [...new Set(asked.map((a) => a.customer))];
  const agreements = await readAgreements(
    context,
    sql`d.company_id = any(${arrayOf(companies)}::int[]) and d.status = 'active'
      and r.content->'sale'->>'customer' = any(${arrayOf(customers)}::text[])`,
  );
  if (agreements.length === 0) return asked.map(() => minor(0n));
  const move = await moveOf(context);
  const coming = asked.flatMap((a, n) =>
    agreements
      .filter((g) => g.company === a.company && g.written.sale.customer === a.customer)
      .flatMap((g) =>
        dueOf(AGREEMENTS, g, addDays(a.after, days))
          .filter(({ date }) => date > a.after)
          .map(({ date }) => ({
            n,
            company: a.company,
            sale: agreementSale(g.written, date, move(g.written, date), g.currency),
          })),
      ),
  );
  const figures = await read(coming.map((c) => c.sale));
  const rates = await ratesFor(
    tx,
    masters,
    figures.map((f, i) => ({
      companies: [coming[i]!.company],
      currency: f.currency,
      date: today,
    })),
  );
  const sums = asked.map(() => 0n);
  coming.forEach(({ n, company }, i) => {
    const { gross, currency } = figures[i]!;
    const own = masters.companyByCode.get(company)!.currency;
    const rate = conversionOn(rates, "spot", currency, own, today);
    if (rate) sums[n]! += convertBy(gross, currency, own, rate);
  });
  return sums.map(minor);
}
