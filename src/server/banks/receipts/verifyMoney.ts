import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../../checks";
import { rows, type Db } from "../../db";

/**
 * Each receipt and direct debit is what its journal moves on the bank, or brings under way to it,
 * and is reversed with it.
 */
export async function moneyAgainstJournals(tx: Db): Promise<Check> {
  const moved = sql`(select document_id, journal_id, bank_account_id, 1 as sign from receipt
    union all select document_id, journal_id, bank_account_id, -1 from payment where method = 'debit')`;
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select concat_ws(' ', d.number, 'is', d.status, 'of', d.amount, d.currency, 'and its journal',
          case when v.id is null then 'stands' else 'is reversed' end, 'with', coalesce(l.posted, 0),
          'on the account of', b.code) as fault
      from ${moved} m join document d on d.id = m.document_id
        join bank_account b on b.id = m.bank_account_id
        left join journal v on v.reverses_id = m.journal_id
        cross join lateral (select sum(case when x.currency = c.currency then x.amount
            else x.foreign_amount end * case x.side when 'D' then 1 else -1 end) as posted
          from journal_line x join company c on c.id = x.company_id
            join account a on a.id = x.account_id
          where x.journal_id = m.journal_id and (a.number = b.account
            or (m.sign = 1 and a.number = b.under_way_account))) l
      where coalesce(l.posted, 0) <> m.sign * d.amount
        or (v.id is not null) <> (d.status in ('reversed', 'rejected'))
      order by d.id limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from ${moved} m`);
  return {
    name: "Receipts and direct debits are what their journals move on the bank",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}
