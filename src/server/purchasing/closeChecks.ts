import { sql } from "drizzle-orm";
import { rows } from "../db";
import type { CloseCheckKind } from "../checks";

export const receivedInvoiced: CloseCheckKind = {
  code: "received",
  name: "What was received is invoiced within 90 days",
  async look({ tx }, { company, to, query }) {
    const [found] = await rows<{ old: number }>(
      tx,
      sql`select count(*)::int as old from (select e.receipt_line_id from grni_entry e
          join goods_receipt_line r on r.id = e.receipt_line_id
          where e.company_id = ${company.id} and r.date < ${to}::date - 90 and e.date <= ${to}
          group by 1 having sum(e.functional) <> 0) x`,
    );
    const { old } = found!;
    if (old === 0)
      return {
        state: "holds",
        finding: "Nothing that is received and not invoiced is older than 90 days.",
        door: null,
      };
    return {
      state: "warns",
      finding: `${old === 1 ? "One leftover is" : `${old} leftovers are`} older than 90 days. Ask for the invoice, or clean up.`,
      door: `/payables/received?${query}`,
    };
  },
};
