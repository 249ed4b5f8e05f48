import { sql } from "drizzle-orm";
import { rows, type Db } from "../../db";

/**
 * A text that is another one as soon as anything has moved that letters rest on: items, what settles
 * them, promises, disputes, letters, customers, groups, rates. One statement. What a run has written
 * before it is posted is nothing yet: it must not stand in its own way.
 */
export async function standOfLetters(tx: Db, companyId: number): Promise<string> {
  const [found] = await rows<{ stand: string }>(
    tx,
    sql`select concat_ws('|',
      (select max(id) from open_item where company_id = ${companyId}),
      (select max(id) from allocation where company_id = ${companyId}),
      (select concat_ws('.', max(id), count(withdrawn_at)) from promise
        where company_id = ${companyId}),
      (select concat_ws('.', max(id), count(outcome)) from dispute where company_id = ${companyId}),
      (select concat_ws('.', max(l.id), count(*)) from customer_letter l
        join document d on d.id = l.run_id and d.status = 'posted'
        where l.company_id = ${companyId}),
      (select md5(string_agg(concat_ws('~', code, name, customer_group, collector, blocks,
          block_reason, email, statement_email, language), ';' order by code)) from partner where customer),
      (select md5(string_agg(reminders::text, ';' order by code)) from customer_group),
      (select md5(string_agg("from" || percent, ';' order by "from")) from late_rate),
      (select md5(string_agg(value::text, ';' order by key)) from setting
        where key like 'reminders.%')) as stand`,
  );
  return found!.stand;
}
