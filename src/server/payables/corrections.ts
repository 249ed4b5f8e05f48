import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { invoiceInput, numberKey, type InvoiceInput, type InvoiceReading } from "@/core/payables";
import { amountText, fail, ok, type Found, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, rows } from "../db";
import type { DocumentName } from "../documents";

/** The invoice that a credit note corrects. */
export interface Corrected {
  id: number;
  number: string;
  currency: string;
  gross: bigint;
  /** What other credit notes take off it. */
  credited: bigint;
}
/** What naming an invoice comes to: which one, and what stands against it or holds it. */
export interface Correction {
  invoice: Corrected | null;
  problem: Found | null;
  hold: string | null;
}
interface Paper {
  input: InvoiceInput;
  reading: InvoiceReading;
  companyId: number;
  id?: number | undefined;
}

function judge({ input, reading }: Paper, invoice: Corrected | undefined): Correction {
  const refuse = (what: string): Correction => ({
    invoice: null,
    problem: { code: "INVALID", what, field: "corrects" },
    hold: null,
  });
  if (input.kind !== "credit note") return refuse("Only a credit note corrects an invoice");
  if (!invoice)
    return refuse(
      `There is no posted invoice ${input.corrects.trim().slice(0, 40)} of this supplier`,
    );
  const { number, currency, gross, credited } = invoice;
  if (currency !== reading.currency)
    return refuse(`${number} is in ${currency}, and this credit note in ${reading.currency}`);
  const comes = credited + reading.gross;
  const text = (amount: bigint) => `${amountText(amount, currency)} ${currency}`;
  return {
    invoice,
    problem: null,
    hold:
      comes > gross
        ? `With it the credit notes of ${number} come to ${text(comes)}, more than its ${text(gross)}.`
        : null,
  };
}

/** What the papers correct, each by our number of the invoice or by the supplier's. */
export async function correctionsOf(
  { tx }: Context,
  papers: readonly Paper[],
): Promise<Map<Paper, Correction>> {
  const named = papers.filter((p) => p.input.corrects.trim() !== "");
  if (named.length === 0) return new Map();
  const column = <T extends string | number>(pick: (p: Paper, i: number) => T) =>
    arrayOf(named.map(pick));
  const found = await rows<Omit<Corrected, "id"> & { n: number; id: bigint }>(
    tx,
    sql`select distinct on (x.n) x.n, d.id, d.number, d.currency, d.amount as gross,
      coalesce((select -sum(c.amount) from document_link l join document c on c.id = l.from_id
        where l.to_id = d.id and l.kind = 'corrects' and c.status = 'posted' and c.id <> x.own),
        0)::bigint as credited
      from unnest(${column((_, i) => i)}::int[], ${column((p) => p.companyId)}::int[],
        ${column((p) => p.input.supplier.trim())}::text[],
        ${column((p) => p.input.corrects.trim().toUpperCase())}::text[],
        ${column((p) => numberKey(p.input.corrects))}::text[],
        ${column((p) => p.id ?? 0)}::bigint[]) as x(n, company, supplier, number, key, own)
        join partner s on s.code = x.supplier
        join invoice i on i.partner_id = s.id join document d on d.id = i.document_id
        where d.company_id = x.company and d.type = 'invoice' and d.status = 'posted'
          and (upper(d.number) = x.number or i.number_key = x.key)
        order by x.n, (upper(d.number) = x.number) desc, d.id desc`,
  );
  const byPaper = new Map(found.map(({ n, ...f }) => [n, { ...f, id: Number(f.id) }]));
  return new Map(named.map((p, i) => [p, judge(p, byPaper.get(i))]));
}

/** Our number of a supplier's posted invoice, by theirs; null where there is none. */
export async function postedInvoice(
  { tx }: Context,
  companyId: number,
  supplier: string,
  number: string,
): Promise<string | null> {
  const [found] = await rows<{ number: string }>(
    tx,
    sql`select d.number from invoice i join document d on d.id = i.document_id
      join partner p on p.id = i.partner_id
      where d.company_id = ${companyId} and p.code = ${supplier} and d.type = 'invoice'
        and d.status = 'posted' and i.number_key = ${numberKey(number)} order by d.id desc limit 1`,
  );
  return found?.number ?? null;
}

/** A posted invoice that a credit note may correct, with the lines that it was posted with. */
export interface Correctable extends DocumentName {
  supplierNumber: string;
  date: string;
  lines: InvoiceInput["lines"];
}

const MOST_CORRECTABLE = 100;

/** The newest posted invoices of a supplier, for a credit note to name. */
export const correctableInvoices = defineUseCase({
  name: "correctableInvoices",
  kind: "read",
  rights: ["prepare.payables"],
  what: "prepare invoices",
  company: (i) => i.company,
  schema: object({ company: string().required(), supplier: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<Correctable[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<DocumentName & { date: string; content: InvoiceInput }>(
      tx,
      sql`select d.id::int as id, d.number, d.date, i.content from invoice i
        join document d on d.id = i.document_id join partner p on p.id = i.partner_id
        where d.company_id = ${company.id} and p.code = ${input.supplier} and d.type = 'invoice'
          and d.status = 'posted' order by d.date desc, d.id desc limit ${MOST_CORRECTABLE}`,
    );
    return ok(
      found.map(({ content, ...f }) => {
        const { number: supplierNumber, lines } = invoiceInput(content);
        return { ...f, supplierNumber, lines };
      }),
    );
  },
});
