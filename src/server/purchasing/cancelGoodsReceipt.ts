import { sql } from "drizzle-orm";
import { fail, ok } from "@/core/shared";
import { rows } from "../db";
import { type Context } from "../access";
import { defineCancel } from "../keptDocuments";
import { reverseJournals } from "../ledger";
import { undoEntries } from "./grniEntries";

interface Receipt {
  number: string;
  status: string;
  company: string;
}
const readGoodsReceipt = async ({ tx }: Context, id: number): Promise<Receipt | undefined> =>
  (
    await rows<Receipt>(
      tx,
      sql`select d.number, d.status, c.code as company from document d
        join company c on c.id = d.company_id
        where d.id = ${id} and d.kind = 'goods-receipt' for update of d`,
    )
  )[0];

/** Takes a receipt back that was entered wrongly. One that is invoiced, even in part, can't be. */
export const cancelGoodsReceipt = defineCancel("cancelGoodsReceipt", {
  kind: "goods-receipt",
  what: "cancel receipts",
  right: "reverse.payables",
  action: "cancelled",
  to: "cancelled",
  read: readGoodsReceipt,
  label: ({ number }) => number,
  takeBack: async (context, id, { number }) => {
    const { tx } = context;
    const [later] = await rows<{ kind: string; number: string }>(
      tx,
      sql`select e.kind, coalesce(d.number, '') as number from grni_entry e
        join goods_receipt_line r on r.id = e.receipt_line_id join document d on d.id = e.document_id
        where r.receipt_id = ${id} and e.document_id <> ${id} group by e.kind, d.number,
        d.id having sum(e.quantity) <> 0 or sum(e.functional) <> 0 limit 1`,
    );
    if (later)
      return fail({
        code: "IN_USE",
        what: `${number} has been ${later.kind} by ${later.number}; undo that first`,
      });
    const journals = await rows<{ id: bigint }>(
      tx,
      sql`select j.id from journal j where j.origin_id = ${id} and j.reverses_id is null`,
    );
    let journal: { id: number; number: string; date: string } | null = null;
    if (journals.length > 0) {
      const reversed = await reverseJournals(
        context,
        journals.map((j) => Number(j.id)),
        null,
      );
      if (!reversed.ok) return reversed;
      journal = reversed.value[0]!;
      await undoEntries(context, id, { id: journal.id, date: journal.date });
    }
    await tx.execute(
      sql`update order_line l set received = l.received - r.quantity from goods_receipt_line r
        where r.receipt_id = ${id} and r.order_line_id = l.id`,
    );
    return ok({ journal: journal?.number ?? null });
  },
});
