import { sql } from "drizzle-orm";
import type { SaleInput, SaleReading } from "@/core/receivables";
import { amountText, minor, type Found } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, rows } from "../db";

/** The invoice that a credit note corrects. */
export interface CorrectedSale {
  id: number;
  number: string;
  currency: string;
  gross: bigint;
  /** What other credit notes take off it. */
  credited: bigint;
}
interface Paper {
  input: SaleInput;
  reading: SaleReading;
  id?: number | undefined;
}
interface Correction {
  sale: CorrectedSale | null;
  problem: Found | null;
}

/** What each corrects, by the number of the invoice; nothing where it names none. */
export async function correctedSale(
  { tx, masters }: Context,
  papers: readonly Paper[],
): Promise<(Correction | undefined)[]> {
  const named = papers.map((p) => p.input.corrects.trim().toUpperCase());
  if (named.every((n) => n === "")) return papers.map(() => undefined);
  const found = await rows<Omit<CorrectedSale, "id"> & { n: number; id: bigint }>(
    tx,
    sql`select x.n, d.id, d.number, d.currency, d.amount as gross,
      coalesce((select -sum(c.amount) from document_link l join document c on c.id = l.from_id
        where l.to_id = d.id and l.kind = 'corrects' and c.status = 'posted' and c.id <> x.own),
        0)::bigint as credited
      from unnest(${arrayOf(papers.map((_, i) => i))}::int[],
        ${arrayOf(papers.map((p) => masters.companyByCode.get(p.input.company)!.id))}::int[],
        ${arrayOf(papers.map((p) => p.input.customer.trim()))}::text[],
        ${arrayOf(named)}::text[],
        ${arrayOf(papers.map((p) => p.id ?? 0))}::bigint[]) as x(n, company, customer, number, own)
        join partner p on p.code = x.customer
        join document d on d.kind = 'sale' and d.number = x.number and d.company_id = x.company
          and d.partner_id = p.id
      where d.type = 'invoice' and d.status = 'posted'`,
  );
  const byPaper = new Map(found.map(({ n, id, ...f }) => [n, { ...f, id: Number(id) }]));
  // What earlier ones of the same act take off counts for the later ones.
  const taken = new Map<number, bigint>();
  return papers.map((p, i) => {
    if (named[i] === "") return undefined;
    const sale = byPaper.get(i);
    if (!sale) return judge(p, undefined);
    const before = taken.get(sale.id) ?? 0n;
    taken.set(sale.id, before + p.reading.gross);
    return judge(p, { ...sale, credited: sale.credited + before });
  });
}

function judge({ input, reading }: Paper, sale: CorrectedSale | undefined): Correction {
  const refuse = (what: string): Correction => ({
    sale: null,
    problem: { code: "INVALID", what, field: "corrects" },
  });
  if (input.kind !== "credit note") return refuse("Only a credit note corrects an invoice");
  if (!sale)
    return refuse(
      `There is no posted invoice ${input.corrects.trim().slice(0, 40)} to this customer`,
    );
  const { number, currency, gross, credited } = sale;
  if (currency !== reading.currency)
    return refuse(`${number} is in ${currency}, and this credit note in ${reading.currency}`);
  const text = (amount: bigint) => `${amountText(minor(amount), currency)} ${currency}`;
  const comes = credited + reading.gross;
  return comes > gross
    ? refuse(
        `With it the credit notes of ${number} come to ${text(comes)}, more than its ${text(gross)}`,
      )
    : { sale, problem: null };
}
