import { sql } from "drizzle-orm";
import { decimalText, minor, type CalendarDate, type Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { makeDeposit } from "@/server/banks";
import { saveMonthlyPayment } from "@/server/cash";
import { rows, type Database } from "@/server/db";
import { makePayment } from "@/server/payables";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;
type Must = <T>(result: Result<T>, what: string) => T;

/** What is paid by the month: net pay, wage tax, social security. */
const MONTHLY = [
  ["2310", 28],
  ["2250", 10],
  ["2260", 15],
] as const;

/** A bill that a customer has accepted, a note that we have given, and when pay goes out. */
export async function addDrafts(database: Database, as: As, must: Must): Promise<void> {
  const controller = await as("controller", "2026-11-02", 14);
  for (const [account, day] of MONTHLY)
    must(await saveMonthlyPayment(controller, { account, day }), account);
  const sold = await lastOwed(database, "receivables");
  must(
    await makeDeposit(await as("treasury", "2026-11-05", 14), {
      company: "HSF",
      bank: "HSF-MAIN",
      date: "2026-11-05",
      parts: [
        {
          kind: "bill",
          partner: sold.partner,
          cheque: "W-20261",
          dueDate: "2027-01-15",
          amount: decimalText(sold.left, "EUR"),
          items: [sold.id],
        },
      ],
    }),
    "bill of exchange",
  );
  const bought = await lastOwed(database, "payables");
  must(
    await makePayment(await as("payables", "2026-11-04", 16), {
      company: "HSF",
      bank: "HSF-MAIN",
      date: "2026-11-04",
      method: "note",
      dueDate: "2027-02-01",
      supplier: bought.partner,
      items: [{ id: bought.id, amount: decimalText(bought.left, "EUR") }],
    }),
    "promissory note",
  );
}

/** What is due last of what is owed to the ferries, or by them. */
async function lastOwed(database: Database, area: "payables" | "receivables") {
  const [found] = await rows<{ id: bigint; partner: string; left: bigint }>(
    database.db,
    sql`select i.id, i.partner, abs(i.left_amount) as "left" from open_item i
      join company c on c.id = i.company_id and c.code = 'HSF'
      join partner p on p.code = i.partner and p.hold = '' and not p.blocked
      where i.area = ${area} and i.currency = 'EUR' and i.hold = '' and i.discounts = '[]'
        and case ${area} when 'payables' then i.left_amount < 0 else i.left_amount > 0 end
        and i.date <= '2026-11-02' and i.kind = 'invoice'
      order by abs(i.left_amount) > 500000 desc, i.due_date desc, i.id limit 1`,
  );
  const { id, partner, left } = found!;
  return { id: Number(id), partner, left: minor(left) };
}
