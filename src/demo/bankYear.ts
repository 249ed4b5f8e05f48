import { sql } from "drizzle-orm";
import { addDays, decimalText, endOfMonth, minor, type CalendarDate } from "@/core/shared";
import type { Minor, Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import {
  addPaperLine,
  closeReconciliation,
  prepareReconciliation,
  startPaperStatement,
  tickJournals,
} from "@/server/banks";
import { rows, type Database } from "@/server/db";
import { addAttachment } from "@/server/documents";
import { postRun, proposeRun } from "@/server/runs";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;
type Must = <T>(result: Result<T>, what: string) => T;

/** From when on statements were ticked off on paper, and the last month that is closed as well. */
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
 * The statements of a month of the current accounts, copied from paper in the month after: what the bank
 * has carried out of our payments is posted, the rest ticked off against the ledger, and the month is
 * reconciled and closed, up to the third quarter.
 */
export async function addBankMonth(
  database: Database,
  as: As,
  must: Must,
  month: string,
): Promise<void> {
  const closing = endOfMonth(`${month}-01`);
  if (closing < FIRST || closing > RECONCILED_UNTIL) return;
  for (const account of ACCOUNTS)
    await statementUpTo(database, as, must, account, { closing, copied: addDays(closing, 4) });
}

/** The last statement before the bank's files: October and the days up to them. */
export async function addLastStatement(
  database: Database,
  as: As,
  must: Must,
  until: CalendarDate,
): Promise<void> {
  for (const account of ACCOUNTS)
    await statementUpTo(database, as, must, account, { closing: until, copied: until });
}

async function statementUpTo(
  database: Database,
  as: As,
  must: Must,
  of: PaperAccount,
  { closing, copied }: { closing: CalendarDate; copied: CalendarDate },
): Promise<void> {
  const { company, bank } = of;
  const last = await lastClosing(database, bank);
  const opening = last?.date ?? addDays(FIRST, -1);
  const treasury = await as("treasury", copied, 11);
  const number = String(of.first + (last?.count ?? 0));
  const text = async (day: CalendarDate, less: bigint) =>
    decimalText(minor((await heldOn(database, of, day)) - less), of.currency);
  const paid = (await paidBy(database, of, closing)).reduce((t, p) => t + p.amount, 0n);
  const statement = must(
    await startPaperStatement(treasury, {
      company,
      bank,
      number,
      ...(last ? {} : { openingDate: opening, opening: await text(opening, 0n) }),
      closingDate: closing,
      closing: await text(closing, paid),
    }),
    `${bank} statement ${number}`,
  );
  const journals = await journalsBetween(database, of, opening, closing);
  if (journals.length > 0)
    must(await tickJournals(treasury, { id: statement.id, journals, on: true }), number);
  await carryOut(database, treasury, must, of, { statement: statement.id, closing });
  if (closing > RECONCILED_UNTIL) return;
  const place = { company, bank, date: closing };
  if (closing === RECONCILED_UNTIL) await attachLetter(treasury, must, place);
  must(await closeReconciliation(treasury, place), `${bank} up to ${closing}`);
}

async function lastClosing(
  database: Database,
  bank: string,
): Promise<{ date: CalendarDate; count: number } | undefined> {
  const [found] = await rows<{ date: string | null; count: number }>(
    database.db,
    sql`select max(s.closing_date) as date, count(*)::int as count from bank_statement s
      join bank_account b on b.id = s.bank_account_id where b.code = ${bank}`,
  );
  return found?.date ? { date: found.date, count: found.count } : undefined;
}

/** Payments of runs that an account has made up to a day and that no statement has. */
const paidBy = (database: Database, of: PaperAccount, until: CalendarDate) =>
  rows<{ number: string; payee: string; amount: bigint }>(
    database.db,
    sql`select d.number, p.payee, d.amount from payment p
      join document d on d.id = p.document_id and d.status in ('posted', 'sent')
      join bank_account b on b.id = p.bank_account_id and b.currency = d.currency
      where b.code = ${of.bank} and p.method <> 'refund' and d.date <= ${until}
        and d.date <= ${RECONCILED_UNTIL} order by d.id`,
  );

/** What the bank says of our payments: each is a line of its statement, which is posted with it. */
async function carryOut(
  database: Database,
  treasury: Caller,
  must: Must,
  of: PaperAccount,
  { statement, closing }: { statement: number; closing: CalendarDate },
): Promise<void> {
  const paid = await paidBy(database, of, closing);
  if (paid.length === 0) return;
  for (const { number, payee, amount } of paid)
    must(
      await addPaperLine(treasury, {
        id: statement,
        date: closing,
        amount: decimalText(minor(-amount), of.currency),
        text: `${number} ${payee}`,
      }),
      number,
    );
  const run = must(
    await proposeRun(treasury, {
      kind: "bank-lines",
      params: { company: of.company, bank: of.bank, upTo: closing },
    }),
    `${of.bank} lines up to ${closing}`,
  );
  must(await postRun(treasury, { key: String(run.id) }), `${of.bank} up to ${closing}`);
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
