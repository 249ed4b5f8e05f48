import { sql } from "drizzle-orm";
import { addDays, decimalText, endOfMonth, minor, type CalendarDate } from "@/core/shared";
import type { Minor, Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { closeReconciliation, startPaperStatement, tickJournals } from "@/server/banks";
import { rows, type Database } from "@/server/db";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;

/** The months whose statements were ticked off on paper, and the last that is closed as well. */
const MONTHS = 12;
const FIRST = "2025-11-01";
const RECONCILED_UNTIL = "2026-09-30";

/**
 * A year of the current account's statements, copied from paper and ticked off against the ledger: each
 * month but the last is reconciled and closed. The last goes on to the day from which on the bank's
 * files are there.
 */
export async function addBankYear(
  database: Database,
  as: As,
  must: <T>(result: Result<T>, what: string) => T,
  until: CalendarDate,
): Promise<void> {
  let opening = addDays(FIRST, -1);
  for (let month = 0; month < MONTHS; month++) {
    const end = endOfMonth(addDays(opening, 1));
    const closing = month === MONTHS - 1 ? until : end;
    // Copied a few days into the next month, the last on the day before the first file.
    const treasury = await as("treasury", month === MONTHS - 1 ? until : addDays(end, 4), 11);
    const what = `statement ${199 + month}`;
    const statement = must(
      await startPaperStatement(treasury, {
        company: "HSF",
        bank: "HSF-MAIN",
        number: String(199 + month),
        ...(month === 0
          ? { openingDate: opening, opening: text(await heldOn(database, opening)) }
          : {}),
        closingDate: closing,
        closing: text(await heldOn(database, closing)),
      }),
      what,
    );
    const journals = await journalsBetween(database, opening, closing);
    must(await tickJournals(treasury, { id: statement.id, journals, on: true }), what);
    if (closing <= RECONCILED_UNTIL)
      must(
        await closeReconciliation(treasury, { company: "HSF", bank: "HSF-MAIN", date: closing }),
        `${what}, reconciliation`,
      );
    opening = closing;
  }
}

const text = (amount: Minor): string => decimalText(amount, "EUR");

const ON_ACCOUNT = sql`journal_line n join journal j on j.id = n.journal_id
  join account a on a.id = n.account_id join company c on c.id = j.company_id
  where c.code = 'HSF' and a.number = '1110' and n.currency = 'EUR'`;

async function heldOn(database: Database, day: CalendarDate): Promise<Minor> {
  const [held] = await rows<{ amount: bigint }>(
    database.db,
    sql`select sum(case n.side when 'D' then n.foreign_amount else -n.foreign_amount end)::bigint
        as amount from ${ON_ACCOUNT} and j.date <= ${day}`,
  );
  return minor(held!.amount);
}

const journalsBetween = async (
  database: Database,
  after: CalendarDate,
  until: CalendarDate,
): Promise<number[]> =>
  (
    await rows<{ id: bigint }>(
      database.db,
      sql`select distinct j.id from ${ON_ACCOUNT} and j.date > ${after} and j.date <= ${until}
        order by j.id`,
    )
  ).map((j) => Number(j.id));
