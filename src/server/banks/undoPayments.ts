import { setStatus } from "../documents";
import { sql } from "drizzle-orm";
import { fail, ok } from "@/core/shared";
import { arrayOf, rows } from "../db";
import type { Context } from "../access";
import { releaseItems } from "../openItems";
import { type RunKind } from "../runs";
import { looksFirst } from "./looksFirst";

/**
 * Why payments cannot simply be reversed: a cheque of theirs is out, and its bank account wants a
 * second person to look before it is cancelled. Null where nothing stands against it.
 */
export async function chequeToReview(
  { tx }: Context,
  payments: readonly number[],
): Promise<string | null> {
  const [cheque] = await rows<{ number: bigint; bank: string }>(
    tx,
    sql`select q.number, b.name as bank from cheque q
      join bank_account b on b.id = q.bank_account_id
      where q.payment_id = any(${arrayOf(payments)}::bigint[]) and q.state in ('printed',
      'cancelling') and ${looksFirst("cheques")} order by q.number limit 1`,
  );
  return cheque
    ? `Cheque ${cheque.number} is printed, and ${cheque.bank} wants a second person to look before one is cancelled; cancel the cheque first`
    : null;
}

/** Why payments cannot be undone together: their bank account wants a second person to look. */
async function paymentToReview(
  { tx }: Context,
  payments: readonly number[],
): Promise<string | null> {
  const [payment] = await rows<{ number: string; bank: string }>(
    tx,
    sql`select d.number, b.name as bank from payment p join document d on d.id = p.document_id
      join bank_account b on b.id = p.bank_account_id
      where d.id = any(${arrayOf(payments)}::bigint[]) and ${looksFirst("payments")}
      order by d.id limit 1`,
  );
  return payment
    ? `${payment.bank} wants a second person to look before a payment is undone; reverse ${payment.number} by itself`
    : null;
}

/** What undoing a run means that has made payments. */
export const UNDO_PAYMENTS: Pick<RunKind, "reversing" | "reversed"> = {
  async reversing(context, { id, dayOf }) {
    const made = await rows<{
      id: bigint;
      number: string;
      status: string;
      journalId: bigint;
      date: string;
    }>(
      context.tx,
      sql`select d.id, d.number, d.status, p.journal_id as "journalId", j.date from payment p
        join document d on d.id = p.document_id join journal j on j.id = p.journal_id
        where p.run_id = ${id} order by d.id`,
    );
    const sent = made.find((m) => m.status === "sent" || m.status === "cleared");
    if (sent)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what:
          sent.status === "sent"
            ? `${sent.number} has gone to the bank; say there that it was rejected or recalled`
            : `${sent.number} is on a bank statement`,
      });
    const standing = made.filter((m) => m.status === "posted");
    const ids = standing.map((m) => Number(m.id));
    const toReview = (await chequeToReview(context, ids)) ?? (await paymentToReview(context, ids));
    if (toReview) return fail({ code: "RUN_STANDS_IN_WAY", what: toReview });
    await releaseItems(
      context,
      standing.map((m) => ({ id: Number(m.journalId), date: dayOf(Number(m.journalId)) })),
    );
    return ok({});
  },
  async reversed(context, { id, reason }) {
    const made = await rows<{ id: bigint }>(
      context.tx,
      sql`select d.id from payment p join document d on d.id = p.document_id
        where p.run_id = ${id} and d.status = 'posted'`,
    );
    await undonePayments(
      context,
      made.map((m) => Number(m.id)),
      "reversed",
      reason,
    );
  },
};

/**
 * What undoing payments and direct debits means beyond their journals, which are reversed before:
 * their state, cheques that are worth nothing any more, taxes that count again.
 */
export async function undonePayments(
  { tx, person, now }: Context,
  ids: readonly number[],
  status: "reversed" | "rejected" | "recalled" | "cancelled",
  reason: string,
): Promise<void> {
  const list = arrayOf(ids);
  await setStatus(tx, ids, status);
  await tx.execute(
    sql`update payment set reason = ${reason} where document_id = any(${list}::bigint[])`,
  );
  await tx.execute(
    sql`update direct_debit set reason = ${reason} where receipt_id = any(${list}::bigint[])`,
  );
  await tx.execute(
    sql`update cheque set state = 'cancelled', reason = ${reason}, decided_by = ${person.id},
      decided_at = ${now.toISOString()} where payment_id = any(${list}::bigint[])
      and state in ('printed', 'cancelling')`,
  );
}
