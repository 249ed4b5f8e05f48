import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { PrepaidPart, PrepaymentAsked } from "@/core/receivables";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, insertAll, readSetting, rows, schema, type Db } from "../db";

export const PREPAYMENT_SETTING = "receivables.prepayments";

/** Where what customers pay ahead waits; null where nothing is set up for it. */
export const readPrepaymentAccount = async (tx: Db): Promise<string | null> =>
  (await readSetting<{ account: string }>(tx, PREPAYMENT_SETTING))?.account || null;

/** What stands of prepayments `o` by tax code: of documents that are posted, the one itself too. */
const STANDING = sql`prepayment f join document d on d.id = f.document_id and d.status = 'posted'
  join document o on o.id = f.of_id and o.status = 'posted' join company c on c.id = o.company_id
  join partner p on p.id = o.partner_id`;
const ASKED = sql`coalesce(sum(f.amount) filter (where f.document_id = f.of_id), 0)::bigint`;

/** The prepayments that papers name, by company, customer and number in one text. */
export async function prepaymentsNamed(
  tx: Db,
  numbers: readonly string[],
): Promise<ReadonlyMap<string, PrepaymentAsked>> {
  const wanted = [...new Set(numbers.filter((n) => n !== ""))];
  if (wanted.length === 0) return new Map();
  const found = await rows<{
    id: bigint;
    number: string;
    company: string;
    customer: string;
    currency: string;
    taxCode: string;
    asked: bigint;
    left: bigint;
  }>(
    tx,
    sql`select o.id, o.number, c.code as company, p.code as customer, o.currency,
        f.tax_code as "taxCode", ${ASKED} as asked, sum(f.amount)::bigint as "left"
      from ${STANDING} where o.number = any(${arrayOf(wanted)}::text[])
      group by o.id, o.number, c.code, p.code, o.currency, f.tax_code`,
  );
  const named = new Map<string, PrepaymentAsked>();
  for (const f of found) {
    const key = prepaymentKey(f.company, f.customer, f.number);
    const { byTax } = named.get(key) ?? { byTax: new Map<string, never>() };
    named.set(key, {
      id: Number(f.id),
      number: f.number,
      currency: f.currency,
      byTax: new Map([...byTax, [f.taxCode, { asked: minor(f.asked), left: minor(f.left) }]]),
    });
  }
  return named;
}

export const prepaymentKey = (company: string, customer: string, number: string): string =>
  [company, customer, number].join(" ");

/**
 * Keeps what posted invoices and credit notes do to prepayments. Refused where more would be set off
 * than was asked for, by several that are posted at once.
 */
export async function keepPrepaid(
  { tx }: Context,
  papers: readonly { id: number; companyId: number; prepaid: readonly PrepaidPart[] }[],
): Promise<Result<unknown>> {
  const parts = papers.flatMap(({ id, companyId, prepaid }) =>
    prepaid.map((p) => ({
      companyId,
      documentId: id,
      line: p.line,
      ofId: p.of ?? id,
      taxCode: p.taxCode,
      amount: p.amount,
    })),
  );
  if (parts.length === 0) return ok({});
  await insertAll(tx, schema.prepayment, parts);
  return againstSetOff(
    tx,
    papers.map((p) => p.id),
  );
}

/** Refuses what documents have done where more is set off of a prepayment now than was asked for. */
export async function againstSetOff(
  tx: Db,
  documents: readonly number[],
): Promise<Result<unknown>> {
  const [over] = await rows<{ number: string }>(
    tx,
    sql`select o.number from ${STANDING}
      where f.of_id in (select of_id from prepayment
        where document_id = any(${arrayOf(documents)}::bigint[]))
      group by o.number, f.tax_code having sum(f.amount) < 0 order by o.number limit 1`,
  );
  return over
    ? fail({ code: "INVALID", what: `More is set off of ${over.number} than is left of it` })
    : ok({});
}

/** The first of invoices of which something was set off, with the invoice that did; or null. */
export async function setOffOf(
  { tx }: Context,
  ids: readonly number[],
): Promise<{ number: string; by: string } | null> {
  const [found] = await rows<{ number: string; by: string }>(
    tx,
    sql`select o.number, d.number as by from ${STANDING}
      where f.of_id = any(${arrayOf(ids)}::bigint[])
        and not (f.document_id = any(${arrayOf(ids)}::bigint[])) order by o.id, d.id limit 1`,
  );
  return found ?? null;
}

/** A prepayment that a customer was asked for, under one tax code. */
export interface PrepaymentRow {
  id: number;
  number: string;
  date: CalendarDate;
  customer: string;
  customerName: string;
  taxCode: string;
  currency: string;
  asked: Minor;
  left: Minor;
  /** Whether the customer has paid it. */
  paid: boolean;
}

/** Prepayments of a company of which something is left to be set off, the oldest first. */
export const listPrepayments = defineUseCase({
  name: "listPrepayments",
  kind: "read",
  rights: ["read.receivables"],
  what: "see prepayments of customers",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    customer: string().trim().max(60).default(""),
  }),
  run: async ({ tx }, { company, customer }): Promise<Result<PrepaymentRow[]>> => {
    const found = await rows<
      Omit<PrepaymentRow, "id" | "asked" | "left"> & { id: bigint; asked: bigint; left: bigint }
    >(
      tx,
      sql`select o.id, o.number, o.date, p.code as customer, p.name as "customerName",
          f.tax_code as "taxCode", o.currency, ${ASKED} as asked, sum(f.amount)::bigint as "left",
          not exists (select 1 from open_item i where i.document_id = o.id
            and i.area = 'receivables' and i.left_amount <> 0) as paid
        from ${STANDING} where c.code = ${company}
          ${customer === "" ? sql`` : sql`and p.code = ${customer}`}
        group by o.id, o.number, o.date, p.code, p.name, f.tax_code, o.currency
        having sum(f.amount) <> 0 order by o.date, o.id, f.tax_code limit 500`,
    );
    return ok(
      found.map((f) => ({
        ...f,
        id: Number(f.id),
        asked: minor(f.asked),
        left: minor(f.left),
      })),
    );
  },
});
