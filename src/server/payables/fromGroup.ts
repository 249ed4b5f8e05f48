import { sql } from "drizzle-orm";
import { safeName } from "@/core/files";
import { fail, ok, type Result } from "@/core/shared";
import { readEInvoice } from "@/core/trade/eInvoice/read";
import type { Context } from "../access";
import { rows } from "../db";
import { attach } from "../documents";
import type { PaperWithinGroup } from "../receivables";
import { sellerOf, takeIn } from "./loadInvoices";

/**
 * Takes in what another company of the group has invoiced, as a supplier's e-invoice is taken in: a
 * draft, for whoever enters invoices there to look at. Once: what is there already stays as it is.
 */
export async function arriveFromGroup(
  context: Context,
  { company, number, eInvoice, pdf }: PaperWithinGroup,
): Promise<Result<{ isNew: boolean }>> {
  const read = readEInvoice(eInvoice);
  if (!read.ok) return read;
  const { masters, tx } = context;
  const companyId = masters.companyByCode.get(company)!.id;
  const supplier = (await sellerOf(context, read.value))?.seller.code ?? "";
  const [there] = await rows<{ id: bigint }>(
    tx,
    sql`select d.id from invoice i join document d on d.id = i.document_id
      where d.company_id = ${companyId} and d.status <> 'cancelled'
        and i.content->>'number' = ${number} and i.content->>'supplier' in (${supplier}, '')
      limit 1`,
  );
  if (there) return ok({ isNew: false });
  const made = await takeIn(context, company, read.value, Buffer.from(eInvoice));
  if (!made.ok) return made;
  const paper = { id: made.value.id, kind: "invoice" } as const;
  const kept = await attach(context, paper, `${safeName(number)}.pdf`, Buffer.from(pdf));
  return kept.ok ? ok({ isNew: true }) : fail(...kept.problems);
}
