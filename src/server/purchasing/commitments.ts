import { sql } from "drizzle-orm";
import { array, object, string } from "yup";
import { conversionOn, convertBy } from "@/core/rates";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import { ratesFor } from "../rates";

export interface Commitment {
  orderId: number;
  order: string;
  line: number;
  supplierName: string;
  account: string;
  dimensions: Record<string, string>;
  description: string;
  wanted: CalendarDate | null;
  currency: string;
  /**
   * What was ordered and is neither received nor, where nothing is received, invoiced: in the
   * order's currency and in the functional one.
   */
  amount: Minor;
  /** Null where no rate is known. */
  functional: Minor | null;
  company: string;
}

/**
 * What orders in force commit of accounts: what is still to come of them, at order price and
 * today's rate.
 */
export const commitments = defineUseCase({
  name: "commitments",
  kind: "read",
  rights: ["read.ledger", "read.payables"],
  what: "see commitments",
  of: "checked",
  schema: object({
    companies: array(string().required()).required(),
    accounts: array(string().required()).required(),
    values: array(string().required()).default([]),
  }),
  run: async ({ tx, masters, today, may }, input): Promise<Result<Commitment[]>> => {
    const companies = input.companies.flatMap((c) => masters.companyByCode.get(c) ?? []);
    if (companies.length === 0)
      return fail({ code: "COMPANY_UNKNOWN", company: input.companies.join(", ") });
    const refused = companies.find(
      (c) => !may("read.ledger", c.code) && !may("read.payables", c.code),
    );
    if (refused) return fail({ code: "FORBIDDEN", what: `see orders of ${refused.name}` });
    const found = await rows<
      Omit<Commitment, "functional" | "amount" | "orderId"> & { orderId: bigint; amount: bigint }
    >(
      tx,
      sql`select d.id as "orderId", d.number as order, l.no as line, p.name as "supplierName",
        l.account, l.dimensions, l.description, (l.deliveries->0->>'date')::date as wanted,
        d.currency, c.code as company,
            round((l.net + l.burden)::numeric * (l.quantity - greatest(l.received,
              l.invoiced)) / l.quantity)::bigint as amount
          from order_line l join document d on d.id = l.order_id
            join company c on c.id = d.company_id
            join purchase_order o on o.document_id = l.order_id
            join partner p on p.id = o.partner_id
          where d.company_id = any(${arrayOf(companies.map((c) => c.id))}::int[])
            and d.status = 'open' and l.account = any(${arrayOf(input.accounts)}::text[])
            and l.quantity > greatest(l.received, l.invoiced) order by wanted nulls last, d.number,
            l.no`,
    );
    const rates = await ratesFor(
      tx,
      masters,
      found.map((f) => ({ companies: [f.company], currency: f.currency, date: today })),
    );
    const own = found.filter(
      (f) =>
        input.values.length === 0 ||
        Object.values(f.dimensions).some((v) => input.values.includes(v)),
    );
    return ok(
      own.map((f) => {
        const functional = masters.companyByCode.get(f.company)!.currency;
        const rate = conversionOn(rates, "spot", f.currency, functional, today);
        return {
          ...f,
          orderId: Number(f.orderId),
          amount: minor(f.amount),
          functional: rate && convertBy(minor(f.amount), f.currency, functional, rate),
        };
      }),
    );
  },
});
