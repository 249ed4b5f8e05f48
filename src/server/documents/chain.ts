import { sql } from "drizzle-orm";
import { number, object } from "yup";
import {
  chainWords,
  documentArea,
  type ChainDocument,
  type ChainFacts,
  type ChainLink,
} from "@/core/documents";
import { fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";

/** The most documents that one picture shows. */
const MOST = 200;

/**
 * Everything that hangs together with a document of a purchase: from request to payment and the
 * bank's line, both ways along the links of the register.
 */
export const documentChain = defineUseCase({
  name: "documentChain",
  kind: "read",
  rights: ["read.payables", "read.receivables", "read.ledger", "read.banks"],
  what: "see documents",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (
    context,
    input,
  ): Promise<Result<{ documents: ChainDocument[]; links: ChainLink[]; truncated: boolean }>> => {
    const { tx } = context;
    const [start] = await rows<{ company: string; kind: string }>(
      tx,
      sql`select c.code as company, d.kind from document d join company c on c.id = d.company_id
        where d.id = ${input.id}`,
    );
    if (!start) return fail({ code: "NOT_FOUND", what: "such document" });
    const area = documentArea(start.kind);
    if (!context.may(`read.${area}`, start.company) && !context.may("read.ledger", start.company))
      return fail({ code: "FORBIDDEN", what: `see documents of ${start.company}` });
    let ids = new Set<number>([input.id]);
    let edge = [input.id];
    const links: ChainLink[] = [];
    const known = new Set<string>();
    while (edge.length > 0 && ids.size < MOST) {
      // A payment ends the walk: what else it paid is another purchase.
      const found = await rows<{ from: bigint; to: bigint; kind: string }>(
        tx,
        sql`select l.from_id as from, l.to_id as to, l.kind from document_link l
          join document f on f.id = l.from_id join document t on t.id = l.to_id
            where l.kind in ('ordered', 'received', 'invoiced', 'paid', 'cleared')
              and (l.from_id = any(${arrayOf(edge)}::bigint[])
              or (l.to_id = any(${arrayOf(edge)}::bigint[]) and (l.kind not in ('paid', 'cleared')
              or l.to_id = ${input.id}))) limit ${MOST}`,
      );
      const next: number[] = [];
      for (const l of found) {
        const link = { from: Number(l.from), to: Number(l.to) };
        if (!known.has(`${link.from} ${link.to}`)) links.push(link);
        known.add(`${link.from} ${link.to}`);
        for (const id of [link.from, link.to]) if (!ids.has(id)) next.push(id);
      }
      ids = new Set([...ids, ...next]);
      edge = [...new Set(next)];
    }
    // Where a receipt leads to an invoice, the order's own line to it would only run behind the
    // receipt.
    const through = new Set(
      links.flatMap((received) =>
        links
          .filter(
            (l) =>
              l.from === received.to &&
              links.some((own) => own.from === received.from && own.to === l.to),
          )
          .map((l) => `${received.from} ${l.to}`),
      ),
    );
    const documents = await rows<
      Omit<ChainDocument, "id" | "outstanding" | "note"> & Omit<ChainFacts, "kind"> & { id: bigint }
    >(
      tx,
      sql`select d.id, d.kind, coalesce(d.number, 'draft') as number, d.status, d.date, d.amount,
        d.currency, d.title, c.currency as functional, o.*, r.*,
        exists (select 1 from statement_line b where b.journal_id = d.id) as "ofBank",
            (select sum(i.left_amount)::bigint from open_item i where i.document_id = d.id) as "left",
            (select sum(-t.taken - t.discount)::bigint from payment_item t
              join open_item i on i.id = t.item_id
              where t.payment_id = d.id and i.document_id = any(${arrayOf([...ids])}::bigint[])) as
              paid
          from document d join company c on c.id = d.company_id
            -- A line whose rest was written off waits for no invoice.
            cross
              join lateral (select count(*) filter (where l.received < l.quantity)::int as "toCome",
              count(*) filter (where l.invoiced < l.quantity and not (l.received >= l.quantity
              and coalesce(g.cleaned and g.left = 0, false)))::int as "toBeInvoiced"
              from order_line l cross join lateral (select sum(e.functional) as "left",
                bool_or(e.kind = 'cleaned') as cleaned from goods_receipt_line x
                join grni_entry e on e.receipt_line_id = x.id where x.order_line_id = l.id) g
                where l.order_id = d.id) o
            cross join lateral (select sum(e.functional)::bigint as leftover,
              sum(-e.functional) filter (where e.kind in ('cleaned', 'reopened'))::bigint as cleaned
              from goods_receipt_line x join grni_entry e on e.receipt_line_id = x.id
              where x.receipt_id = d.id) r
          where d.id = any(${arrayOf([...ids])}::bigint[])`,
    );
    return ok({
      documents: documents.map((d) => ({
        id: Number(d.id),
        kind: d.kind,
        number: d.number,
        status: d.status,
        date: d.date,
        amount: d.amount,
        currency: d.currency,
        title: d.title,
        ofBank: d.ofBank,
        ...chainWords(d),
      })),
      links: links.filter((l) => !through.has(`${l.from} ${l.to}`)),
      truncated: ids.size >= MOST,
    });
  },
});
