import { sql } from "drizzle-orm";
import { NAMED, type Check } from "../checks";
import { rows, type Db } from "../db";

/**
 * What journals with records of taxes post on the accounts of the taxes, to the unit of their own
 * currency, is what the records say.
 */
export async function taxesAgainstAccounts(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`with part as (
          select company_id, account, journal_id, currency, recoverable as amount from tax_record
            where account <> ''
          union all select company_id, owed_account, journal_id, currency, -tax from tax_record
            where owed_account <> ''),
        line as (select l.company_id, a.number as account, l.journal_id, l.currency,
          case when l.currency = c.currency then l.amount else l.foreign_amount end
          * case l.side when 'D' then 1 else -1 end as amount
          from journal_line l join account a on a.id = l.account_id
          join company c on c.id = l.company_id
          where l.journal_id in (select journal_id from tax_record)
            and a.number in (select account from part))
        select concat_ws(' ', 'journal', journal_id, 'account', account, currency, 'posts',
          coalesce(sum(posted), 0), 'and its records say', coalesce(sum(recorded), 0)) as fault
        from (select journal_id, account, currency, amount as posted, 0 as recorded from line
          union all select journal_id, account, currency, 0, amount from part) x
        group by journal_id, account, currency having sum(posted) <> sum(recorded) limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from tax_record`);
  return {
    name: "Taxes recorded are what is posted on their accounts",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}
