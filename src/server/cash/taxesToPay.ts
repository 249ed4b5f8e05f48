import { sql } from "drizzle-orm";
import { addDays, endOfMonth, minor, type CalendarDate } from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";
import type { CompanyOfCash, ExpectedFlow } from "./expectedFlows";

/**
 * Taxes as they stand today on their control accounts, each paid or had back by the end of the next
 * month: when exactly, the tax office says.
 */
export async function taxesToPay(
  { tx, today, masters }: Context,
  company: CompanyOfCash,
  upTo: CalendarDate,
): Promise<Omit<ExpectedFlow, "amount">[]> {
  const due = endOfMonth(addDays(endOfMonth(today), 1));
  if (due > upTo) return [];
  const standing = await rows<{ account: string; name: string; amount: bigint }>(
    tx,
    sql`select a.number as account, a.name, sum(v.debit - v.credit)::bigint as amount
      from coding_balance v join account a on a.id = v.account_id
      where v.company_id = ${company.id} and a.control = 'tax'
        and v.book_id in (0, ${masters.mainBook!.id})
      group by a.number, a.name having sum(v.debit - v.credit) <> 0 order by a.number`,
  );
  return standing.map((s) => ({
    source: "taxes",
    early: addDays(today, 1),
    usual: due,
    late: due,
    why: "As it stands on its account today; when it is paid the tax office says",
    company: company.code,
    partner: "",
    partnerName: "",
    what: s.name,
    document: null,
    account: s.account,
    owed: minor(s.amount),
    currency: company.currency,
  }));
}
