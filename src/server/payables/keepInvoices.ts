import { sql } from "drizzle-orm";
import { numberKey, type InvoiceInput, type InvoiceReading } from "@/core/payables";
import { decimalText, isCurrency, type Minor, minor } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { type Context } from "../access";

/** What is owed by an invoice as the register has it: credit notes are negative. */
export const signedTotal = (input: InvoiceInput, reading: InvoiceReading): Minor =>
  minor(input.kind === "credit note" ? -reading.gross : reading.gross);

/** Keeps what was typed and brings the register up to it. */
export async function keepInvoice(
  context: Context,
  input: InvoiceInput,
  reading: InvoiceReading,
  id: number | undefined,
): Promise<{ id: number; version: number }> {
  if (id === undefined)
    return { id: (await keepInvoices(context, [{ input, reading }]))[0]!, version: 1 };
  const { tx, person, now } = context;
  const [{ partner, company, title, search, currency }] = (await registerOf(context, [
    { input, reading },
  ])) as [Registered];
  await tx.execute(
    sql`update document set type = ${input.kind}, company_id = ${company},
      date = ${reading.date || null}, amount = ${signedTotal(input, reading)}, currency = ${currency},
      title = ${title}, search = ${search} where id = ${id}`,
  );
  const [saved] = await rows<{ version: number }>(
    tx,
    sql`update invoice set partner_id = ${partner}, number_key = ${numberKey(input.number)},
      content = ${JSON.stringify(input)}::jsonb, version = version + 1, updated_by = ${person.id},
      updated_at = ${now.toISOString()} where document_id = ${id} returning version`,
  );
  return { id, version: saved!.version };
}

interface Registered {
  partner: number | null;
  company: number;
  title: string;
  search: string;
  currency: string;
}

/** How invoices stand in the register of documents. */
async function registerOf(
  { tx, masters }: Context,
  papers: readonly { input: InvoiceInput; reading: InvoiceReading }[],
): Promise<Registered[]> {
  const codes = [...new Set(papers.map((p) => p.input.supplier.trim()))];
  const partners = new Map(
    (
      await rows<{ id: number; code: string; name: string }>(
        tx,
        sql`select id, code, name from partner where code = any(${arrayOf(codes)}::text[])`,
      )
    ).map((p) => [p.code, p]),
  );
  return papers.map(({ input, reading }) => {
    const company = masters.companyByCode.get(input.company)!;
    const partner = partners.get(input.supplier.trim());
    const title =
      `${partner?.name || input.supplier || "Supplier"}, ${input.number.trim() || "no number yet"}`.slice(
        0,
        200,
      );
    const currency = isCurrency(reading.currency) ? reading.currency : company.currency;
    return {
      partner: partner?.id ?? null,
      company: company.id,
      title,
      currency,
      search: `${title} ${input.description} ${decimalText(reading.gross, currency)}`
        .toLowerCase()
        .slice(0, 500),
    };
  });
}

/** Keeps new drafts; their identities come in the order of the papers. */
export async function keepInvoices(
  context: Context,
  papers: readonly { input: InvoiceInput; reading: InvoiceReading }[],
): Promise<number[]> {
  const { tx, person, now } = context;
  const register = await registerOf(context, papers);
  const column = <T extends string | number | bigint | null>(
    pick: (p: (typeof papers)[number], r: Registered) => T,
  ) => arrayOf(papers.map((p, i) => pick(p, register[i]!)));
  const made = await rows<{ id: bigint }>(
    tx,
    sql`insert into document (kind, type, company_id, date, amount, currency, title, search,
      created_by, created_at, status)
        select 'invoice', x.type, x.company, x.day, x.amount, x.currency, x.title, x.search,
          ${person.id}, ${now.toISOString()}, 'draft'
        from unnest(${column((p) => p.input.kind)}::text[], ${column((_, r) => r.company)}::int[],
          ${column((p) => p.reading.date || null)}::date[],
          ${column((p) => signedTotal(p.input, p.reading))}::bigint[],
          ${column((_, r) => r.currency)}::char(3)[],
          ${column((_, r) => r.title)}::text[], ${column((_, r) => r.search)}::text[])
          with ordinality as x(type, company, day, amount, currency, title, search, n) order by x.n
            returning id`,
  );
  // Identities are given in the order of the rows; in what order they are returned is not said.
  const ids = made.map((m) => Number(m.id)).sort((a, b) => a - b);
  await tx.execute(sql`
    insert into invoice (document_id, partner_id, number_key, content, updated_by, updated_at)
    select x.id, x.partner, x.key, x.content, ${person.id}, ${now.toISOString()}
    from unnest(${arrayOf(ids)}::bigint[], ${column((_, r) => r.partner)}::int[],
      ${column((p) => numberKey(p.input.number))}::text[],
      ${column((p) => JSON.stringify(p.input))}::jsonb[]) as x(id, partner, key, content)`);
  await tx.execute(sql`
    insert into audit_event (at, person_id, action, kind, record_id, label, company_id)
    select ${now.toISOString()}, ${person.id}, 'drafted', 'invoice', x.id, x.label, x.company
      from unnest(${arrayOf(ids.map(String))}::text[], ${column((_, r) => r.title)}::text[],
      ${column((_, r) => r.company)}::int[]) as x(id, label, company)`);
  return ids;
}
