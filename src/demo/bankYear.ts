import { sql } from "drizzle-orm";
import { addDays, decimalText, endOfMonth, minor, type CalendarDate } from "@/core/shared";
import type { Minor, Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import {
  closeReconciliation,
  prepareReconciliation,
  startPaperStatement,
  tickJournals,
} from "@/server/banks";
import { rows, type Database } from "@/server/db";
import { addAttachment } from "@/server/documents";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;
type Must = <T>(result: Result<T>, what: string) => T;

/** The months whose statements were ticked off on paper, and the last that is closed as well. */
const MONTHS = 12;
const FIRST = "2025-11-01";
const RECONCILED_UNTIL = "2026-09-30";

/** An account whose statements come on paper, and the number of the first. */
interface PaperAccount {
  company: string;
  bank: string;
  account: string;
  currency: string;
  first: number;
}

const ACCOUNTS: readonly PaperAccount[] = [
  { company: "HSF", bank: "HSF-MAIN", account: "1110", currency: "EUR", first: 199 },
  { company: "MBY", bank: "MBY-MAIN", account: "1110", currency: "GBP", first: 61 },
  { company: "KIT", bank: "KIT-MAIN", account: "1110", currency: "USD", first: 38 },
];

/**
 * A year of the current accounts' statements, copied from paper and ticked off against the ledger: each
 * month but the last is reconciled and closed. The last goes on to the day from which on the bank's
 * files are there.
 */
export async function addBankYear(
  database: Database,
  as: As,
  must: Must,
  until: CalendarDate,
): Promise<void> {
  for (const account of ACCOUNTS) await yearOf(database, as, must, until, account);
}

async function yearOf(
  database: Database,
  as: As,
  must: Must,
  until: CalendarDate,
  of: PaperAccount,
): Promise<void> {
  const { company, bank } = of;
  let opening = addDays(FIRST, -1);
  for (let month = 0; month < MONTHS; month++) {
    const end = endOfMonth(addDays(opening, 1));
    const closing = month === MONTHS - 1 ? until : end;
    // Copied a few days into the next month, the last on the day before the first file.
    const treasury = await as("treasury", month === MONTHS - 1 ? until : addDays(end, 4), 11);
    const what = `${bank} statement ${of.first + month}`;
    const text = async (day: CalendarDate) =>
      decimalText(await heldOn(database, of, day), of.currency);
    const statement = must(
      await startPaperStatement(treasury, {
        company,
        bank,
        number: String(of.first + month),
        ...(month === 0 ? { openingDate: opening, opening: await text(opening) } : {}),
        closingDate: closing,
        closing: await text(closing),
      }),
      what,
    );
    const journals = await journalsBetween(database, of, opening, closing);
    if (journals.length > 0)
      must(await tickJournals(treasury, { id: statement.id, journals, on: true }), what);
    if (closing <= RECONCILED_UNTIL) {
      const place = { company, bank, date: closing };
      if (closing === RECONCILED_UNTIL) await attachLetter(treasury, must, place);
      must(await closeReconciliation(treasury, place), `${what}, reconciliation`);
    }
    opening = closing;
  }
}

/** At the end of the third quarter the banks confirm what they hold. */
async function attachLetter(
  treasury: Caller,
  must: Must,
  place: { company: string; bank: string; date: CalendarDate },
): Promise<void> {
  const { id } = must(await prepareReconciliation(treasury, place), place.bank);
  const text = `We confirm the balance of ${place.bank} as of ${place.date} as on our statement.\n`;
  const name = `balance-confirmation-${place.bank}-${place.date}.txt`;
  const content = Buffer.from(text).toString("base64");
  must(await addAttachment(treasury, { id, name, content }), name);
}

const onAccount = ({ company, account, currency }: PaperAccount) =>
  sql`journal_line n join journal j on j.id = n.journal_id
    join account a on a.id = n.account_id join company c on c.id = j.company_id
    where c.code = ${company} and a.number = ${account} and n.currency = ${currency}`;

async function heldOn(database: Database, of: PaperAccount, day: CalendarDate): Promise<Minor> {
  const [held] = await rows<{ amount: bigint | null }>(
    database.db,
    sql`select sum(case n.side when 'D' then n.foreign_amount else -n.foreign_amount end)::bigint
        as amount from ${onAccount(of)} and j.date <= ${day}`,
  );
  return minor(held?.amount ?? 0n);
}

const journalsBetween = async (
  database: Database,
  of: PaperAccount,
  after: CalendarDate,
  until: CalendarDate,
): Promise<number[]> =>
  (
    await rows<{ id: bigint }>(
      database.db,
      sql`select distinct j.id from ${onAccount(of)} and j.date > ${after} and j.date <= ${until}
        order by j.id`,
    )
  ).map((j) => Number(j.id));
