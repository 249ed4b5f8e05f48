import { sql, type SQL } from "drizzle-orm";
import { object, string } from "yup";
import { nextBankDay, type AccountKind } from "@/core/banks";
import {
  bankDay,
  refusedOn,
  type ArrivingTransfer,
  type CreditedCheque,
  type HandedIn,
  type SentDebit,
  type SentPayment,
} from "@/core/banks/simulated";
import { writeCamt053 } from "@/core/banks/statements/writeCamt053";
import { writeMovements } from "@/core/banks/statements/writeMovements";
import { writeMt940 } from "@/core/banks/statements/writeMt940";
import { writeStatusReport } from "@/core/banks/statements/writeStatusReport";
import { addDays, dateText, fail, minor, ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { isDemo } from "../../organisation";
import { balancesByCurrencyOn } from "../../openItems";
import { DEBIT_BLOCK } from "../moneyUnderWay";

/** A statement as the simulated bank hands it out. */
export interface BankFile {
  name: string;
  content: string;
  day: CalendarDate;
  /** What it says of files of payments before: which it refuses. */
  reports: { name: string; content: string }[];
}

const EXTENSIONS = { "camt.053": "xml", MT940: "sta", CSV: "csv" } as const;

/** Without a statement yet, the bank begins so many days ago. */
const BEGINS = 3;

/**
 * The next day at the bank that stands in for the real one, as a file to be taken in like any other:
 * nothing is kept here. Only where the demo runs.
 */
export const simulatedBankDay = defineUseCase({
  name: "simulatedBankDay",
  kind: "read",
  rights: ["prepare.banks"],
  what: "take bank statements in",
  of: "checked",
  schema: object({
    bank: string().required("Choose a bank account"),
    format: string().oneOf(["camt.053", "MT940", "CSV"]).default("camt.053"),
  }),
  run: async (context, input): Promise<Result<BankFile>> => {
    const { tx, today, now, may } = context;
    const account = await readAccount(context, input.bank);
    if (!account)
      return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
    if (!may("prepare.banks", account.company))
      return fail({ code: "FORBIDDEN", what: `take in statements of ${account.company}` });
    if (!(await isDemo(tx))) return fail({ code: "NOT_FOUND", what: "simulated bank here" });
    const last = await lastStatement(context, account);
    const day = nextBankDay(addDays(last.date, 1), account.currency);
    if (day > today)
      return fail({
        code: "INVALID",
        what: `${input.bank} has its statement of ${dateText(last.date)}; the bank's next day is ${dateText(day)}`,
        field: "bank",
      });
    const sent = await sentPayments(context, account.id, day);
    const of = bankDay({
      account: account.iban || account.number,
      kind: account.kind,
      currency: account.currency,
      number: last.next,
      from: last.date,
      opening: last.closing,
      day,
      sent,
      executed: await executedOn(context, account.id, last.date),
      arriving: await arriving(context, account.id, day),
      handedIn: [
        ...(await handedIn(context, account.id)),
        ...(await recordedByHand(context, account.id)),
      ],
      credited: await creditedOn(context, account.id, last.date),
      debits: await sentDebits(
        context,
        account.id,
        sql`d.status = 'sent' and d.date <= ${day}
        and not exists (select 1 from statement_line l where l.bank_account_id = ${account.id}
          and l.end_to_end = d.number)`,
      ),
      debited: await sentDebits(
        context,
        account.id,
        sql`exists (select 1 from statement_line l
        where l.bank_account_id = ${account.id} and l.booked = ${last.date} and l.amount > 0
          and l.end_to_end = d.number)`,
      ),
      owed: await owedItems(context, account),
    });
    const message = `${input.bank.replace(/\W/g, "")}${day.replaceAll("-", "")}`.slice(0, 16);
    return ok({
      day,
      reports: reportsOn(sent, day),
      name: `${input.bank.toLowerCase()}-${day}.${EXTENSIONS[input.format]}`,
      content: {
        "camt.053": () => writeCamt053(message, now.toISOString(), [of]),
        MT940: () => writeMt940(message, [of]),
        CSV: () => writeMovements(of),
      }[input.format](),
    });
  },
});

/** A report for each file of which something is refused. */
function reportsOn(sent: readonly SentPayment[], day: CalendarDate) {
  const refused = refusedOn(sent, day);
  return [...new Set(refused.map((r) => r.payment.file))].map((original) => ({
    name: `${original.toLowerCase()}-${day}-status.xml`,
    content: writeStatusReport(`${day}T06:00:00Z`, {
      message: `SR${day.replaceAll("-", "")}${original}`.slice(0, 35),
      original,
      refused: refused
        .filter((r) => r.payment.file === original)
        .map((r) => ({ endToEnd: r.payment.number, reason: r.reason })),
    }),
  }));
}

interface Account {
  id: number;
  companyId: number;
  company: string;
  currency: string;
  kind: AccountKind;
  iban: string;
  number: string;
  account: string;
}

const readAccount = async ({ tx }: Context, code: string): Promise<Account | undefined> =>
  (
    await rows<Account>(
      tx,
      sql`select b.id, b.company_id as "companyId", c.code as company, b.currency, b.kind, b.iban,
          b.number, b.account
        from bank_account b join company c on c.id = b.company_id where b.code = ${code}`,
    )
  )[0];

/** What the statement before closed with; without one, what the ledger had a few days ago. */
async function lastStatement(
  context: Context,
  account: Account,
): Promise<{ date: CalendarDate; closing: ReturnType<typeof minor>; next: string }> {
  const [last] = await rows<{ number: string; date: string; closing: bigint }>(
    context.tx,
    sql`select number, closing_date as date, closing from bank_statement
      where bank_account_id = ${account.id} order by closing_date desc, id desc limit 1`,
  );
  if (last) {
    const counted = /^\d+$/.test(last.number) ? String(BigInt(last.number) + 1n) : null;
    return {
      date: last.date,
      closing: minor(last.closing),
      next: counted ?? `${last.number}/1`,
    };
  }
  const date = addDays(context.today, -BEGINS);
  const ledger = context.masters.accountByNumber.get(account.account);
  const held = ledger
    ? await balancesByCurrencyOn(context, account.companyId, [ledger.id], date)
    : [];
  const own = held.find((h) => h.currency === account.currency);
  return { date, closing: minor(own?.amount ?? 0n), next: "1" };
}

/** Payments of an account up to a day of which no statement says anything yet. */
const sentPayments = ({ tx }: Context, bank: number, day: CalendarDate): Promise<SentPayment[]> =>
  rows<SentPayment>(
    tx,
    sql`select d.number, p.payee, d.amount, coalesce(p.due_date, d.date) as date, coalesce(c.number::text, '') as cheque,
        coalesce(f.message_id, '') as file
      from payment p join document d on d.id = p.document_id
        left join payment_file f on f.id = p.file_id
        join bank_account b on b.id = p.bank_account_id and b.currency = d.currency
        left join lateral (select max(c.number) as number from cheque c
          where c.payment_id = d.id and c.state <> 'voided') c on true
      where p.bank_account_id = ${bank} and d.status in ('posted', 'sent') and d.date <= ${day}
        and p.method <> 'refund' and not exists (select 1 from statement_line l
          where l.bank_account_id = ${bank} and (l.end_to_end = d.number
            or (l.cheque <> '' and l.cheque = c.number::text)))
      order by d.id`,
  );

/** Slips and bills that were handed in and are on no statement yet: a slip counts as a whole. */
const handedIn = async ({ tx }: Context, bank: number): Promise<HandedIn[]> =>
  (
    await rows<{ slip: string; draft: string; payer: string; amount: bigint; from: string }>(
      tx,
      sql`select d.number as slip, case when y.due_date is null then '' else y.cheque end as draft,
          case when y.due_date is null then '' else min(y.payer) end as payer,
          sum(i.left_amount)::bigint as amount, coalesce(y.due_date, d.date + 1) as "from"
        from deposit t join document d on d.id = t.document_id and d.status = 'posted'
          join deposit_part y on y.document_id = d.id
          join open_item i on i.area = 'transit' and i.journal_id in (y.journal_id, y.return_journal_id)
        where t.bank_account_id = ${bank} and not exists (select 1 from statement_line l
          where l.bank_account_id = ${bank} and l.amount > 0 and l.text like '%' || case
            when y.due_date is null then d.number else y.cheque end || '%')
        group by d.id, d.number, d.date, y.due_date, case when y.due_date is null then '' else y.cheque end
        having sum(i.left_amount) > 0 order by d.id, draft`,
    )
  ).map((h) => ({
    text: h.draft === "" ? `DEPOSIT ${h.slip}` : `BILL ${h.draft} ${h.payer}`,
    amount: minor(h.amount),
    from: h.from,
  }));

/** Customers' money that was recorded before the bank had it: it arrives the day after. */
const recordedByHand = async ({ tx }: Context, bank: number): Promise<HandedIn[]> =>
  (
    await rows<{ number: string; payer: string; left: bigint; from: string }>(
      tx,
      sql`select d.number, r.payer, i.left_amount as "left", d.date + 1 as "from"
        from receipt r join document d on d.id = r.document_id and d.status = 'posted'
          join open_item i on i.journal_id = r.journal_id and i.area = 'transit'
        where r.bank_account_id = ${bank} and i.left_amount > 0
          and not exists (select 1 from direct_debit x where x.receipt_id = r.document_id)
          and not exists (
          select 1 from statement_line l where l.bank_account_id = ${bank} and l.amount > 0
            and l.text like '%' || d.number || '%')
        order by d.id`,
    )
  ).map((r) => ({ text: `${r.number} ${r.payer}`, amount: minor(r.left), from: r.from }));

/** Direct debits of an account that have gone to the bank in a file, of which `where` holds. */
const sentDebits = ({ tx }: Context, bank: number, where: SQL): Promise<SentDebit[]> =>
  rows<SentDebit>(
    tx,
    sql`select d.number, r.payer, m.iban as account, m.reference as mandate, d.amount, d.date,
        ${DEBIT_BLOCK} as block
      from direct_debit x join receipt r on r.document_id = x.receipt_id
        join document d on d.id = x.receipt_id join mandate m on m.id = x.mandate_id
        join payment_file f on f.id = x.file_id
      where r.bank_account_id = ${bank} and ${where} order by d.id`,
  );

/** Cheques of slips that the bank's statement of a day has credited, and that nobody has returned. */
const creditedOn = ({ tx }: Context, bank: number, day: CalendarDate): Promise<CreditedCheque[]> =>
  rows<CreditedCheque>(
    tx,
    sql`select y.cheque, y.payer, d.number as slip, y.amount
      from deposit t join document d on d.id = t.document_id and d.status = 'posted'
        join deposit_part y on y.document_id = d.id and y.kind = 'cheque' and y.state = 'deposited'
      where t.bank_account_id = ${bank} and exists (select 1 from statement_line l
        where l.bank_account_id = ${bank} and l.booked = ${day} and l.amount > 0
          and l.text like '%' || d.number || '%')
      order by d.id, y.no`,
  );

/** Money from accounts of our own that the bank of each has sent, and that is not here yet. */
const arriving = ({ tx }: Context, bank: number, day: CalendarDate): Promise<ArrivingTransfer[]> =>
  rows<ArrivingTransfer>(
    tx,
    sql`select d.number, c.name as payer, coalesce(nullif(b.iban, ''), b.number) as account, d.amount
      from payment p join document d on d.id = p.document_id
        join bank_account b on b.id = p.bank_account_id join company c on c.id = b.company_id
      where p.to_bank_id = ${bank} and d.status in ('sent', 'cleared')
        and exists (select 1 from statement_line l where l.bank_account_id = b.id
          and l.end_to_end = d.number and l.amount < 0 and l.booked <= ${day})
        and not exists (select 1 from statement_line l where l.bank_account_id = ${bank}
          and l.end_to_end = d.number)
      order by d.id`,
  );

/** Payments to others that the bank's statement of a day has executed. */
const executedOn = ({ tx }: Context, bank: number, day: CalendarDate): Promise<SentPayment[]> =>
  rows<SentPayment>(
    tx,
    sql`select l.end_to_end as number, l.party_name as payee, -l.amount as amount, l.booked as date,
        '' as cheque, '' as file
      from statement_line l
      where l.bank_account_id = ${bank} and l.booked = ${day} and l.amount < 0
        and l.end_to_end <> '' and not exists (select 1 from payment p
          join document d on d.id = p.document_id
          where p.bank_account_id = ${bank} and p.to_bank_id is not null
            and d.number = l.end_to_end)
      order by l.id`,
  );

/** What customers owe, but for what a line that is not posted yet seems to have paid. */
const owedItems = async ({ tx }: Context, account: Account) =>
  (
    await rows<{
      reference: string;
      left: bigint;
      name: string;
      due: string;
      promised: { due: string; amount: string } | null;
    }>(
      tx,
      sql`select i.reference, i.left_amount as "left", p.name, i.due_date as due,
        (select json_build_object('due', s.due, 'amount', x.amount::text) from promise_item x
          join promise s on s.id = x.promise_id and s.withdrawn_at is null
          where x.item_id = i.id order by s.id desc limit 1) as promised
      from open_item i join partner p on p.code = i.partner
      where i.company_id = ${account.companyId} and i.area = 'receivables'
        and i.currency = ${account.currency} and i.left_amount > 0 and i.reference <> ''
        and not exists (select 1 from statement_line l
          cross join lateral jsonb_array_elements(l.candidates -> 0 -> 'takes') t
          where l.company_id = i.company_id and l.state <> 'posted'
            and (t ->> 'item')::bigint = i.id)
      order by i.id`,
    )
  ).map(({ promised, ...i }) => ({
    ...i,
    left: minor(i.left),
    ...(promised
      ? { promised: { due: promised.due, amount: minor(BigInt(promised.amount)) } }
      : {}),
  }));
