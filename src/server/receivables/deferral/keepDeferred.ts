import { sql } from "drizzle-orm";
import type { DeferredPart } from "@/core/receivables";
import type { Context } from "../../access";
import { arrayOf, insertAll, rows, schema } from "../../db";
import { readDeferral } from "./policy";

/** A posted invoice with what of it is earned over a time. */
interface PostedDeferred {
  id: number;
  companyId: number;
  /** The journal of its own company. */
  journal: number;
  deferred: readonly DeferredPart[];
}

/**
 * Keeps what is earned over a time of invoices that were posted, each at the amount with which it
 * waits on its account, in the company's currency.
 */
export async function keepDeferred(
  { tx }: Context,
  papers: readonly PostedDeferred[],
): Promise<void> {
  const own = papers.filter((p) => p.deferred.length > 0);
  if (own.length === 0) return;
  const { account, method } = (await readDeferral(tx))!;
  const waiting = await rows<{ journal: bigint; lineNo: number; amount: bigint }>(
    tx,
    sql`select l.journal_id as journal, l.line_no as "lineNo",
        case l.side when 'C' then l.amount else -l.amount end as amount
      from journal_line l join account a on a.id = l.account_id and a.number = ${account}
      where l.journal_id = any(${arrayOf(own.map((p) => p.journal))}::bigint[])`,
  );
  const amountAt = new Map(waiting.map((l) => [`${l.journal} ${l.lineNo}`, l.amount]));
  await insertAll(
    tx,
    schema.deferral,
    own.flatMap((p) =>
      p.deferred.map((d) => {
        const amount = amountAt.get(`${p.journal} ${d.at + 1}`);
        if (amount === undefined) throw new Error("what is deferred does not wait on its account");
        return {
          companyId: p.companyId,
          documentId: p.id,
          line: d.line,
          account,
          coding: d.coding,
          firstDay: d.over.from,
          lastDay: d.over.to,
          method,
          amount,
        };
      }),
    ),
  );
}

/** The first of invoices of which revenue was released, with the run that did; null where none was. */
export async function releasedOf(
  { tx }: Context,
  ids: readonly number[],
): Promise<{ number: string; run: string } | null> {
  const [found] = await rows<{ number: string; run: string }>(
    tx,
    sql`select d.number, e.number as run from deferral f join deferral_release r on r.deferral_id = f.id
        join document d on d.id = f.document_id join document e on e.id = r.run_id
      where f.document_id = any(${arrayOf(ids)}::bigint[]) order by d.id, e.id limit 1`,
  );
  return found ?? null;
}
