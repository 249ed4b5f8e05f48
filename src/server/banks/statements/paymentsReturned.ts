import { sql } from "drizzle-orm";
import { fail, minor, ok, type CalendarDate, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { reverseJournals } from "../../ledger";
import { releaseItems, settleTogether } from "../../openItems";
import { MONEY } from "../moneyUnderWay";
import { isOwnSide } from "../sideOfTransfer";
import { undonePayments } from "../undoPayments";

/**
 * A payment, or a direct debit of ours, that a line of a bank brings back: why, and the journal of
 * the line.
 */
export interface ReturnedPayment {
  payment: number;
  why: string;
  journal: number;
}

interface Row {
  payment: bigint;
  kind: string;
  number: string;
  status: string;
  companyId: number;
  journalId: bigint;
  clearedBy: bigint;
  day: string;
}

/**
 * Undoes payments that came back: what they had settled is open again from the day of the bank, and
 * their money under way lies with the journal that had cleared it, to be settled by the line that
 * brings it back. What else that journal had cleared stays cleared.
 */
export async function paymentsReturned(
  context: Context,
  returned: readonly ReturnedPayment[],
): Promise<Result<unknown>> {
  if (returned.length === 0) return ok({});
  const { tx } = context;
  const found = await rows<Row>(
    tx,
    sql`select d.id as payment, d.kind, d.number, d.status, d.company_id as "companyId",
        p.journal_id as "journalId", r.date as day, z.journal_id as "clearedBy"
      from unnest(${arrayOf(returned.map((r) => r.payment))}::bigint[],
          ${arrayOf(returned.map((r) => r.journal))}::bigint[]) as x(payment, journal)
        join document d on d.id = x.payment join ${MONEY} p on p.document_id = d.id
        join journal r on r.id = x.journal
        join lateral (select n.journal_id from open_item i
          join allocation_line l on l.item_id = i.id
          join allocation n on n.id = l.allocation_id and n.kind = 'payment'
            and n.journal_id <> p.journal_id
            and not exists (select 1 from allocation u where u.undoes_id = n.id)
          where i.journal_id = p.journal_id and i.area = 'transit' and ${isOwnSide("i", "p")}
          order by n.id desc limit 1) z on true
      order by d.id for update of d`,
  );
  const gone = found.find((f) => f.status !== "cleared");
  if (gone || found.length < returned.length)
    return fail({
      code: "INVALID",
      what: `${gone?.number ?? "A payment"} is not on a statement any more; decide its line again`,
    });
  const whyOf = new Map(returned.map((r) => [r.payment, r.why]));
  for (const day of [...new Set(found.map((f) => f.day))].sort()) {
    const own = found.filter((f) => f.day === day);
    const undone = await undoOn(context, day, own);
    if (!undone.ok) return undone;
    for (const why of new Set(own.map((f) => whyOf.get(Number(f.payment))!)))
      await undonePayments(
        context,
        own.filter((f) => whyOf.get(Number(f.payment)) === why).map((f) => Number(f.payment)),
        "rejected",
        `Returned by the bank: ${why}`,
      );
    for (const f of own)
      await context.audit({
        action: "returned",
        kind: f.kind,
        recordId: Number(f.payment),
        label: f.number,
        companyId: f.companyId,
        after: { reason: whyOf.get(Number(f.payment))!, date: day },
      });
  }
  return ok({});
}

async function undoOn(
  context: Context,
  day: CalendarDate,
  of: readonly Row[],
): Promise<Result<unknown>> {
  const journals = of.map((f) => Number(f.journalId));
  const clearing = [...new Set(of.map((f) => Number(f.clearedBy)))];
  const kept = await clearedBeside(context, clearing, journals);
  await releaseItems(
    context,
    [...clearing, ...journals].map((id) => ({ id, date: day })),
  );
  // Of the bank's own area: whoever posts its lines need not be one who pays.
  const reversed = await reverseJournals(context, journals, day, "bank");
  if (!reversed.ok) return reversed;
  await settleTogether(
    context,
    "payment",
    kept.map((k) => ({ ...k, date: day })),
  );
  return ok({});
}

/**
 * What journals have cleared beside the payments that come back: each with the parts of its own items
 * that stand against that.
 */
async function clearedBeside(
  { tx }: Context,
  clearing: readonly number[],
  returning: readonly number[],
) {
  const lines = await rows<{
    journalId: bigint;
    companyId: number;
    item: bigint;
    amount: bigint;
    functional: bigint;
    account: number;
    isOwn: boolean;
    comesBack: boolean;
  }>(
    tx,
    sql`select n.journal_id as "journalId", n.company_id as "companyId", l.item_id as item,
        l.amount, l.functional, i.account_id as account, i.journal_id = n.journal_id as "isOwn",
        i.journal_id = any(${arrayOf(returning)}::bigint[]) as "comesBack"
      from allocation n join allocation_line l on l.allocation_id = n.id
        join open_item i on i.id = l.item_id
      where n.journal_id = any(${arrayOf(clearing)}::bigint[]) and n.kind = 'payment'
        and not exists (select 1 from allocation u where u.undoes_id = n.id)
      order by n.id, l.item_id`,
  );
  return clearing.flatMap((id) => {
    const cleared = lines.filter((l) => Number(l.journalId) === id);
    const beside = cleared.filter((l) => !l.isOwn && !l.comesBack);
    if (beside.length === 0) return [];
    // The journal has an item of its own on each account that it has cleared.
    const own = cleared.flatMap((o) => {
      const against = o.isOwn ? beside.filter((l) => l.account === o.account) : [];
      const sum = (of: "amount" | "functional") => minor(against.reduce((t, l) => t - l[of], 0n));
      return against.length === 0
        ? []
        : [{ item: Number(o.item), amount: sum("amount"), functional: sum("functional") }];
    });
    return [
      {
        companyId: beside[0]!.companyId,
        journalId: id,
        lines: [
          ...beside.map((l) => ({
            item: Number(l.item),
            amount: minor(l.amount),
            functional: minor(l.functional),
          })),
          ...own,
        ],
      },
    ];
  });
}
