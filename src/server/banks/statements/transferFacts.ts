import { sql } from "drizzle-orm";
import type { LineToPost, OwnTransfer } from "@/core/banks";
import type { Masters } from "@/core/ledger";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";

/** A line of a run, as far as money between own accounts asks. */
interface Line {
  id: bigint;
  bankId: number;
  amount: bigint;
  booked: string;
  outcome: { transfer?: OwnTransfer | null };
}

/** What a line that is one side of money between own accounts meets. */
export interface TransferSide<L> {
  /** The item that the other side has left, where that is posted: it is taken. */
  item: number | null;
  /** The currency of the other side's account. */
  currency: string;
  /** The other side, where it stands in the same run: both are settled when it is posted. */
  other: L | null;
  /**
   * Money under way of the account that sends it, or, for an account of another company, the account
   * on which this one faces it; null where there is none.
   */
  place: LineToPost["restTo"];
}

/** What lines that are money between own accounts meet, by line. */
export async function transferFacts<L extends Line>(
  { tx, masters }: Context,
  company: { id: number; code: string },
  lines: readonly L[],
): Promise<Map<bigint, TransferSide<L>>> {
  const own = lines.filter((l) => l.outcome.transfer);
  if (own.length === 0) return new Map();
  const ids = arrayOf(own.map((l) => l.id));
  // Either side may name the other: the one that was there first could not.
  const sides = await rows<{ line: bigint; other: bigint; item: bigint | null }>(
    tx,
    sql`select p.line, p.other, i.id as item from (
        select l.id as line, (l.outcome -> 'transfer' ->> 'line')::bigint as other
          from statement_line l where l.id = any(${ids}::bigint[])
        union select (o.outcome -> 'transfer' ->> 'line')::bigint, o.id from statement_line o
          where o.company_id = ${company.id} and o.state in ('certain', 'chosen', 'posted')
            and (o.outcome -> 'transfer' ->> 'line')::bigint = any(${ids}::bigint[])) p
      join statement_line s on s.id = p.other
      left join open_item i on s.state = 'posted' and i.journal_id = s.journal_id
        and i.area = 'transit' and i.left_amount <> 0
      order by p.line, p.other`,
  );
  const banks = new Map(
    (
      await rows<{ id: number; code: string; currency: string; underWay: string }>(
        tx,
        sql`select id, code, currency, under_way_account as "underWay" from bank_account
          where company_id = ${company.id}`,
      )
    ).map((b) => [b.id, b]),
  );
  const byId = new Map(own.map((l) => [l.id, l]));
  return new Map(
    own.map((l) => {
      const side = sides.find((s) => s.line === l.id);
      const [here, there] = [banks.get(l.bankId), banks.get(l.outcome.transfer!.bank)];
      const [from, to] = l.amount < 0n ? [here, there] : [there, here];
      return [
        l.id,
        {
          item: side?.item ? Number(side.item) : null,
          currency: there?.currency ?? "",
          other: (side && byId.get(side.other)) ?? null,
          place: l.outcome.transfer!.company
            ? facing(masters, company.code, l.outcome.transfer!, l.amount)
            : from?.underWay && to
              ? { partner: "", account: from.underWay, reference: `${from.code} to ${to.code}` }
              : null,
        },
      ];
    }),
  );
}

/** The account on which a company faces another one: what it has to get from it, or owes it. */
function facing(
  masters: Masters,
  own: string,
  { company = "", code }: OwnTransfer,
  amount: bigint,
): LineToPost["restTo"] {
  const pair = masters.pair(own, company);
  if (!pair) return null;
  const account = amount < 0n ? pair.dueFrom : pair.dueTo;
  const text = amount < 0n ? `To ${code} of ${company}` : `From ${code} of ${company}`;
  return { coding: { account, dimensions: {}, text, counterparty: company } };
}
