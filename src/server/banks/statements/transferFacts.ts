import { sql } from "drizzle-orm";
import type { LineOutcome } from "@/core/banks";
import { minor } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { settleTogether } from "../../openItems";
import type { ItemToTake } from "./lineFacts";
import type { DecidedLine } from "./planLines";

/** What planning needs to know of money between own accounts. */
export interface TransferFacts {
  /** By line: the open item that the other side has left, where that is posted. */
  items: ReadonlyMap<number, number>;
  /** What a line is: where the other side is posted, it takes what that has left. */
  outcomeOf(l: DecidedLine, items: ReadonlyMap<number, ItemToTake>): LineOutcome;
  /** Whether it has to wait for the other side, whose day has another rate. */
  isSecond(l: DecidedLine, functional: string): boolean;
  /** Money under way of the account that sends it. */
  placeOf(l: DecidedLine): { partner: string; account: string; reference: string } | null;
}

export async function transferFacts(
  { tx }: Context,
  companyId: number,
  lines: readonly DecidedLine[],
): Promise<TransferFacts> {
  const own = new Map(lines.map((l) => [Number(l.id), l]));
  const otherOf = new Map(
    lines.flatMap((l) => (l.outcome.transfer?.line ? [[l.outcome.transfer.line, l] as const] : [])),
  );
  const items = new Map<number, number>();
  if (lines.some((l) => l.outcome.transfer))
    for (const f of await rows<{ line: bigint; item: bigint }>(
      tx,
      sql`select o.id as line, i.id as item from statement_line o
        join open_item i on i.journal_id = o.journal_id and i.area = 'transit'
          and i.left_amount <> 0
        where o.company_id = ${companyId} and o.state = 'posted'
          and o.id = any(${arrayOf([...otherOf.keys()])}::bigint[])`,
    ))
      items.set(Number(otherOf.get(Number(f.line))!.id), Number(f.item));
  const banks = new Map(
    (
      await rows<{ id: number; code: string; underWay: string }>(
        tx,
        sql`select id, code, under_way_account as "underWay" from bank_account
          where company_id = ${companyId}`,
      )
    ).map((b) => [b.id, b]),
  );
  return {
    items,
    outcomeOf: (l, all) => {
      const item = all.get(items.get(Number(l.id)) ?? 0);
      if (!item || item.left !== l.amount) return l.outcome;
      return {
        ...l.outcome,
        takes: [{ item: item.id, amount: String(item.left), discount: "0" }],
        rest: "0",
      };
    },
    isSecond: (l, functional) => {
      const other = own.get(l.outcome.transfer?.line ?? 0);
      return (
        other !== undefined &&
        l.currency !== functional &&
        (l.booked > other.booked || (l.booked === other.booked && l.id > other.id)) &&
        l.booked !== other.booked
      );
    },
    placeOf: (l) => {
      const transfer = l.outcome.transfer!;
      const [from, to] =
        l.amount < 0n
          ? [banks.get(l.bankId), banks.get(transfer.bank)]
          : [banks.get(transfer.bank), banks.get(l.bankId)];
      return from?.underWay && to
        ? { partner: "", account: from.underWay, reference: `${from.code} to ${to.code}` }
        : null;
    },
  };
}

/** Settles what both sides of money between own accounts have left, where a run has posted both. */
export async function settleTransfers(context: Context, run: number): Promise<void> {
  const sides = await rows<{
    pair: bigint;
    companyId: number;
    date: string;
    journalId: bigint;
    item: bigint;
    left: bigint;
    leftFunctional: bigint;
  }>(
    context.tx,
    sql`select least(l.id, o.id) as pair, l.company_id as "companyId", l.booked as date,
        l.journal_id as "journalId", i.id as item, i.left_amount as "left",
        i.left_functional as "leftFunctional"
      from statement_line l join statement_line o on o.run_id = ${run}
          and (o.id = (l.outcome -> 'transfer' ->> 'line')::bigint
            or l.id = (o.outcome -> 'transfer' ->> 'line')::bigint)
        join open_item i on i.journal_id = l.journal_id and i.area = 'transit'
          and i.left_amount <> 0
      where l.run_id = ${run} group by least(l.id, o.id), l.id, i.id order by 1, l.booked, l.id`,
  );
  const pairs = new Map<bigint, typeof sides>();
  for (const s of sides) pairs.set(s.pair, [...(pairs.get(s.pair) ?? []), s]);
  await settleTogether(
    context,
    "payment",
    [...pairs.values()]
      .filter(
        (p) =>
          p.length === 2 &&
          p[0]!.left + p[1]!.left === 0n &&
          p[0]!.leftFunctional + p[1]!.leftFunctional === 0n,
      )
      .map((p) => ({
        companyId: p[1]!.companyId,
        date: p[1]!.date,
        journalId: Number(p[1]!.journalId),
        lines: p.map((s) => ({
          item: Number(s.item),
          amount: minor(s.left),
          functional: minor(s.leftFunctional),
        })),
      })),
  );
}
